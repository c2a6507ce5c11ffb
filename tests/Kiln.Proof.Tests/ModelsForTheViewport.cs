using System.Numerics;
using Kiln.Proof.Geometry;
using Kiln.Proof.Geometry.Models;
using Kiln.Proof.Geometry.Occlusion;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>
/// What the viewport is told of models: halved edges leave a surface where it is, by formulas; a few vertices speak for many; the part at a
/// place of the picture.
/// </summary>
public class ModelsForTheViewport
{
    /// <summary>A box of six squares, each with its own vertices, UV 0..1.</summary>
    private static Mesh Box(Vector3 size, Vector3 at, string name = "box")
    {
        var (positions, normals, uvs, indices) = (new List<Vector3>(), new List<Vector3>(), new List<Vector2>(), new List<int>());
        foreach (var normal in (Vector3[])[Vector3.UnitX, -Vector3.UnitX, Vector3.UnitY, -Vector3.UnitY, Vector3.UnitZ, -Vector3.UnitZ])
        {
            var across = Mesh.Perpendicular(normal);
            var up = Vector3.Cross(normal, across);
            var first = positions.Count;
            foreach (var (u, v) in ((int, int)[])[(0, 0), (1, 0), (1, 1), (0, 1)])
            {
                positions.Add(at + size * 0.5f * (normal + across * (2 * u - 1) + up * (2 * v - 1)));
                normals.Add(normal);
                uvs.Add(new(u, v));
            }
            indices.AddRange([first, first + 1, first + 2, first, first + 2, first + 3]);
        }
        return new Mesh
        {
            Positions = [.. positions],
            Normals = [.. normals],
            Uvs = [.. uvs],
            Indices = [.. indices],
            Parts = [(name, 0, 6), ("rest", 6, 6)],
        }.WithTangents();
    }

    private static double Area(Mesh mesh, int first, int count) =>
        Enumerable
            .Range(first, count)
            .Sum(t =>
            {
                var (a, b, c) = (
                    mesh.Positions[mesh.Indices[3 * t]],
                    mesh.Positions[mesh.Indices[3 * t + 1]],
                    mesh.Positions[mesh.Indices[3 * t + 2]]
                );
                return Vector3.Cross(b - a, c - a).Length() / 2.0;
            });

    [Fact]
    public void HalvedEdgesAreShortAndTheSurfaceStaysWhereItIs()
    {
        var size = new Vector3(1, 0.3f, 0.05f);
        var box = Box(size, Vector3.Zero);
        var fine = ShortEdges.Of(box, 0.06f, 1_000_000);
        Assert.True(fine.Triangles > 500);
        foreach (var (whole, part) in box.Parts.Zip(fine.Parts))
            Assert.Equal(Area(box, whole.FirstTriangle, whole.Triangles), Area(fine, part.FirstTriangle, part.Triangles), 1e-6);
        var sides = new Dictionary<(Vector3, Vector3), int>();
        for (var t = 0; t < fine.Triangles; t++)
        for (var k = 0; k < 3; k++)
        {
            var (a, b) = (fine.Indices[3 * t + k], fine.Indices[3 * t + (k + 1) % 3]);
            Assert.True(Vector3.Distance(fine.Positions[a], fine.Positions[b]) <= 0.06f);
            // Every edge once in each direction: nothing gapes, also where two squares meet that have vertices of their own.
            sides[(fine.Positions[a], fine.Positions[b])] = sides.GetValueOrDefault((fine.Positions[a], fine.Positions[b])) + 1;
            var normal = fine.Normals[a];
            Assert.Equal(1, normal.Length(), 1e-5f);
            // On the box, and with the UV that the place had before.
            Assert.Equal(0.5f * MathF.Abs(Vector3.Dot(size, normal)), Vector3.Dot(fine.Positions[a], normal), 1e-6f);
            var across = Mesh.Perpendicular(normal);
            var place = Vector3.Dot(fine.Positions[a] / size, across) + 0.5f;
            Assert.Equal(place, fine.Uvs[a].X, 1e-5f);
        }
        Assert.All(sides, s => Assert.Equal((1, 1), (s.Value, sides.GetValueOrDefault((s.Key.Item2, s.Key.Item1)))));
    }

    [Fact]
    public void NothingIsHalvedThatIsFineOrWouldBeTooMuch()
    {
        var box = Box(Vector3.One, Vector3.Zero);
        Assert.Same(box, ShortEdges.Of(box, 2, 1000));
        Assert.Same(box, ShortEdges.Of(box, 0.1f, 20));
        // As far as there is room.
        var some = ShortEdges.Of(box, 0.01f, 100);
        Assert.InRange(some.Triangles, 13, 100);
        Assert.Equal(some.Positions.Length, some.Indices.Max() + 1);
        Assert.Equal(6, Area(some, 0, some.Triangles), 1e-5);
    }

    [Theory]
    [InlineData(200)]
    [InlineData(3000)]
    public void AFewVerticesSpeakForThoseThatAreNearAndFaceAlike(int most)
    {
        var form = Forms.Named("vessel");
        var near = NearVertices.Of(form, most);
        Assert.InRange(near.Chosen.Length, most / 4, most);
        Assert.Equal(form.Positions.Length, near.For.Length);
        // Squares of the surface, each in a few cells and facing a few ways.
        Assert.InRange(near.Cell, 1e-3, 8 * Math.Sqrt(Area(form, 0, form.Triangles) / most));
        for (var i = 0; i < near.For.Length; i++)
        {
            var other = near.Chosen[near.For[i]];
            Assert.InRange(Vector3.Distance(form.Positions[i], form.Positions[other]), 0, MathF.Sqrt(3) * near.Cell);
            Assert.InRange(Vector3.Dot(form.Normals[i], form.Normals[other]), 0.34f, 1.0001f);
        }
        var (all, some) = (FormOcclusion.Of(form), FormOcclusion.Of(form, near.Chosen));
        for (var i = 0; i < near.Chosen.Length; i++)
            Assert.Equal(
                all.Seen.AsSpan(near.Chosen[i] * SkyCells.Words, SkyCells.Words),
                some.Seen.AsSpan(i * SkyCells.Words, SkyCells.Words)
            );
    }

    [Fact]
    public void EachVertexOfASmallMeshSpeaksForItself()
    {
        var near = NearVertices.Of(Box(Vector3.One, Vector3.Zero), 24);
        Assert.Equal(Enumerable.Range(0, 24), near.For);
        Assert.Equal(Enumerable.Range(0, 24), near.Chosen);
    }

    [Fact]
    public void ThePartAtAPlaceIsTheOneThatTheCameraSees()
    {
        static PartTriangles Square(string name, float left, float z) =>
            new(name, [new(left, 0, z), new(left + 1, 0, z), new(left + 1, 1, z), new(left, 1, z)], [0, 1, 2, 0, 2, 3], null, null);
        var standing = StandingModel.Of([Square("left", -1, 0), Square("right", 0, 0), Square("behind", 0, -0.5f)], 'Y');
        var straight = new OrbitCamera(0, 0, 1);
        Assert.Equal("left", standing.PartAt(straight, 64, 64, new(0.4f, 0.5f)));
        Assert.Equal("right", standing.PartAt(straight, 64, 64, new(0.6f, 0.5f)));
        // From behind the other way round, and what hides the rest is what is seen.
        Assert.Equal("left", standing.PartAt(new(180, 0, 1), 64, 64, new(0.6f, 0.5f)));
        Assert.Equal("behind", standing.PartAt(new(180, 0, 1), 64, 64, new(0.4f, 0.5f)));
        Assert.Null(standing.PartAt(straight, 64, 64, new(0.02f, 0.02f)));
        // The floor is no part.
        Assert.Null(standing.PartAt(new(0, 30, 1), 64, 64, new(0.5f, 0.95f)));
        // A wider picture shows more at the sides, not less above.
        Assert.Equal("left", standing.PartAt(straight, 128, 64, new(0.45f, 0.5f)));
    }
}
