using System.Collections.Immutable;
using Kiln.Analysis.Chart;
using Kiln.Colour.Chart;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Writing;
using Kiln.Server.Looks;
using Kiln.Server.Platform;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Store.Contents;
using Kiln.Store.Looks;

namespace Kiln.Server.Configs;

/// <summary>
/// What of the chain is proved: the form's own surfaces, or the chart's map read, wired for a dialect (null: the look itself) and read
/// back.
/// </summary>
/// <param name="Of">form, png (8 bit sRGB), png16, or exr (half, ACEScg).</param>
public sealed record ChartQuery(string Of, string? Dialect, WorkingSpace Working);

/// <summary>The reference chart as files and as proofs; proofs are kept while nothing about them changes.</summary>
public sealed class ChartRenderer(
    LookCompilation compilation,
    LookContextRepository contexts,
    ContentStore store,
    RenderScheduler proofs,
    ConfigRegistry colour,
    StudioCache cache
)
{
    private const int MapSide = 1024,
        MegabytesOfProof = 8;

    public async Task<ChartQuery> QueryAsync(ChartPlace place) =>
        new(
            place.Of,
            place.Dialect is { Length: > 0 } dialect ? dialect : null,
            place.Working is { } space ? WorkingSpace.Find(space) : (await contexts.OfStudioAsync()).Space
        );

    public Task<ChartProof> ProveAsync(ChartQuery query) =>
        cache.OnceAsync(
            "chart",
            $"{query.Of}/{query.Dialect}/{query.Working.Id}/{colour.Current.Names?.Config.Hash}",
            () => RunAsync(query),
            _ => MegabytesOfProof
        );

    /// <summary>The chart's map as a file: png, png16 or exr.</summary>
    public static (byte[] Bytes, string Name) Map(string format)
    {
        if (format is "png" or "png16")
            return (
                PictureWriter.Png(ChartMap.Draw(MapSide, ColourSpace.SrgbTexture, format == "png" ? SampleType.U8 : SampleType.U16)),
                format == "png" ? "chart_basecolor.png" : "chart_basecolor_16.png"
            );
        if (format != "exr")
            throw new ArgumentException($"The chart is written as png, png16 or exr, not '{format}'.");
        using var stream = new MemoryStream();
        ExrWriter.Write(stream, ChartMap.Draw(MapSide, ColourSpace.AcesCg, SampleType.F16), Primaries.Ap1.Chromaticities);
        return (stream.ToArray(), "chart_basecolor_acescg.exr");
    }

    private async Task<ChartProof> RunAsync(ChartQuery query)
    {
        var look = query.Of == "form" ? Plain() : WithMap(query.Of);
        var material = await compilation.MaterialAsync(look, query.Dialect, query.Working, null);
        return await proofs.RenderAsync(
            () => query.Of == "form" ? ChartProof.OfForm(material) : ChartProof.OfMap(material),
            CancellationToken.None
        );
    }

    private static Look Plain() =>
        new()
        {
            Name = "chart",
            Lanes = new Dictionary<string, Lane>
            {
                ["base_color"] = new(new TintValue(0.18f, 0.18f, 0.18f, "acescg")),
                ["specular_weight"] = new(LookValue.Of(0f)),
            }.ToImmutableSortedDictionary(),
        };

    private Look WithMap(string format)
    {
        var (bytes, name) = Map(format);
        using var stream = new MemoryStream(bytes);
        var facts = HeaderReader.Read(stream, DecodeLimits.Default);
        var file = MapFile.Of(store.Put(bytes), name, facts);
        var slot = MapRole.BaseColor.Id();
        var plain = Plain();
        return plain with
        {
            Slots = plain.Slots.SetItem(slot, new(MapRole.BaseColor, file, [file])),
            Lanes = plain.Lanes.SetItem("base_color", new(Chain: new(new SlotOrigin(slot, UsualReading.Of(MapRole.BaseColor, facts))))),
        };
    }
}
