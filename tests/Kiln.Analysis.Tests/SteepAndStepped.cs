using System.Numerics;
using Kiln.Analysis.Findings;
using Kiln.Intake.Content;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Pixels;
using static Kiln.Analysis.Tests.Planted;

namespace Kiln.Analysis.Tests;

/// <summary>What a smaller copy, or a straight line, would take for a fault and is none.</summary>
public class SteepAndStepped
{
    private static readonly MapFile Normal = File("gravel_normal.png"),
        Base = File("gravel_base.png");

    /// <summary>
    /// Directions at random around straight out, new at every pixel: of unit length each, and far from it once they are averaged.
    /// </summary>
    private static ImageBuffer RoughNoise(float meanZ, int side = 1024)
    {
        var random = new Random(7);
        // Slopes of a Gaussian whose mean z is wanted; found by halving.
        float low = 0.01f,
            high = 20;
        for (var i = 0; i < 40; i++)
        {
            var spread = (low + high) / 2;
            var probe = new Random(1);
            var mean = Enumerable.Range(0, 4000).Average(_ => Direction(probe, spread).Z);
            (low, high) = mean > meanZ ? (spread, high) : (low, spread);
        }
        return Picture(side, (u, v) =>
            Direction(random, low) is var n ? (0.5f + 0.5f * n.X, 0.5f + 0.5f * n.Y, 0.5f + 0.5f * n.Z) : default
        );
    }

    private static Vector3 Direction(Random random, float spread)
    {
        float Gauss() => MathF.Sqrt(-2 * MathF.Log(1 - random.NextSingle())) * MathF.Cos(MathF.Tau * random.NextSingle());
        return Vector3.Normalize(new(spread * Gauss(), spread * Gauss(), 1));
    }

    [Theory]
    [InlineData(0.5f)]
    [InlineData(0.55f)]
    [InlineData(0.6f)]
    public void SteepNormalMapsAreOfUnitLengthAtFullSize(float meanZ)
    {
        var full = RoughNoise(meanZ);
        var probe = PictureProbe.Measure(full);
        Assert.True(probe.UnitShare > 0.97f, $"{probe.UnitShare}");
        var copy = Resample.ToFit(full, NormalDirection.CopySize, full.Type);
        // The copy alone would say the opposite.
        Assert.True(ContentEvidence.Of(copy).UnitShare < 0.5f);
        var evidence = ContentEvidence.Of(Resample.ToFit(copy, 256, copy.Type), probe);
        Assert.True(evidence.IsNormal && !evidence.LooksPacked);
        var measured = new Dictionary<ContentHash, MapMeasurement> { [Normal.Content] = MapMeasurement.Of(copy, probe, MapRole.Normal) };
        Silent(
            With(
                MapRole.Normal,
                "geometry_normal",
                Normal,
                new Reading(ReadingKind.Direction, "raw", MapChannel.Rgb, NormalY.Up),
                new DecodeNormalStep(new Feed(1)) { Id = "s1" }
            ),
            "normal.not-unit",
            measured
        );
    }

    /// <summary>Two areas side by side are no light that falls off; a light on a straight line is.</summary>
    [Fact]
    public void OneStepBetweenTwoAreasIsNoLight()
    {
        var look = With(MapRole.BaseColor, "base_color", Base, new Reading(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb));
        Silent(look, "base.range", Measured(Base, Picture(256, (u, v) => u > 0.5f ? 0.7f : 0.35f), MapRole.BaseColor));
        Silent(look, "base.range", Measured(Base, Picture(256, (u, v) => v > 0.4f ? 0.7f : 0.35f), MapRole.BaseColor));
        Silent(look, "base.range", Measured(Base, Picture(256, (u, v) => u > 0.66f ? 0.75f
                    : u > 0.33f ? 0.55f
                    : 0.35f), MapRole.BaseColor));
        var found = LookFindings.Of(look, Measured(Base, Picture(256, (u, v) => 0.35f + 0.35f * u), MapRole.BaseColor), _ => true);
        Assert.Contains(found, f => f.Code == "base.range");
    }
}
