using System.Numerics;
using Kiln.Models.Measures;
using Kiln.Models.Uvs;

namespace Kiln.Models.Tests;

/// <summary>UVs that are made for parts, on shapes whose unrolled sizes are known by a formula.</summary>
public class ProjectedUvs
{
    private const int Around = 256;

    /// <summary>A tube without caps, or a sphere, of a radius, around the y axis; rows from below to above.</summary>
    private static ModelPart Turned(Func<double, (double Radius, double Height)> profile, int rows)
    {
        var positions = new List<Vector3>();
        for (var row = 0; row <= rows; row++)
        for (var i = 0; i < Around; i++)
        {
            var (r, y) = profile((double)row / rows);
            var angle = 2 * Math.PI * i / Around;
            positions.Add(new((float)(r * Math.Sin(angle)), (float)y, (float)(r * Math.Cos(angle))));
        }
        var corners = new List<int>();
        for (var row = 0; row < rows; row++)
        for (var i = 0; i < Around; i++)
        {
            int A(int r, int k) => r * Around + k % Around;
            corners.AddRange([A(row, i), A(row, i + 1), A(row + 1, i + 1), A(row, i), A(row + 1, i + 1), A(row + 1, i)]);
        }
        return new("/part", "part", null, [.. positions], [.. corners], [], null);
    }

    private static ModelPart Tube(float radius, float height) => Turned(t => (radius, (t - 0.5) * height), 1);

    /// <summary>
    /// A square label as wide as the tube is around lies around it once: no stretch beyond that of a prism of 256 sides, nothing
    /// mirrored, nothing covered twice.
    /// </summary>
    [Fact]
    public void ALabelLiesAroundATubeOnce()
    {
        const float radius = 0.05f,
            height = 0.2f;
        var part = Tube(radius, height);
        var set = UvProjection.Of(part, ProjectionKind.Cylinder, 'Y', 2 * MathF.PI * radius, 2 * MathF.PI * radius);
        var measures = UvMeasures.Of(part, set);
        Assert.Equal(1, measures.StretchP95!.Value, 1e-3);
        Assert.Equal(0, measures.Flipped);
        Assert.Equal(0, measures.Overlap, 0.01);
        Assert.Equal(1, Extent(set).X, 1e-4f);
        Assert.Equal(height / (2 * MathF.PI * radius), Extent(set).Y, 1e-4f);
    }

    /// <summary>Where the way around is 7.3 pictures, seven lie there, each 4 % wider; it closes without a seam.</summary>
    [Fact]
    public void WhatGoesAroundCloses()
    {
        var part = Tube(1, 1);
        var set = UvProjection.Of(part, ProjectionKind.Cylinder, 'Y', 2 * MathF.PI / 7.3f, 1);
        for (var t = 0; t < part.Triangles; t++)
        {
            var (a, b, c) = set.Of(t);
            var width = MathF.Max(a.X, MathF.Max(b.X, c.X)) - MathF.Min(a.X, MathF.Min(b.X, c.X));
            Assert.Equal(7f / Around, width, 1e-4f);
        }
        // The same point of the surface has the same place of the picture on both sides of the seam.
        var at = new Dictionary<int, Vector2>();
        for (var i = 0; i < part.Corners.Length; i++)
        {
            var place = set.Places[set.Corners[i]];
            if (at.TryGetValue(part.Corners[i], out var other))
                Assert.Equal(0, MathF.Abs(MathF.IEEERemainder(place.X - other.X, 1)), 1e-3f);
            else
                at[part.Corners[i]] = place;
        }
    }

    /// <summary>
    /// On a sphere u runs along the parallels, v along the meridians: on a ring at a latitude, the mapping stretches by its cosine; at the
    /// equator it does not.
    /// </summary>
    [Fact]
    public void ASphereIsTrueAtItsEquator()
    {
        const int rows = 128;
        var part = Turned(t => (Math.Cos((t - 0.5) * Math.PI), Math.Sin((t - 0.5) * Math.PI)), rows);
        var set = UvProjection.Of(part, ProjectionKind.Sphere, 'Y', 2 * MathF.PI, 2 * MathF.PI);
        var equator = part with { Corners = part.Corners[(rows / 2 * Around * 6)..(rows / 2 * Around * 6 + 6)] };
        var there = set with { Corners = set.Corners[(rows / 2 * Around * 6)..(rows / 2 * Around * 6 + 6)] };
        Assert.Equal(1, UvMeasures.Of(equator, there).StretchP95!.Value, 1e-3);
        // At 60 degrees the ring is half as long: the picture is squeezed to a half there.
        var row = rows * 5 / 6;
        var high = part with { Corners = part.Corners[(row * Around * 6)..(row * Around * 6 + 6)] };
        var seen = set with { Corners = set.Corners[(row * Around * 6)..(row * Around * 6 + 6)] };
        // Of the ring's two triangles the one at its shorter edge stretches most.
        var latitude = (row + 1.0) / rows * Math.PI - Math.PI / 2;
        Assert.Equal(1 / Math.Cos(latitude), UvMeasures.Of(high, seen).StretchP95!.Value, 1e-3);
        Assert.Equal(0, UvMeasures.Of(part, set).Flipped);
    }

    /// <summary>Seen from a side a square has the size of its picture, upright and not mirrored, whichever axis points upwards.</summary>
    [Theory]
    [InlineData(ProjectionKind.Front, 'Y', "-1 -1 0|1 -1 0|1 1 0")]
    [InlineData(ProjectionKind.Side, 'Y', "0 -1 1|0 -1 -1|0 1 -1")]
    [InlineData(ProjectionKind.Top, 'Y', "-1 0 1|1 0 1|1 0 -1")]
    [InlineData(ProjectionKind.Front, 'Z', "-1 0 -1|1 0 -1|1 0 1")]
    [InlineData(ProjectionKind.Top, 'Z', "-1 -1 0|1 -1 0|1 1 0")]
    public void FromASideAPictureIsUprightAndTrue(ProjectionKind kind, char up, string places)
    {
        var points = places
            .Split('|')
            .Select(p => p.Split(' ').Select(float.Parse).ToArray())
            .Select(p => new Vector3(p[0], p[1], p[2]))
            .ToArray();
        var set = UvProjection.Of(new("/p", "p", null, points, [0, 1, 2], [], null), kind, up, 2, 2);
        Assert.Equal([new Vector2(0, 0), new Vector2(1, 0), new Vector2(1, 1)], set.Places, (a, b) => Vector2.Distance(a, b) < 1e-6f);
    }

    private static Vector2 Extent(UvSet set) => set.Places.Aggregate(Vector2.Max) - set.Places.Aggregate(Vector2.Min);
}
