using System.Collections.Immutable;
using System.Numerics;
using Kiln.Dialects.Folding;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

namespace Kiln.Exchange.Tests.Conversion;

/// <summary>
/// The direction in which reflections stretch: a turn from u, a map of turns, or a map of directions, as OpenPBR's tangent, Standard
/// Surface's tangent and rotation, and
/// glTF's rotation and texture (KHR_materials_anisotropy: counter-clockwise from the tangent, red and green from -1 to 1).
/// PublishedTranslations has the sense of
/// Standard Surface's rotation, which counts clockwise.
/// </summary>
public sealed class TangentFields(Workshop shop) : IClassFixture<Workshop>
{
    private const int Size = 32;

    public static TheoryData<string> Dialects => ["openpbr", "standard_surface", "gltf"];

    /// <summary>Turns that go once around along v: 0 to 1.</summary>
    private static float TurnsAt(float v) => v;

    private Look Brushed(Lane tangent, ImmutableSortedDictionary<string, Slot>? slots = null) =>
        new()
        {
            Name = "brushed",
            Slots = slots ?? ImmutableSortedDictionary<string, Slot>.Empty,
            Lanes = ImmutableSortedDictionary<string, Lane>
                .Empty.Add("base_metalness", new(LookValue.Of(1f)))
                .Add("specular_roughness", new(LookValue.Of(0.35f)))
                .Add("specular_roughness_anisotropy", new(LookValue.Of(0.7f)))
                .Add("geometry_tangent", tangent),
        };

    private Look Mapped(bool directions, Placement? placement = null)
    {
        var picture = new ImageBuffer(
            Size,
            Size,
            directions ? ImageBuffer.Rgb : ImageBuffer.Grey,
            directions ? SampleType.U8 : SampleType.U16
        );
        for (var y = 0; y < Size; y++)
        for (var x = 0; x < Size; x++)
        {
            var turns = TurnsAt(1 - (y + 0.5f) / Size);
            var (sin, cos) = MathF.SinCos(2 * MathF.PI * turns);
            picture[x, y, 0] = directions ? 0.5f + 0.5f * cos : turns;
            if (directions)
                (picture[x, y, 1], picture[x, y, 2]) = (0.5f + 0.5f * sin, 0.5f);
        }
        var file = shop.Store(directions ? "brush_dir.png" : "brush_turn.png", picture);
        var reading = directions
            ? new Reading(ReadingKind.Direction, "raw", MapChannel.Rgb, NormalY.Up)
            : new Reading(ReadingKind.Scalar, "raw", MapChannel.Luminance);
        var chain = new Chain(new SlotOrigin("anisotropy", reading), directions ? [new DecodeNormalStep(new Feed(1)) { Id = "s1" }] : []);
        return Brushed(
            new(Chain: chain),
            ImmutableSortedDictionary<string, Slot>.Empty.Add("anisotropy", new(MapRole.Anisotropy, file, [file]))
        ) with
        {
            Placement = placement ?? Placement.Identity,
        };
    }

    /// <summary>What rounding leaves of a part away from the surface is no direction along it.</summary>
    private async Task<Vector3> DirectionAsync(Look look, Vector2 uv) =>
        Vector3.Normalize(await InputAsync(look, "geometry_tangent", uv) with { Z = 0 });

    private async Task<Vector3> InputAsync(Look look, string input, Vector2 uv)
    {
        var graph = new ShadeGraph();
        var node = new LaneGraphs(look, graph).Input(input)!.Value;
        var program = await ShadeProgram.LoadAsync(graph, [node], shop.Textures, null);
        var registers = program.NewRegisters();
        program.Run(uv, 1e-5f, registers);
        return registers[program.Register(node)];
    }

    private readonly List<string> written = [];

    /// <summary>What was written since, before the outside judges: all at once, since they take seconds to start.</summary>
    private void AllAreValid(string dialect)
    {
        var lines = Workshop
            .Run("node", [Path.Combine(Workshop.Outside(), dialect == "gltf" ? "validate-glb.mjs" : "validate-mtlx.mjs"), .. written])
            .Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(written.Count, lines.Length);
        Assert.All(lines, l => Assert.StartsWith(dialect == "gltf" ? "0 errors, 0 warnings" : "valid: ", l));
    }

    private async Task<Look> ThereAndBackAsync(Look look, string dialect, string name)
    {
        var compiled = await shop.CompileAsync(look, dialect);
        Assert.DoesNotContain(compiled.Report.Lost, l => l.Input == "geometry_tangent");
        var document = Assert.Single(shop.Write(compiled.Network, $"{name} {dialect}"));
        written.Add(document);
        return await NetworkReading.ReadAsync(shop.Profiles.Find(dialect), shop.Read(document, dialect));
    }

    [Theory]
    [MemberData(nameof(Dialects))]
    public async Task APlainTurnComesBack(string dialect)
    {
        foreach (var turns in (float[])[0.125f, 0.9f])
        {
            var back = await ThereAndBackAsync(Brushed(new(LookValue.Of(turns))), dialect, $"turn {turns}");
            Assert.Equal(turns, Assert.IsType<ScalarValue>(back.Lanes["geometry_tangent"].Value).Number, 1e-4f);
            Assert.Empty(back.Remarks);
        }
        if (dialect != "gltf")
            Workshop.AssertValidMaterialX(
                "--generate",
                Assert.Single(
                    shop.Write((await shop.CompileAsync(Brushed(new(LookValue.Of(0.3f))), dialect)).Network, $"generated {dialect}")
                )
            );
        Assert.DoesNotContain("geometry_tangent", (await ThereAndBackAsync(Brushed(new(LookValue.Of(0f))), dialect, "no turn")).Lanes.Keys);
        AllAreValid(dialect);
    }

    /// <summary>Eight bits hold a direction to about half a degree.</summary>
    [Theory]
    [MemberData(nameof(Dialects))]
    public async Task MapsOfTurnsAndOfDirectionsComeBack(string dialect)
    {
        foreach (
            var look in (Look[])
                [
                    Mapped(directions: false),
                    Mapped(directions: true),
                    Mapped(directions: true, Placement.Identity with { RotationDegrees = 30 }),
                    Mapped(directions: true, new Placement(3, 1, 20)),
                    Mapped(directions: false, new Placement(1, 2)),
                ]
        )
        {
            var back = await ThereAndBackAsync(
                look,
                dialect,
                $"{look.Lanes["geometry_tangent"].Chain!.Steps.Length} {look.Placement.RotationDegrees} {look.Placement.RepeatsV}"
            );
            for (var i = 0; i < 12; i++)
            {
                var uv = new Vector2((i * 5 % Size + 0.5f) / Size, (i * 11 % Size + 0.5f) / Size);
                var (own, now) = (await DirectionAsync(look, uv), await DirectionAsync(back, uv));
                Assert.True(Vector3.Distance(own, now) < 0.02f, $"{dialect} at {uv}: {own} against {now}");
                if (look.Placement.IsIdentity)
                    Assert.True(Vector3.Distance(ShadeArithmetic.Heading(TurnsAt(uv.Y)), own) < 0.02f, $"{uv}: {own}");
            }
        }
        AllAreValid(dialect);
    }

    /// <summary>Where a map lies turned, the directions it holds are turned with it.</summary>
    [Fact]
    public async Task ATurnedMapTurnsWhatItSays()
    {
        foreach (var directions in (bool[])[false, true])
        {
            var plain = await DirectionAsync(Mapped(directions), new(0.5f, 0.5f));
            var rotated = await DirectionAsync(Mapped(directions, Placement.Identity with { RotationDegrees = 90 }), new(0.5f, 0.5f));
            Assert.Equal(0.25f, (ShadeArithmetic.Revolutions(rotated) - ShadeArithmetic.Revolutions(plain) + 1) % 1, 0.04f);
        }
    }

    /// <summary>
    /// A map whose brushing runs along its diagonal, laid four times along u: a line v' = u' of the map is v = 4u on the surface, so the
    /// brushing runs along (1, 4) there.
    /// Relief would lean the other way: its slopes are four times as steep along u.
    /// </summary>
    [Fact]
    public async Task UnequalRepeatsBendLinesAsTheyBendThePicture()
    {
        foreach (var directions in (bool[])[false, true])
        {
            var look = Mapped(directions, new Placement(4, 1));
            // Where the map says an eighth of a turn.
            var along = await DirectionAsync(look, new(0.3f, 0.125f));
            Assert.Equal(MathF.Atan2(4, 1) / (2 * MathF.PI), ShadeArithmetic.Revolutions(along), 0.01f);
        }
    }

    /// <summary>Width of a highlight along the picture's two axes, root of the second moments.</summary>
    private async Task<(double Across, double Down)> HighlightAsync(Look look, string dialect)
    {
        var compiled = await shop.CompileAsync(look, dialect);
        var material = await ProofMaterial.OfNetworkAsync(compiled.Network, shop.Profiles.Find(dialect), shop.Textures);
        var light = EnvironmentLight.Generate(1024, 512, d => d.Z > MathF.Cos(4 * MathF.PI / 180) ? new(100) : Vector3.Zero);
        var tracer = new PathTracer(new ProofScene(Forms.Sphere(), material, light, withFloor: false), 48, 48, new(0, 0, 1));
        tracer.Accumulate(64);
        var picture = tracer.Picture();
        double sum = 0,
            x = 0,
            y = 0,
            xx = 0,
            yy = 0;
        for (var i = 0; i < 48 * 48; i++)
        {
            double v = picture[i % 48, i / 48, 1];
            (sum, x, y, xx, yy) = (sum + v, x + v * (i % 48), y + v * (i / 48), xx + v * (i % 48) * (i % 48), yy + v * (i / 48) * (i / 48));
        }
        return (Math.Sqrt(xx / sum - x * x / sum / sum), Math.Sqrt(yy / sum - y * y / sum / sum));
    }

    /// <summary>A quarter of a turn exchanges the long and the short side of the highlight; half a turn changes nothing.</summary>
    [Theory]
    [MemberData(nameof(Dialects))]
    public async Task TheHighlightTurns(string dialect)
    {
        var at = new Dictionary<float, (double Across, double Down)>();
        foreach (var turns in (float[])[0, 0.25f, 0.5f])
            at[turns] = await HighlightAsync(FromAbove(turns), dialect);
        var (along, quarter, half) = (at[0], at[0.25f], at[0.5f]);
        Assert.True(Math.Max(along.Across / along.Down, along.Down / along.Across) > 1.15, $"{along}");
        Assert.True(along.Across > along.Down != quarter.Across > quarter.Down, $"{along} against {quarter}");
        Assert.Equal(along.Across, half.Across, 0.05 * along.Across);
        Assert.Equal(along.Down, half.Down, 0.05 * along.Down);
    }

    private Look FromAbove(float turns) => Brushed(new(LookValue.Of(turns)));

    /// <summary>A coat's reflections stretch along its own tangent, over a matt black base that has none.</summary>
    [Theory]
    [InlineData("openpbr")]
    [InlineData("standard_surface")]
    public async Task ACoatsHighlightTurnsByItself(string dialect)
    {
        static Lane Of(float v) => new(LookValue.Of(v));
        Look Coated(float turns, float stretch) =>
            new()
            {
                Name = "lacquer",
                Lanes = ImmutableSortedDictionary<string, Lane>
                    .Empty.Add("base_weight", Of(0))
                    .Add("specular_weight", Of(0))
                    .Add("coat_weight", Of(1))
                    .Add("coat_roughness", Of(0.35f))
                    .Add("coat_roughness_anisotropy", Of(stretch))
                    .Add("geometry_coat_tangent", Of(turns)),
            };
        var (round, along, quarter) = (
            await HighlightAsync(Coated(0, 0), dialect),
            await HighlightAsync(Coated(0, 0.7f), dialect),
            await HighlightAsync(Coated(0.25f, 0.7f), dialect)
        );
        Assert.Equal(1, round.Across / round.Down, 0.08);
        Assert.True(Math.Max(along.Across / along.Down, along.Down / along.Across) > 1.15, $"{along}");
        Assert.True(along.Across > along.Down != quarter.Across > quarter.Down, $"{along} against {quarter}");
    }

    /// <summary>Both dialects say one coat: its proof is the same through either, stretched or not.</summary>
    [Fact]
    public async Task AStretchedCoatIsTheSameInBothDialects()
    {
        static Lane Of(float v) => new(LookValue.Of(v));
        var look = new Look
        {
            Name = "lacquer",
            Lanes = ImmutableSortedDictionary<string, Lane>
                .Empty.Add("base_weight", Of(0))
                .Add("specular_weight", Of(0))
                .Add("coat_weight", Of(1))
                .Add("coat_roughness", Of(0.4f))
                .Add("coat_roughness_anisotropy", Of(0.6f))
                .Add("coat_darkening", Of(0)),
        };
        var (ours, theirs) = (await HighlightAsync(look, "openpbr"), await HighlightAsync(look, "standard_surface"));
        Assert.Equal(ours.Across, theirs.Across, 0.02 * ours.Across);
        Assert.Equal(ours.Down, theirs.Down, 0.02 * ours.Down);
        var back = await ThereAndBackAsync(look, "standard_surface", "stretched coat");
        Assert.Equal(0.4f, Assert.IsType<ScalarValue>(back.Lanes["coat_roughness"].Value).Number, 1e-4f);
        AllAreValid("standard_surface");
    }

    /// <summary>
    /// Normals of a map that lies turned, repeated and mirrored: a network says the direction on the surface, and the look that comes back
    /// does too.
    /// </summary>
    [Theory]
    [InlineData("openpbr")]
    [InlineData("standard_surface")]
    [InlineData("gltf")]
    [InlineData("usd_preview")]
    [InlineData("bisque")]
    [InlineData("celadon")]
    [InlineData("tenmoku")]
    [InlineData("saggar")]
    public async Task NormalsOfATurnedMapComeBack(string dialect)
    {
        foreach (
            var placement in (Placement[])
                [Placement.Identity with { RotationDegrees = 30 }, Placement.Identity with { MirrorU = true, RepeatsU = 2, RepeatsV = 2 }]
        )
        {
            var look = await KnownSurface.DeliveredAsync(shop, placement);
            var compiled = await shop.CompileAsync(look, dialect);
            var document = Assert.Single(shop.Write(compiled.Network, $"normals {dialect} {placement.RotationDegrees}"));
            var back = await NetworkReading.ReadAsync(shop.Profiles.Find(dialect), shop.Read(document, dialect));
            for (var i = 0; i < 12; i++)
            {
                var uv = new Vector2(0.1f + 0.07f * i, 0.9f - 0.06f * i);
                var (own, now) = (await InputAsync(look, "geometry_normal", uv), await InputAsync(back, "geometry_normal", uv));
                Assert.True(Vector3.Distance(own, now) < 0.04f, $"{dialect}, {placement} at {uv}: {own} against {now}");
            }
        }
    }
}
