using System.Collections.Immutable;
using Kiln.Analysis.Chart;
using Kiln.Colour.Chart;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Writing;
using Kiln.Proof.Materials;

namespace Kiln.Exchange.Tests.Conversion;

/// <summary>
/// The proof of the whole chain: the chart as files is read, wired, written, read back, rendered in even light and displayed, and each
/// patch is within ΔE2000 0.5 of what it states.
/// </summary>
public sealed class ChartThroughTheChain : IDisposable
{
    private const float Bound = 0.5f;

    private readonly Workshop shop = new();

    public void Dispose() => shop.Dispose();

    private Look ChartLook(string format)
    {
        byte[] bytes;
        if (format == "png")
            bytes = PictureWriter.Png(ChartMap.Draw(512, ColourSpace.SrgbTexture, SampleType.U8));
        else
        {
            using var stream = new MemoryStream();
            ExrWriter.Write(stream, ChartMap.Draw(512, ColourSpace.AcesCg, SampleType.F16), Primaries.Ap1.Chromaticities);
            bytes = stream.ToArray();
        }
        using var header = new MemoryStream(bytes);
        var facts = HeaderReader.Read(header, DecodeLimits.Default);
        var file = MapFile.Of(shop.Put(bytes), $"chart.{format}", facts);
        return new Look
        {
            Name = "chart",
            Slots = ImmutableSortedDictionary<string, Slot>.Empty.Add("baseColor", new(MapRole.BaseColor, file, [file])),
            Lanes = ImmutableSortedDictionary<string, Lane>
                .Empty.Add("base_color", new(Chain: new(new SlotOrigin("baseColor", UsualReading.Of(MapRole.BaseColor, facts)))))
                .Add("specular_weight", new(LookValue.Of(0f))),
        };
    }

    public static TheoryData<string, string, string, bool> Chains()
    {
        var data = new TheoryData<string, string, string, bool>();
        foreach (var dialect in new[] { "openpbr", "gltf", "bisque" })
        foreach (var working in new[] { "acescg", "lin_rec709" })
        foreach (var format in new[] { "png", "exr" })
            data.Add(format, dialect, working, false);
        data.Add("png", "openpbr", "acescg", true);
        data.Add("png", "bisque", "lin_rec709", true);
        return data;
    }

    [Theory]
    [MemberData(nameof(Chains))]
    public async Task EveryPatchComesOutAsStated(string format, string dialect, string working, bool convert)
    {
        var profile = shop.Profiles.Find(dialect);
        var compiled = await new DialectCompiler(
            profile,
            new Bakery(shop.Textures, shop),
            new CompileOptions(working, ConvertTextures: convert)
        ).CompileAsync(ChartLook(format));
        var proof = ChartProof.OfMap(await ProofMaterial.OfNetworkAsync(compiled.Network, profile, shop.Textures), 128);
        // An 8-bit packing clips what is brighter than a display; those patches are compared at the display's edge, as marked.
        var worst = proof.Patches.MaxBy(p => p.DeltaE)!;
        Assert.True(
            worst.DeltaE <= Bound,
            $"{format} in {dialect} worked in {working}: {worst.Name} is off by ΔE {worst.DeltaE:0.00}: "
                + $"{string.Join(" ", worst.Shown)} instead of {string.Join(" ", worst.Expected)}"
        );
    }

    /// <summary>The check can fail: read as a measurement, the same file is far off.</summary>
    [Fact]
    public async Task AChartReadTheOtherWayIsFarOff()
    {
        var look = ChartLook("png");
        var slot = (SlotOrigin)look.Lanes["base_color"].Chain!.Origin;
        look = look with { Lanes = look.Lanes.SetItem("base_color", new(Chain: new(slot with { Reading = slot.Reading.OtherWay }))) };
        var proof = ChartProof.OfMap(await ProofMaterial.OfLookAsync(look, shop.Profiles.Find("openpbr"), shop.Textures), 128);
        Assert.True(proof.Patches.Count(p => p.DeltaE > 5) > 15);
    }
}
