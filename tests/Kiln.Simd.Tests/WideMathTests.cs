using System.Numerics;

namespace Kiln.Simd.Tests;

/// <summary>Eight numbers at once against the mathematical functions of the runtime, in double precision.</summary>
public class WideMathTests
{
    private static readonly float[] Many = [.. Enumerable.Range(0, 4096).Select(i => (i * 0.7548776662f) % 1)];

    private static IEnumerable<Wide> Eights(Func<float, float> number) =>
        Many.Select(number).Chunk(WideMath.Lanes).Select(eight => Vector256.Create(eight));

    /// <param name="relative">Whether the difference is counted in parts of the value.</param>
    private static double Most(Func<Wide, Wide> wide, Func<double, double> exact, Func<float, float> number, bool relative = false)
    {
        var most = 0.0;
        foreach (var x in Eights(number))
        {
            var found = wide(x);
            for (var lane = 0; lane < WideMath.Lanes; lane++)
            {
                var true_ = exact(x[lane]);
                most = Math.Max(most, Math.Abs(found[lane] - true_) / (relative ? Math.Abs(true_) : 1));
            }
        }
        return most;
    }

    [Theory]
    [InlineData(1)]
    [InlineData(40)]
    public void SinesAndCosinesOfTurns(float turns)
    {
        float Spread(float x) => (2 * x - 1) * turns;
        Assert.InRange(Most(x => WideMath.SinCosTurns(x).Sin, x => Math.Sin(2 * Math.PI * x), Spread), 0, 3e-7);
        Assert.InRange(Most(x => WideMath.SinCosTurns(x).Cos, x => Math.Cos(2 * Math.PI * x), Spread), 0, 3e-7);
    }

    [Fact]
    public void AnglesOfCosines() => Assert.InRange(Most(WideMath.Acos, Math.Acos, x => 2 * x - 1), 0, 5e-7);

    [Fact]
    public void AnglesOfDirectionsInTurns()
    {
        var most = 0.0;
        foreach (var x in Eights(v => v))
        {
            var (sin, cos) = WideMath.SinCosTurns(x);
            var found = WideMath.Atan2Turns(sin * 3f, cos * 3f);
            for (var lane = 0; lane < WideMath.Lanes; lane++)
            {
                var away = Math.Abs(
                    found[lane] - Math.Atan2(Math.Sin(2 * Math.PI * x[lane]), Math.Cos(2 * Math.PI * x[lane])) / (2 * Math.PI)
                );
                most = Math.Max(most, Math.Min(away, 1 - away));
            }
        }
        Assert.InRange(most, 0, 2.2e-6);
    }

    [Theory]
    [InlineData(0.45f)]
    [InlineData(2.2f)]
    [InlineData(33f)]
    public void Powers(float exponent)
    {
        Assert.InRange(
            Most(x => WideMath.Pow(x, WideMath.Of(exponent)), x => Math.Pow(x, exponent), x => 0.3f + x, relative: true),
            0,
            1e-7 * (4 + 4 * exponent)
        );
        Assert.Equal(0, WideMath.Pow(WideMath.Of(0), WideMath.Of(exponent))[3]);
        Assert.Equal(0, WideMath.Pow(WideMath.Of(-1), WideMath.Of(exponent))[3]);
    }

    [Fact]
    public void ExponentialsAndLogarithms()
    {
        Assert.InRange(Most(WideMath.Exp, Math.Exp, x => 40 * x - 30, relative: true), 0, 3e-7);
        Assert.InRange(Most(WideMath.Log, Math.Log, x => 1e-3f + 50 * x), 0, 5e-7);
    }

    [Fact]
    public void WhatIsNoNumberGivesTheBound()
    {
        var none = WideMath.Of(float.NaN);
        Assert.Equal(0, WideMath.Unit(none)[5]);
        Assert.Equal(3, WideMath.Max(none, WideMath.Of(3))[0]);
        Assert.Equal(3, WideMath.Min(none, WideMath.Of(3))[0]);
        Assert.Equal(2, WideMath.Clamp(none, WideMath.Of(2), WideMath.Of(4))[7]);
        Assert.Equal(0u, WideMath.Bits(WideMath.Finite(none)));
        Assert.Equal(0u, WideMath.Bits(WideMath.Finite(WideMath.Of(float.NegativeInfinity))));
        Assert.Equal(255u, WideMath.Bits(WideMath.Finite(WideMath.Of(float.MaxValue))));
    }

    [Fact]
    public void LanesAreBits()
    {
        foreach (var bits in new[] { 0u, 1u, 0x80u, 0b1010_0110u, 255u })
            Assert.Equal(bits, WideMath.Bits(WideMath.LanesOf(bits)));
        var chosen = WideMath.Select(WideMath.LanesOf(0b100), WideMath.Of(1), WideMath.Of(2));
        Assert.Equal((2, 1, 2), (chosen[1], chosen[2], chosen[3]));
        Assert.Equal(0b1011u, WideMath.Bits(WideMath.Without(WideMath.LanesOf(0b1111), WideMath.LanesOf(0b100))));
    }

    [Fact]
    public void SignsAreTakenOver()
    {
        Assert.Equal(-2, WideMath.CopySign(WideMath.Of(2), WideMath.Of(-0f))[0]);
        Assert.Equal(2, WideMath.CopySign(WideMath.Of(-2), WideMath.Of(0f))[0]);
        Assert.Equal(1.5f, WideMath.Negative(WideMath.Of(-1.5f))[6]);
    }

    [Fact]
    public void PlacesOfATableAreGathered()
    {
        var table = GC.AllocateArray<float>(100, pinned: true);
        for (var i = 0; i < table.Length; i++)
            table[i] = 3 * i;
        var found = WideMath.Gather(ref table[10], Vector256.Create(0, 5, 89, 1, 1, 7, 30, 2));
        Assert.Equal([30, 45, 297, 33, 33, 51, 120, 36], Enumerable.Range(0, 8).Select(i => (int)found[i]));
    }

    /// <summary>Vectors lane by lane against those of the runtime.</summary>
    [Fact]
    public void VectorsAreAsOneByOne()
    {
        var random = new Random(4);
        Vector3 Next() => new(random.NextSingle() - 0.5f, random.NextSingle() - 0.5f, random.NextSingle() - 0.5f);
        var (a, b) = (Enumerable.Range(0, 8).Select(_ => Next()).ToArray(), Enumerable.Range(0, 8).Select(_ => Next()).ToArray());
        Wide3 x = Wide3.Zero,
            y = Wide3.Zero;
        for (var lane = 0; lane < 8; lane++)
            (x[lane], y[lane]) = (a[lane], b[lane]);
        for (var lane = 0; lane < 8; lane++)
        {
            void Same(Vector3 expected, Wide3 found) => Assert.True((expected - found[lane]).Length() < 1e-6f);
            Same(a[lane] + b[lane], x + y);
            Same(a[lane] * b[lane] - a[lane], x * y - x);
            Same(-a[lane] / 0.25f, -x / WideMath.Of(0.25f));
            Same(Vector3.Cross(a[lane], b[lane]), Wide3.Cross(x, y));
            Same(Vector3.Normalize(a[lane]), Wide3.Normalize(x));
            Same(Vector3.Lerp(a[lane], b[lane], 0.3f), Wide3.Lerp(x, y, WideMath.Of(0.3f)));
            Same(Vector3.Min(a[lane], b[lane]), Wide3.Min(x, y));
            Same(Vector3.Clamp(a[lane], Vector3.Zero, Vector3.One), Wide3.Unit(x));
            Assert.Equal(Vector3.Dot(a[lane], b[lane]), Wide3.Dot(x, y)[lane], 1e-6f);
            Assert.Equal(MathF.Max(a[lane].X, MathF.Max(a[lane].Y, a[lane].Z)), Wide3.Greatest(x)[lane]);
        }
    }
}
