using System.Numerics;
using Kiln.Proof.Geometry;
using Kiln.Proof.Geometry.Occlusion;
using Kiln.Proof.Lights;

namespace Kiln.Proof.Tests;

/// <summary>Lights and forms made ready for the viewport, against what integrals and symmetry say of them.</summary>
public class ViewportLightTests
{
    [Fact]
    public void EvenLightStaysEven()
    {
        var ready = PrefilteredLight.Of(EnvironmentLight.Even(Vector3.One));
        Assert.Empty(ready.Suns);
        Assert.False(ready.HasFloor);
        Assert.All(ready.Filtered, v => Assert.InRange((v - Vector3.One).Length(), 0, 0.01f));
    }

    /// <summary>What is taken out as a sun and what is left give together the irradiance of the light, by its own samples.</summary>
    [Theory]
    [InlineData("lowsun", 1)]
    [InlineData("softbox", 0)]
    [InlineData("overcast", 0)]
    public void SunsAndTheRestAreTheWholeLight(string name, int suns)
    {
        var light = LightRoom.Named(name);
        var ready = PrefilteredLight.Of(light);
        Assert.Equal(suns, ready.Suns.Count);
        var normal = Vector3.Normalize(new(-0.6f, 0.7f, 0.4f));
        var expected = Vector3.Zero;
        const int count = 40_000;
        for (var i = 0; i < count; i++)
        {
            var (direction, radiance, pdf) = light.Sample(
                new((float)((0.5 + i * 0.7548776662) % 1), (float)((0.5 + i * 0.5698402910) % 1))
            );
            if (direction.Y > 0 && Vector3.Dot(direction, normal) > 0 && pdf > 0)
                expected += radiance * (Vector3.Dot(direction, normal) / pdf / count);
        }
        var found = Vector3.Zero;
        for (var i = 0; i < ready.Sharp.Length; i++)
        {
            var d = LatLongDirection(i);
            if (d.Y > 0 && Vector3.Dot(d, normal) > 0)
                found += ready.Sharp[i] * (Vector3.Dot(d, normal) * SolidAngle(i));
        }
        foreach (var sun in ready.Suns)
            found += sun.Irradiance * MathF.Max(0, Vector3.Dot(sun.Direction, normal));
        Assert.True((found - expected).Length() < 0.03f * expected.Length(), $"{found}, not {expected}");
    }

    private const int Width = PrefilteredLight.SharpWidth;

    private static Vector3 LatLongDirection(int texel)
    {
        var (sinPhi, cosPhi) = MathF.SinCos(((texel % Width + 0.5f) / Width - 0.5f) * 2 * MathF.PI);
        var (sinTheta, cosTheta) = MathF.SinCos((texel / Width + 0.5f) / (Width / 2) * MathF.PI);
        return new(sinTheta * sinPhi, cosTheta, -sinTheta * cosPhi);
    }

    private static float SolidAngle(int texel)
    {
        var row = texel / Width;
        return 2 * MathF.PI / Width * (MathF.Cos(2 * MathF.PI * row / Width) - MathF.Cos(2 * MathF.PI * (row + 1) / Width));
    }

    /// <summary>Cells are the whole sphere, of about one size; half of them lie above the horizon, and none across it.</summary>
    [Fact]
    public void CellsAreTheWholeSphere()
    {
        Assert.InRange(SkyCells.Directions.Length, 480, 32 * SkyCells.Words);
        Assert.InRange(SkyCells.Above, 240, 32 * SkyCells.WordsAbove);
        Assert.Equal(4 * Math.PI, SkyCells.SolidAngles.Sum(a => (double)a), 1e-4);
        Assert.True(SkyCells.SolidAngles.Max() < 1.3f * SkyCells.SolidAngles.Min());
        Assert.All(SkyCells.Directions, d => Assert.Equal(1, d.Length(), 1e-5f));
        Assert.All(SkyCells.Edges, e => Assert.True(e.Upper <= 1e-6f || e.Lower >= -1e-6f));
    }

    /// <summary>Irradiance over π that even light gives a place which sees these cells: the sum of their cosines.</summary>
    private static float Open(FormOcclusion sees, Mesh form, int vertex, bool floor)
    {
        double sum = 0,
            all = 0;
        for (var k = 0; k < SkyCells.Directions.Length; k++)
        {
            var share = MathF.Max(0, Vector3.Dot(form.Normals[vertex], SkyCells.Directions[k])) * SkyCells.SolidAngles[k];
            all += share;
            var isSeen = (sees.Seen[vertex * SkyCells.Words + (k >> 5)] >> (k & 31) & 1) != 0;
            if (isSeen && (k >= SkyCells.Above) == floor)
                sum += share;
        }
        // By the middle of each cell, a cosine is met within 1 %.
        Assert.Equal(Math.PI, all, 0.04);
        return (float)(sum / all);
    }

    /// <summary>A ball by itself hides nothing from itself: all that lies before the surface is seen, and nothing behind it.</summary>
    [Fact]
    public void NothingHidesABall()
    {
        var ball = Forms.Sphere();
        var sees = FormOcclusion.Of(ball);
        for (var i = 0; i < ball.Positions.Length; i++)
            Assert.InRange(Open(sees, ball, i, false) + Open(sees, ball, i, true), 0.98f, 1.0001f);
    }

    /// <summary>A ball's top sees the sky alone, the floor below it is dark; the inside of a pot sees less than its belly.</summary>
    [Fact]
    public void TheFormStandsInItsOwnWayAndInTheFloors()
    {
        var ball = Forms.Sphere();
        var sees = FormOcclusion.Of(ball);
        var top = Array.FindIndex(ball.Normals, n => n.Y > 0.999f);
        var side = Array.FindIndex(ball.Normals, n => MathF.Abs(n.Y) < 0.02f);
        Assert.InRange(Open(sees, ball, top, true), 0, 0.001f);
        // Half of what a wall sees is ground, by symmetry.
        Assert.InRange(Open(sees, ball, side, true), 0.47f, 0.53f);
        int Bits(int place) => sees.Floor.AsSpan(place * SkyCells.WordsAbove, SkyCells.WordsAbove).ToArray().Sum(BitOperations.PopCount);
        var middle = Bits(FormOcclusion.FloorSide / 2 * FormOcclusion.FloorSide + FormOcclusion.FloorSide / 2);
        Assert.True(middle < 0.3 * SkyCells.Above && Bits(0) > 0.95 * SkyCells.Above, $"{middle} below the ball, {Bits(0)} far from it");

        var pot = Forms.Vessel();
        var open = FormOcclusion.Of(pot);
        float Visible(Func<Vector3, Vector3, bool> where) =>
            Enumerable
                .Range(0, pot.Positions.Length)
                .Where(i => where(pot.Positions[i], pot.Normals[i]))
                .Average(i => Open(open, pot, i, false) + Open(open, pot, i, true));
        var belly = Visible((p, n) => p.Y is > 0.3f and < 0.45f && Vector3.Dot(n with { Y = 0 }, p with { Y = 0 }) > 0);
        var inside = Visible((p, n) => p.Y is > 0.3f and < 0.45f && Vector3.Dot(n with { Y = 0 }, p with { Y = 0 }) < 0);
        Assert.True(belly > 2 * inside, $"{belly} on the belly, {inside} inside");
    }

    /// <summary>What is known of a form's own vertices is spread over those that were put between them.</summary>
    [Fact]
    public void EachVertexLiesBetweenThreeOfTheFormsOwn()
    {
        var plain = Forms.Tile();
        var moved = Displacing.Move(plain, new((_, _) => 0, 1e-4f, 2, "flat"));
        var (vertices, shares) = moved.Between();
        for (var i = 0; i < moved.Positions.Length; i++)
        {
            var (at, sum) = (Vector3.Zero, 0f);
            for (var k = 3 * i; k < 3 * i + 3; k++)
                (at, sum) = (at + shares[k] * plain.Positions[vertices[k]], sum + shares[k]);
            Assert.Equal(1, sum, 1e-5f);
            Assert.True((moved.Positions[i] - at).Length() < 1e-4f);
        }
        Assert.True(moved.Positions.Length > 10 * plain.Positions.Length);
    }
}
