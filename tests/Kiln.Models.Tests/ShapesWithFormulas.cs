using System.Globalization;
using System.Numerics;
using Kiln.Models.Measures;

namespace Kiln.Models.Tests;

/// <summary>Areas, bounds, stretch, overlap and flipped islands of shapes whose numbers are known by a formula.</summary>
public class ShapesWithFormulas
{
    private static Model Read(string text)
    {
        var path = Path.Combine(Directory.CreateTempSubdirectory("kiln-models-").FullName, "shape.obj");
        File.WriteAllText(path, text);
        try
        {
            return AsRead.Of(path);
        }
        finally
        {
            Directory.Delete(Path.GetDirectoryName(path)!, recursive: true);
        }
    }

    private static string Of(FormattableString line) => line.ToString(CultureInfo.InvariantCulture) + "\n";

    /// <summary>A tube of radius 2 and height 5 as a prism of 400 sides: each side is 2 r sin(π/n) wide. Its UVs are as wide as the
    /// whole way around and a fifth of the height, so that the mapping stretches by (n 2 r sin(π/n)) to 5 in every triangle.</summary>
    [Fact]
    public void ATubeHasTheAreaAndTheStretchOfItsFormula()
    {
        const int sides = 400;
        var text = "";
        for (var i = 0; i <= sides; i++)
        {
            var angle = 2 * Math.PI * i / sides;
            text += Of($"v {2 * Math.Cos(angle)} 0 {2 * Math.Sin(angle)}") + Of($"v {2 * Math.Cos(angle)} 5 {2 * Math.Sin(angle)}");
            text += Of($"vt {(double)i / sides} 0") + Of($"vt {(double)i / sides} 1");
        }
        for (var i = 0; i < sides; i++)
            text += Of($"f {2 * i + 1}/{2 * i + 1} {2 * i + 3}/{2 * i + 3} {2 * i + 4}/{2 * i + 4} {2 * i + 2}/{2 * i + 2}");
        var part = Read(text).Parts.Single();
        var around = sides * 2 * 2 * Math.Sin(Math.PI / sides);
        Assert.Equal(around * 5, PartMeasures.Area(part), around * 5 * 1e-4);
        var (min, max) = PartMeasures.Bounds([part]);
        Assert.Equal(new Vector3(-2, 0, -2), min, (a, b) => Vector3.Distance(a, b) < 2e-4);
        Assert.Equal(new Vector3(2, 5, 2), max, (a, b) => Vector3.Distance(a, b) < 2e-4);
        var uv = UvMeasures.Of(part, part.UvSets.Single());
        Assert.Equal(around / 5, uv.StretchP95!.Value, around / 5 * 1e-4);
        // One picture over all of the area.
        var density = 1 / Math.Sqrt(around * 5);
        Assert.Equal(density, UvMeasures.MedianDensity([(part, part.UvSets.Single())])!.Value, density * 1e-4);
        Assert.Equal(0, uv.Overlap, 1e-2);
        Assert.Equal(0, uv.Flipped);
        Assert.Equal([1001], uv.Udims);
    }

    /// <summary>Two equal squares whose UVs overlap by a third: of five sixths of two squares, a fifth is covered twice.</summary>
    [Theory]
    [InlineData(0, 1)]
    [InlineData(2 / 3.0, 0.2)]
    [InlineData(0.5, 1 / 3.0)]
    [InlineData(1, 0)]
    public void OverlapIsTheShareOfWhatIsCoveredTwice(double shift, double share)
    {
        var text = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n";
        foreach (var u in (double[])[0, shift])
            text += Of($"vt {u} 0") + Of($"vt {u + 1} 0") + Of($"vt {u + 1} 1") + Of($"vt {u} 1");
        var part = Read(text + "f 1/1 2/2 3/3 4/4\nf 1/5 2/6 3/7 4/8\n").Parts.Single();
        Assert.Equal(share, UvMeasures.Of(part, part.UvSets.Single()).Overlap, 1e-2);
    }

    /// <summary>A fan of many thin triangles shares all its edges: nothing lies twice.</summary>
    [Fact]
    public void SharedEdgesAreNoOverlap()
    {
        const int sides = 777;
        var text = "v 0 0 0\nvt 0.5 0.5\n";
        for (var i = 0; i < sides; i++)
        {
            var (c, s) = (Math.Cos(2 * Math.PI * i / sides), Math.Sin(2 * Math.PI * i / sides));
            text += Of($"v {c} {s} 0") + Of($"vt {0.5 + 0.5 * c} {0.5 + 0.5 * s}");
        }
        for (var i = 0; i < sides; i++)
            text += Of($"f 1/1 {i + 2}/{i + 2} {(i + 1) % sides + 2}/{(i + 1) % sides + 2}");
        var part = Read(text).Parts.Single();
        var uv = UvMeasures.Of(part, part.UvSets.Single());
        Assert.Equal(0, uv.Overlap);
        Assert.Equal(1, uv.StretchP95!.Value, 1e-3);
        Assert.Equal(0.5 * sides * Math.Sin(2 * Math.PI / sides), PartMeasures.Area(part), 1e-4);
    }

    /// <summary>One of two triangles mirrored, one of two beyond the tile; tiles told where each triangle lies in one.</summary>
    [Fact]
    public void FlippedAndOutsideAreCountedByTriangles()
    {
        const string square = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n";
        var mirrored = Read(square + "vt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3\nf 1/1 3/2 4/3\nf 1/3 3/2 4/1\n").Parts.Single();
        Assert.Equal(1 / 3.0, UvMeasures.Of(mirrored, mirrored.UvSets.Single()).Flipped, 1e-9);
        var beyond = Read(square + "vt 0 0\nvt 1 0\nvt 1 1\nvt 0 1.5\nf 1/1 2/2 3/3\nf 1/1 3/3 4/4\n").Parts.Single();
        var uv = UvMeasures.Of(beyond, beyond.UvSets.Single());
        Assert.Equal(0.5, uv.Outside, 1e-9);
        Assert.Empty(uv.Udims);
        var tiles = Read(square + "vt 1 2\nvt 2 2\nvt 2 3\nvt 1 3\nf 1/1 2/2 3/3 4/4\n").Parts.Single();
        uv = UvMeasures.Of(tiles, tiles.UvSets.Single());
        Assert.Equal((0.0, 1022), (uv.Outside, uv.Udims.Single()));
    }

    /// <summary>A star with five points, wound either way, has the area of its formula however it is cut into triangles.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void APolygonThatIsNotConvexIsCutIntoWhatItCovers(bool backwards)
    {
        var corners = Enumerable
            .Range(0, 10)
            .Select(i => (i % 2 == 0 ? 1 : 0.4) is var r ? (R: r, Angle: 0.1 + Math.PI * i / 5) : default)
            .ToList();
        var text = string.Concat(corners.Select(c => Of($"v {c.R * Math.Cos(c.Angle)} 3 {c.R * Math.Sin(c.Angle)}")));
        var order = Enumerable.Range(1, 10);
        text += "f " + string.Join(' ', backwards ? order.Reverse() : order) + "\n";
        var part = Read(text).Parts.Single();
        Assert.Equal(8, part.Triangles);
        Assert.Equal(5 * 0.4 * Math.Sin(Math.PI / 5), PartMeasures.Area(part), 1e-5);
    }
}
