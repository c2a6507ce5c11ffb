using System.Numerics;
using Kiln.Proof.Geometry;

namespace Kiln.Proof.Tests;

/// <summary>Moved forms against shapes that are known by formula.</summary>
public class DisplacementTests
{
    private static SurfaceDisplacement By(Func<Vector2, float> metres, int subdivision = 1, float edge = 1e-4f) =>
        new((uv, _) => metres(uv), edge, subdivision, Guid.NewGuid().ToString());

    /// <summary>A sphere moved by one height everywhere is the larger sphere, with its normals.</summary>
    [Fact]
    public void ASphereMovedEvenlyIsALargerSphere()
    {
        var moved = Displacing.Move(Forms.Sphere(), By(_ => 0.05f, subdivision: 0));
        var centre = new Vector3(0, 0.4f, 0);
        for (var i = 0; i < moved.Positions.Length; i++)
        {
            var away = moved.Positions[i] - centre;
            Assert.Equal(0.45f, away.Length(), 1e-4);
            // Area-weighted normals of a mesh with 128 × 64 faces are off by a part of a face's angle, most at the poles.
            Assert.True(Vector3.Dot(moved.Normals[i], Vector3.Normalize(away)) > 0.999f);
        }
    }

    /// <summary>A slab moved by a height that rises along u is tilted by the height's own slope: normal = (−h′, 1) / √(1 + h′²).</summary>
    [Fact]
    public void ARampTiltsTheFace()
    {
        const float slope = 0.1f;
        var moved = Displacing.Move(Forms.Tile(), By(uv => slope * (uv.X - 0.5f), subdivision: 2));
        var expected = Vector3.Normalize(new(-slope, 1, 0));
        var seen = 0;
        for (var i = 0; i < moved.Positions.Length; i++)
        {
            var uv = moved.Uvs[i];
            if (uv.X is < 0.1f or > 0.9f || uv.Y is < 0.1f or > 0.9f)
                continue;
            seen++;
            Assert.Equal(Forms.TileTop + slope * (uv.X - 0.5f), moved.Positions[i].Y, 1e-5);
            Assert.True(Vector3.Distance(expected, moved.Normals[i]) < 1e-3f, $"normal {moved.Normals[i]} at {uv}");
        }
        Assert.True(seen > 200);
    }

    /// <summary>The wave's own area by quadrature of √(1 + |∇h|²), against the area of the moved triangles.</summary>
    [Fact]
    public void AWaveHasTheAreaThatItsFormulaGives()
    {
        const float height = 0.02f;
        float H(Vector2 uv) => height * MathF.Sin(4 * MathF.PI * uv.X) * MathF.Sin(2 * MathF.PI * uv.Y);
        var moved = Displacing.Move(Forms.Tile(), By(H, subdivision: 5));
        double area = 0,
            expected = 0;
        for (var t = 0; t < moved.Triangles; t++)
        {
            int a = moved.Indices[3 * t],
                b = moved.Indices[3 * t + 1],
                c = moved.Indices[3 * t + 2];
            if (new[] { a, b, c }.All(v => moved.Uvs[v].X is >= 0.25f and <= 0.75f && moved.Uvs[v].Y is >= 0.25f and <= 0.75f))
                area += Vector3.Cross(moved.Positions[b] - moved.Positions[a], moved.Positions[c] - moved.Positions[a]).Length() / 2;
        }
        // The same square in the flat mesh: whole triangles do not fill it exactly.
        double flat = 0;
        var plain = Displacing.Move(Forms.Tile(), By(_ => 0, subdivision: 5));
        for (var t = 0; t < plain.Triangles; t++)
        {
            int a = plain.Indices[3 * t],
                b = plain.Indices[3 * t + 1],
                c = plain.Indices[3 * t + 2];
            if (!new[] { a, b, c }.All(v => plain.Uvs[v].X is >= 0.25f and <= 0.75f && plain.Uvs[v].Y is >= 0.25f and <= 0.75f))
                continue;
            var piece = Vector3.Cross(plain.Positions[b] - plain.Positions[a], plain.Positions[c] - plain.Positions[a]).Length() / 2;
            flat += piece;
            var uv = (plain.Uvs[a] + plain.Uvs[b] + plain.Uvs[c]) / 3;
            double du = height * 4 * Math.PI * Math.Cos(4 * Math.PI * uv.X) * Math.Sin(2 * Math.PI * uv.Y),
                dv = height * 2 * Math.PI * Math.Sin(4 * Math.PI * uv.X) * Math.Cos(2 * Math.PI * uv.Y);
            expected += piece * Math.Sqrt(1 + du * du + dv * dv);
        }
        Assert.True(flat > 0.1);
        Assert.Equal(1, area / expected, 2e-3);
    }

    [Fact]
    public void PartsKeepTheirTrianglesAndNothingGapes()
    {
        var form = Forms.Vessel();
        var moved = Displacing.Move(form, By(uv => 0.01f * MathF.Sin(40 * uv.X) * MathF.Cos(31 * uv.Y)));
        Assert.Equal(form.Triangles * 4, moved.Triangles);
        Assert.Equal(
            form.Parts.Select(p => (p.Name, p.FirstTriangle * 4, p.Triangles * 4)),
            moved.Parts.Select(p => (p.Name, p.FirstTriangle, p.Triangles))
        );
        // Where the form is closed it stays closed: no more edges are open, by place and not by number, than moving by nothing leaves.
        Assert.Equal(OpenEdges(Displacing.Move(form, By(_ => 0))), OpenEdges(moved));
    }

    private static int OpenEdges(Mesh mesh)
    {
        (int, int, int) Place(int v) =>
            (
                (int)MathF.Round(mesh.Positions[v].X * 1e5f),
                (int)MathF.Round(mesh.Positions[v].Y * 1e5f),
                (int)MathF.Round(mesh.Positions[v].Z * 1e5f)
            );
        var edges = new Dictionary<((int, int, int), (int, int, int)), int>();
        for (var i = 0; i < mesh.Indices.Length; i += 3)
        for (var k = 0; k < 3; k++)
        {
            var (a, b) = (Place(mesh.Indices[i + k]), Place(mesh.Indices[i + (k + 1) % 3]));
            if (a == b)
                continue;
            var key = a.CompareTo(b) < 0 ? (a, b) : (b, a);
            edges[key] = edges.GetValueOrDefault(key) + 1;
        }
        return edges.Count(e => e.Value % 2 != 0);
    }

    [Fact]
    public void HalvingStopsWhereTrianglesWouldBeTooMany()
    {
        var moved = Displacing.Move(Forms.Vessel(), By(_ => 0, subdivision: 10));
        Assert.InRange(moved.Triangles, Displacing.MostTriangles / 4, Displacing.MostTriangles);
        // Edges that are short enough already are left alone.
        Assert.Equal(Forms.Vessel().Triangles, Displacing.Move(Forms.Vessel(), By(_ => 0, subdivision: 10, edge: 0.5f)).Triangles);
    }

    [Fact]
    public void TheSameHeightsAreMovedOnce()
    {
        var displacement = By(_ => 0.01f);
        var form = Forms.Tile();
        Assert.Same(Displacing.Of("tile", form, displacement), Displacing.Of("tile", form, displacement));
        Assert.NotSame(Displacing.Of("tile", form, displacement), Displacing.Of("tile", form, By(_ => 0.01f)));
    }
}
