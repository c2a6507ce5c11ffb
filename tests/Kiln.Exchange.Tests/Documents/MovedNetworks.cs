using System.Collections.Immutable;
using System.Numerics;
using Kiln.Dialects.Folding;
using Kiln.Looks.Document;
using Kiln.Looks.Inputs;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Proof.Materials;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// Heights as each dialect says them: midpoint and reach, metres with an edge and a limit, a level that has to match the map, MaterialX's
/// displacement node, USD's input.
/// What a proof of the written network moves is held against the surface's own formula, and the documents before the outside judges.
/// </summary>
public sealed class MovedNetworks(Workshop shop) : IClassFixture<Workshop>
{
    /// <summary>The dialects that move a surface.</summary>
    public static TheoryData<string> Moving => [.. MaterialX.Append("usd_preview")];

    /// <summary>Those of them that are written as MaterialX documents.</summary>
    public static TheoryData<string> MaterialX => ["openpbr", "standard_surface", "bisque", "celadon", "tenmoku"];

    private const int Size = 64;
    private const float Height = 0.03f,
        Midpoint = 0.4f;

    private static float Stored(Vector2 uv) => 0.5f + 0.25f * MathF.Sin(2 * MathF.PI * uv.X) * MathF.Cos(2 * MathF.PI * uv.Y);

    private Look Look(bool on, int size = Size)
    {
        var picture = new ImageBuffer(size, size, ImageBuffer.Grey, SampleType.U16);
        for (var y = 0; y < size; y++)
        for (var x = 0; x < size; x++)
            picture[x, y, 0] = Stored(new((x + 0.5f) / size, 1 - (y + 0.5f) / size));
        var file = shop.Store($"hill_height_{size}.png", picture);
        var height = new Lane(Chain: new(new SlotOrigin("height", new Reading(ReadingKind.Scalar, "raw", MapChannel.R)), []));
        return new Look
        {
            Name = "hill",
            Slots = ImmutableSortedDictionary<string, Slot>.Empty.Add("height", new(MapRole.Height, file, [file])),
            Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add("displacement", height),
            Displacement = new(on, Height, Midpoint, "", Height, 0.004f, 2),
        };
    }

    private async Task<SurfaceOf> MovedAsync(Look look, string dialect)
    {
        var compiled = await shop.CompileAsync(look, dialect);
        var network = shop.Read(
            Assert.Single(shop.Write(compiled.Network, $"{dialect} {look.Displacement}".GetHashCode(StringComparison.Ordinal).ToString())),
            dialect
        );
        var material = await ProofMaterial.OfNetworkAsync(network, shop.Profiles.Find(dialect), shop.Textures);
        var back = await NetworkReading.ReadAsync(shop.Profiles.Find(dialect), network);
        return new(
            material.Displacement,
            back,
            (await ProofMaterial.OfLookAsync(back, shop.Profiles.Find("openpbr"), shop.Textures)).Displacement,
            compiled.Report.Exact.Any(l => l.Input == "displacement")
        );
    }

    private sealed record SurfaceOf(
        Proof.Geometry.SurfaceDisplacement? Network,
        Look Back,
        Proof.Geometry.SurfaceDisplacement? Again,
        bool IsExact
    );

    [Theory]
    [MemberData(nameof(Moving))]
    public async Task ANetworkMovesTheSurfaceAsTheLookDoes(string dialect)
    {
        var moved = await MovedAsync(Look(on: true), dialect);
        Assert.NotNull(moved.Network);
        Assert.NotNull(moved.Again);
        for (var i = 0; i < 24; i++)
        {
            // Centres of texels, where a lookup between texels is the texel.
            var uv = new Vector2((i * 11 % Size + 0.5f) / Size, (i * 23 % Size + 0.5f) / Size);
            var expected = (Stored(uv) - Midpoint) * Height;
            Assert.Equal(expected, moved.Network.Metres(uv, 1e-5f), 3e-6f);
            Assert.Equal(expected, moved.Again.Metres(uv, 1e-5f), 3e-6f);
        }
        Assert.True(moved.Back.Displacement.On);
        Assert.Empty(moved.Back.Remarks);
        Assert.True(moved.IsExact);
    }

    [Theory]
    [MemberData(nameof(Moving))]
    public async Task WhereItIsOffNothingMovesAndTheHeightIsThereAllTheSame(string dialect)
    {
        var moved = await MovedAsync(Look(on: false), dialect);
        Assert.Null(moved.Network);
        Assert.False(moved.Back.Displacement.On);
        // USD has no switch beside the height itself.
        Assert.Equal(dialect != "usd_preview", moved.Back.Lanes.ContainsKey("displacement"));
        Assert.Equal(dialect != "usd_preview", moved.IsExact);
    }

    /// <summary>
    /// How fine the mesh is and at which level a map is read: each number comes back, or the report says that it does not.
    /// </summary>
    [Theory]
    [MemberData(nameof(Moving))]
    public async Task NumbersWithoutAWordAreNamed(string dialect)
    {
        var look = Look(on: true);
        look = look with { Displacement = look.Displacement with { Level = 3 } };
        var compiled = await shop.CompileAsync(look, dialect);
        var back = await NetworkReading.ReadAsync(shop.Profiles.Find(dialect), compiled.Network);
        foreach (var name in (string[])["displacement_edge", "displacement_subdivision", "displacement_level"])
            Assert.Equal(
                DisplacementSettings.Of(look, name) != DisplacementSettings.Of(back, name),
                compiled.Report.Lost.Any(l => l.Input == name && l.Note.Length > 0)
            );
        // What no one set is no loss, and where nothing moves no number shows.
        Assert.DoesNotContain((await shop.CompileAsync(look with { Displacement = new(On: true) }, dialect)).Report.Lost, l =>
            DisplacementSettings.Exists(l.Input)
        );
        Assert.DoesNotContain(
            (await shop.CompileAsync(look with { Displacement = look.Displacement with { On = false } }, dialect)).Report.Lost,
            l => DisplacementSettings.Exists(l.Input)
        );
    }

    [Fact]
    public async Task CeladonSaysHowFarEdgesAreSplit()
    {
        var moved = await MovedAsync(Look(on: true), "celadon");
        Assert.Equal((0.004f, 2), (moved.Network!.EdgeMetres, moved.Network.Subdivision));
        Assert.Equal((0.004f, 2), (moved.Back.Displacement.EdgeMetres, moved.Back.Displacement.Subdivision));
    }

    [Fact]
    public async Task BisqueReachesNoFartherThanItDeclares()
    {
        var look = Look(on: true);
        var moved = await MovedAsync(look with { Displacement = look.Displacement with { BoundMetres = 0.002f } }, "bisque");
        Assert.Equal(0.002f, moved.Back.Displacement.BoundMetres);
        Assert.Equal(
            0.002f,
            Enumerable.Range(0, 400).Max(i => MathF.Abs(moved.Network!.Metres(new(i % 20 / 20f, i / 20 / 20f), 1f / Size))),
            1e-6f
        );
    }

    /// <summary>
    /// Tenmoku reads a map at the level it is told: one below the map's loses what is finer, here a period of four texels.
    /// </summary>
    [Fact]
    public async Task TenmokusLevelMatchesTheMapUnlessAPersonSaysOtherwise()
    {
        var look = Look(on: true, 128);
        Assert.Equal("7", (await shop.CompileAsync(look, "tenmoku")).Network.Surface.Port("crest_level")!.Value);
        var coarse = await MovedAsync(look with { Displacement = look.Displacement with { Level = 1 } }, "tenmoku");
        float Range(Proof.Geometry.SurfaceDisplacement d) =>
            Enumerable.Range(0, 64).Select(i => d.Metres(new((i + 0.5f) / 64, 0.5f / 64), 1f / 128)).ToList() is var all
                ? all.Max() - all.Min()
                : 0;
        var fine = await MovedAsync(look, "tenmoku");
        Assert.True(Range(coarse.Network!) < 0.2f * Range(fine.Network!), $"{Range(coarse.Network!)} against {Range(fine.Network!)}");
        Assert.Equal(1, coarse.Back.Displacement.Level);
    }

    /// <summary>Where shading and geometry share the relief, the height that is written has no detail finer than the edges.</summary>
    [Fact]
    public async Task SharedReliefIsWrittenShared()
    {
        var look = Look(on: true) with { Relief = ReliefMode.Both };
        look = look with { Displacement = look.Displacement with { EdgeMetres = 0.05f } };
        var moved = await MovedAsync(look, "bisque");
        var own = (await ProofMaterial.OfLookAsync(look, shop.Profiles.Find("openpbr"), shop.Textures)).Displacement!;
        for (var i = 0; i < 16; i++)
            Assert.Equal(own.Metres(new(i / 16f, 0.3f), 1f / Size), moved.Network!.Metres(new(i / 16f, 0.3f), 1f / Size), 5e-5f);
    }

    [Theory]
    [MemberData(nameof(MaterialX))]
    public async Task TheMaterialXLibraryTakesTheDocument(string dialect)
    {
        var document = Assert.Single(shop.Write((await shop.CompileAsync(Look(on: true), dialect)).Network, "validated " + dialect));
        Workshop.AssertValidMaterialX(document);
        if (dialect is "openpbr" or "standard_surface")
            Assert.Contains(
                "name=\"displacementshader\" type=\"displacementshader\"",
                File.ReadAllText(document),
                StringComparison.Ordinal
            );
    }

    /// <summary>
    /// The parser reads the layer; what it makes of a displacement's texture it does not tell, so the connections are read by ours.
    /// </summary>
    [Fact]
    public async Task TheUsdParserReadsALayerWithDisplacement()
    {
        var document = Assert.Single(shop.Write((await shop.CompileAsync(Look(on: true), "usd_preview")).Network, "moved usd"));
        using var read = System.Text.Json.JsonDocument.Parse(
            Workshop.Run("node", Path.Combine(Workshop.Outside(), "read-usd.mjs"), document)
        );
        Assert.Equal(0, Assert.Single(read.RootElement.GetProperty("materials").EnumerateArray()).GetProperty("displacement").GetSingle());
        var text = File.ReadAllText(document);
        Assert.Contains(
            "token outputs:displacement.connect = </Look/hill/hill_surface.outputs:displacement>",
            text,
            StringComparison.Ordinal
        );
        Assert.Contains("float inputs:displacement.connect = ", text, StringComparison.Ordinal);
    }
}
