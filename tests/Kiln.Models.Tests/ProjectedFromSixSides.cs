using System.Numerics;
using Kiln.Models.Measures;
using Kiln.Models.Uvs;

namespace Kiln.Models.Tests;

/// <summary>UVs from six sides, on a box whose sides are known: true to size, not mirrored, upright whatever axis points upwards.</summary>
public class ProjectedFromSixSides
{
    private static readonly Vector3 Size = new(2, 3, 5);

    /// <summary>A box around a place of its own, wound outwards; its corners by the bits of their numbers.</summary>
    private static ModelPart Box()
    {
        Vector3[] corners = [.. Enumerable.Range(0, 8).Select(i => new Vector3(7) + Size * new Vector3(i & 1, i >> 1 & 1, i >> 2))];
        int[] faces =
        [
            .. new[] { (0, 2, 3, 1), (4, 5, 7, 6), (0, 1, 5, 4), (2, 6, 7, 3), (0, 4, 6, 2), (1, 3, 7, 5) }.SelectMany(f =>
                new[] { f.Item1, f.Item2, f.Item3, f.Item1, f.Item3, f.Item4 }
            ),
        ];
        return new("/box", "box", null, corners, faces, [], null);
    }

    [Theory]
    [InlineData('Y')]
    [InlineData('Z')]
    [InlineData('X')]
    public void APictureIsTrueToSizeAndNotMirrored(char up)
    {
        var part = Box();
        var set = BoxProjection.Of(part, up, 0.5f, 0.5f);
        var uv = UvMeasures.Of(part with { UvSets = [set] }, set);
        Assert.Equal(0, uv.Flipped);
        Assert.Equal(1, uv.StretchP95!.Value, 1e-5);
        for (var t = 0; t < part.Triangles; t++)
        {
            var (a, b, c) = set.Of(t);
            var area = ((b.X - a.X) * (c.Y - a.Y) - (b.Y - a.Y) * (c.X - a.X)) / 2;
            // A square metre has four pictures of half a metre.
            Assert.Equal(4 * PartMeasures.TriangleArea(part, t), area, 1e-3);
        }
        // The middle of every side is the middle of a picture.
        for (var side = 0; side < 6; side++)
        {
            var middle = Enumerable.Range(6 * side, 6).Select(i => set.Places[i]).Distinct().Aggregate((a, b) => a + b) / 4;
            Assert.True(Vector2.Distance(middle, new(0.5f)) < 1e-4f, $"{middle}");
        }
    }

    /// <summary>On the sides around the axis that points upwards v goes with it.</summary>
    [Theory]
    [InlineData('Y')]
    [InlineData('Z')]
    [InlineData('X')]
    public void PicturesStandUpright(char up)
    {
        var part = Box();
        var set = BoxProjection.Of(part, up, 1, 1);
        var axis = up switch
        {
            'Z' => Vector3.UnitZ,
            'X' => Vector3.UnitX,
            _ => Vector3.UnitY,
        };
        for (var t = 0; t < part.Triangles; t++)
        {
            Vector3 At(int k) => part.Positions[part.Corners[3 * t + k]];
            if (MathF.Abs(Vector3.Dot(Vector3.Normalize(Vector3.Cross(At(1) - At(0), At(2) - At(0))), axis)) > 0.5f)
                continue;
            for (var k = 0; k < 3; k++)
                Assert.Equal(
                    Vector3.Dot(At(k) - At((k + 1) % 3), axis),
                    set.Places[3 * t + k].Y - set.Places[3 * t + (k + 1) % 3].Y,
                    1e-4f
                );
        }
    }

    [Fact]
    public void WidthAndHeightOfAPictureAreApart()
    {
        var part = Box();
        var (one, other) = (BoxProjection.Of(part, 'Y', 1, 1), BoxProjection.Of(part, 'Y', 2, 0.5f));
        Assert.All(one.Places.Zip(other.Places), p =>
            Assert.True(Vector2.Distance((p.First - new Vector2(0.5f)) * new Vector2(0.5f, 2), p.Second - new Vector2(0.5f)) < 1e-4f)
        );
    }
}
