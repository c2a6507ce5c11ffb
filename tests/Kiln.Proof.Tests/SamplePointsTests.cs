using System.Runtime.Intrinsics;
using Kiln.Proof.Rendering.Paths;
using Kiln.Simd;

namespace Kiln.Proof.Tests;

/// <summary>
/// The numbers by which paths are chosen: in each group of four dimensions the first two are a (0, 2)-sequence in base 2 (Sobol 1967),
/// which
/// nested scrambling keeps (Owen 1995), and each by itself fills every interval once.
/// </summary>
public class SamplePointsTests
{
    private static float[][] Numbers(uint seed, int count, uint group)
    {
        var numbers = new float[4][];
        for (var d = 0; d < 4; d++)
            numbers[d] = new float[count];
        for (var i = 0; i < count; i += WideMath.Lanes)
        {
            var index = Vector256.Create((uint)i) + Vector256<uint>.Indices;
            var four = SamplePoints.At(Vector256.Create(seed), index, Vector256.Create(group));
            for (var lane = 0; lane < WideMath.Lanes; lane++)
                (numbers[0][i + lane], numbers[1][i + lane], numbers[2][i + lane], numbers[3][i + lane]) = (
                    four.First[lane],
                    four.Second[lane],
                    four.Third[lane],
                    four.Fourth[lane]
                );
        }
        return numbers;
    }

    [Theory]
    [InlineData(1u, 0u)]
    [InlineData(77u, 3u)]
    [InlineData(0xdeadbeefu, 12u)]
    public void EveryIntervalIsFilledOnce(uint seed, uint group)
    {
        const int n = 64;
        var numbers = Numbers(SamplePoints.Seed(seed, 5), n, group);
        foreach (var one in numbers)
        {
            Assert.All(one, v => Assert.InRange(v, 0, 0.99999994f));
            Assert.Equal(n, one.Select(v => (int)(v * n)).Distinct().Count());
        }
        for (var across = 1; across <= n; across *= 2)
        {
            var boxes = numbers[0].Zip(numbers[1], (x, y) => ((int)(x * across), (int)(y * (n / across))));
            Assert.Equal(n, boxes.Distinct().Count());
        }
    }

    [Fact]
    public void PixelsGroupsAndSeedsDiffer()
    {
        var first = Numbers(SamplePoints.Seed(10, 1), 16, 0);
        foreach (
            var other in new[]
            {
                Numbers(SamplePoints.Seed(11, 1), 16, 0),
                Numbers(SamplePoints.Seed(10, 2), 16, 0),
                Numbers(SamplePoints.Seed(10, 1), 16, 1),
            }
        )
            Assert.True(first[0].Zip(other[0], (a, b) => MathF.Abs(a - b)).Average() > 0.1f);
        Assert.Equal(first[2], Numbers(SamplePoints.Seed(10, 1), 16, 0)[2]);
    }
}
