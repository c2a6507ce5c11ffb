using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Intake;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Looks.Tests;

public class PlacementTests
{
    [Fact]
    public void TurningIsCounterClockwiseAboutThePivot()
    {
        // A picture turned by 90° counter-clockwise: what lay to the right of the middle now lies above it.
        var p = new Placement(RotationDegrees: 90);
        var picture = p.Apply(new Vector2(0.5f, 0.75f));
        Assert.Equal(0.75f, picture.X, 5);
        Assert.Equal(0.5f, picture.Y, 5);
    }

    [Fact]
    public void DirectionsTurnWithThePicture()
    {
        // A ramp that rises to the right has n_x < 0; turned by 90° it rises upwards: n_y < 0.
        var (xx, xy, yx, yy) = new Placement(RotationDegrees: 90).DirectionTurn;
        var n = new Vector2(-0.3f, 0);
        Assert.Equal(0f, xx * n.X + xy * n.Y, 5);
        Assert.Equal(-0.3f, yx * n.X + yy * n.Y, 5);
    }

    [Fact]
    public void UnequalRepeatsSteepenTheFinerAxis()
    {
        var (xx, _, _, yy) = new Placement(4, 1).DirectionTurn;
        Assert.Equal(2f, xx, 5);
        Assert.Equal(0.5f, yy, 5);
    }
}

public class NamingTests
{
    public static TheoryData<string, string> Names() => new()
    {
        { "metal_plate_rough_02_rough.png", "roughness" },
        { "T_Brick_BaseColor.png", "baseColor" },
        { "brick-wall-2k-NormalDX.jpg", "normal" },
        { "OldOak_Ambient_Occlusion_4K.png", "ambientOcclusion" },
        { "oak_disp_16bit.tif", "height" },
        { "Stone07_albedo.jpg", "baseColor" },
        { "gloss_tile_metallic.png", "metalness" },
        { "tin_GLOSSINESS.png", "glossiness" },
    };

    [Theory]
    [MemberData(nameof(Names))]
    public void RolesAreReadFromTheEnd(string name, string role)
    {
        var best = NameReading.Of(name, NamingTables.Shipped).Candidates.OrderByDescending(c => c.Claim.Strength * c.Position + 0.06f * c.Phrase.Count(x => x == ' ')).First();
        Assert.Equal(role, best.Claim.Role?.Id());
    }

    [Fact]
    public void TechnicalTokensAreNoNames()
    {
        var n = NameReading.Of("brick-wall-2k-NormalDX.jpg", NamingTables.Shipped);
        Assert.Equal(2048, n.Resolution);
        Assert.Equal(NormalY.Down, n.NormalY);
        Assert.Equal(1012, NameReading.Of("panel_basecolor.1012.exr", NamingTables.Shipped).Udim);
        Assert.Equal(1012, NameReading.Of("panel_basecolor_u2_v2.exr", NamingTables.Shipped).Udim);
    }
}

/// <summary>Normal direction on reliefs with analytic slopes.</summary>
public class NormalDirectionTests
{
    private static ImageBuffer Relief(int seed, bool down, SampleType type, float strength)
    {
        const int size = 256;
        var random = new Random(seed);
        var waves = Enumerable.Range(0, 12).Select(_ => (Kx: random.Next(1, 9) * (random.Next(2) * 2 - 1), Ky: random.Next(1, 9), Phase: random.NextSingle() * MathF.Tau, A: strength / 12)).ToArray();
        var picture = new ImageBuffer(size, size, ImageBuffer.Rgb, type);
        for (var y = 0; y < size; y++)
            for (var x = 0; x < size; x++)
            {
                float u = (x + 0.5f) / size, v = 1 - (y + 0.5f) / size, du = 0, dv = 0;
                foreach (var w in waves)
                {
                    var c = w.A * MathF.Cos(MathF.Tau * (w.Kx * u + w.Ky * v) + w.Phase);
                    (du, dv) = (du + c * w.Kx, dv + c * w.Ky);
                }
                var n = Vector3.Normalize(new(-du, -dv, 1));
                (picture[x, y, 0], picture[x, y, 1], picture[x, y, 2]) = (0.5f + 0.5f * n.X, 0.5f + 0.5f * (down ? -n.Y : n.Y), 0.5f + 0.5f * n.Z);
            }
        return picture;
    }

    [Theory]
    [InlineData(SampleType.U8)]
    [InlineData(SampleType.U16)]
    public void IsMeasuredOnDecidableReliefs(SampleType type)
    {
        var right = 0;
        for (var seed = 0; seed < 20; seed++)
            foreach (var down in new[] { false, true })
                right += NormalDirection.Measure(Relief(seed, down, type, 0.35f)).Direction == (down ? NormalY.Down : NormalY.Up) ? 1 : 0;
        Assert.True(right >= 38, $"{right} of 40");
    }

    [Fact]
    public void FlatStaysUndecided() => Assert.Null(NormalDirection.Measure(Relief(1, false, SampleType.U8, 0)).Direction);
}
