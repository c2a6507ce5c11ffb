using System.Numerics;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;

namespace Kiln.Proof.Tests;

/// <summary>Lights and forms made ready for the viewport, against what integrals and symmetry say of them.</summary>
public class ViewportLightTests
{
    /// <summary>∫Y₀₀ over the sphere is 2√π: light of 1 from everywhere has that and nothing else.</summary>
    private static readonly float Everywhere = 2 * MathF.Sqrt(MathF.PI);

    [Fact]
    public void EvenLightStaysEven()
    {
        var ready = PrefilteredLight.Of(EnvironmentLight.Even(Vector3.One));
        Assert.Empty(ready.Suns);
        Assert.False(ready.HasFloor);
        Assert.All(ready.Filtered, v => Assert.InRange((v - Vector3.One).Length(), 0, 0.01f));
        Assert.All(ready.Irradiance, v => Assert.InRange((v - Vector3.One).Length(), 0, 0.02f));
        Assert.Equal(Everywhere, ready.Harmonics[0].X, 0.01f);
        Assert.All(ready.Harmonics[1..], h => Assert.InRange(h.Length(), 0, 0.02f));
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

    /// <summary>A ball by itself hides nothing from itself: light of 1 from everywhere arrives whole at each of its vertices.</summary>
    [Fact]
    public void NothingHidesABall()
    {
        var sees = FormOcclusion.Of(Forms.Sphere(), onFloor: false);
        for (var i = 0; i < sees.Numbers.Length; i += FormOcclusion.PerVertex)
            Assert.InRange(sees.Numbers[i] * Everywhere, 0.95f, 1.05f);
    }

    /// <summary>
    /// On the floor a ball's top sees the sky alone, its lowest part the floor, and the floor below it is dark; the inside of a pot sees
    /// less than its belly.
    /// </summary>
    [Fact]
    public void TheFloorAndThePotItselfStandInTheWay()
    {
        var ball = Forms.Sphere();
        var sees = FormOcclusion.Of(ball, onFloor: true);
        float Floor(int vertex) => sees.Numbers[vertex * FormOcclusion.PerVertex + 9];
        var top = Array.FindIndex(ball.Normals, n => n.Y > 0.999f);
        var side = Array.FindIndex(ball.Normals, n => MathF.Abs(n.Y) < 0.02f);
        Assert.InRange(Floor(top), 0, 0.001f);
        Assert.InRange(Floor(side), 0.15f, 0.5f);
        var middle = sees.Floor[FormOcclusion.FloorSide / 2 * FormOcclusion.FloorSide + FormOcclusion.FloorSide / 2];
        Assert.True(middle < 0.2f && sees.Floor[0] > 0.9f, $"{middle} below the ball, {sees.Floor[0]} far from it");

        var pot = Forms.Vessel();
        var open = FormOcclusion.Of(pot, onFloor: true);
        float Visible(Func<Vector3, Vector3, bool> where)
        {
            var found = Enumerable.Range(0, pot.Positions.Length).Where(i => where(pot.Positions[i], pot.Normals[i])).ToList();
            return found.Average(i =>
                open.Numbers[i * FormOcclusion.PerVertex] * Everywhere + open.Numbers[i * FormOcclusion.PerVertex + 9]
            );
        }
        var belly = Visible((p, n) => p.Y is > 0.3f and < 0.45f && Vector3.Dot(n with { Y = 0 }, p with { Y = 0 }) > 0);
        var inside = Visible((p, n) => p.Y is > 0.3f and < 0.45f && Vector3.Dot(n with { Y = 0 }, p with { Y = 0 }) < 0);
        Assert.True(belly > 2 * inside, $"{belly} on the belly, {inside} inside");
    }

    /// <summary>What is known of a form's own vertices is spread over those that were put between them.</summary>
    [Fact]
    public void NumbersFollowTheHalvings()
    {
        var plain = Forms.Tile();
        var moved = Displacing.Move(plain, new((_, _) => 0, 1e-4f, 2, "flat"));
        var along = moved.Spread([.. plain.Positions.Select(p => p.X)], 1);
        for (var i = 0; i < along.Length; i++)
            Assert.Equal(moved.Positions[i].X, along[i], 1e-4f);
        Assert.True(along.Length > 10 * plain.Positions.Length);
    }
}
