using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

public class RenderingTests
{
    [Theory]
    [InlineData("openpbr", 0.3f, 1f)]
    [InlineData("openpbr", 0.8f, 1f)]
    [InlineData("bisque", 0.6f, 1f)]
    [InlineData("openpbr", 0.5f, 0f)]
    public async Task AWhiteFormVanishesInTheFurnace(string dialect, float roughness, float metal)
    {
        var material = await Plain.MaterialAsync(
            dialect,
            ("base_color", Plain.White),
            ("base_metalness", LookValue.Of(metal)),
            ("specular_roughness", LookValue.Of(roughness))
        );
        var tracer = new ProofRequest("sphere", "furnace", 48, 48).Start(material);
        tracer.Accumulate(256);
        var mean = ImageStatistics.Measure(tracer.Picture())[0].Mean;
        Assert.InRange(mean, 0.99f, 1.005f);
    }

    [Fact]
    public async Task TheSameSeedGivesTheSamePictureWithAnyNumberOfThreads()
    {
        var material = await Plain.MaterialAsync("openpbr");
        ImageBuffer Render(int threads, uint seed)
        {
            var tracer = new ProofRequest("vessel", "softbox", 40, 40, Seed: seed).Start(material);
            tracer.Accumulate(4, threads: threads);
            return tracer.Picture();
        }
        Assert.Equal(Render(1, 5).Data, Render(4, 5).Data);
        Assert.NotEqual(Render(1, 5).Data, Render(1, 6).Data);
    }

    [Fact]
    public void TheHierarchyFindsWhatALoopOverAllTrianglesFinds()
    {
        var mesh = Forms.Tile();
        var triangles = Enumerable
            .Range(0, mesh.Triangles)
            .Select(t =>
                (mesh.Positions[mesh.Indices[3 * t]], mesh.Positions[mesh.Indices[3 * t + 1]], mesh.Positions[mesh.Indices[3 * t + 2]])
            )
            .ToList();
        var bvh = new Bvh(triangles);
        var random = new Random(2);
        int met = 0,
            differ = 0;
        for (var i = 0; i < 3000; i++)
        {
            var origin = new Vector3(random.NextSingle() - 0.5f, 0.5f + random.NextSingle(), random.NextSingle() - 0.5f) * 2;
            var direction = Vector3.Normalize(new Vector3(random.NextSingle() - 0.5f, 0, random.NextSingle() - 0.5f) - origin);
            var nearest = triangles.Select(t => Distance(t, origin, direction)).Min();
            var found = bvh.Intersect(origin, direction, 0, float.PositiveInfinity, out var hit);
            var agrees = found == nearest < float.PositiveInfinity && (!found || MathF.Abs(nearest - hit.Distance) < 1e-4f);
            differ += agrees ? 0 : 1;
            met += found ? 1 : 0;
        }
        Assert.True(met > 1000, $"{met} rays met the form");
        // A ray along an edge or a silhouette may be told either way by rounding.
        Assert.True(differ <= 6, $"{differ} of 3000 rays differ");
    }

    /// <summary>Plane first, then the three edges: another way than the product's.</summary>
    private static float Distance((Vector3 A, Vector3 B, Vector3 C) t, Vector3 origin, Vector3 direction)
    {
        var n = Vector3.Cross(t.B - t.A, t.C - t.A);
        var d = Vector3.Dot(n, direction);
        if (MathF.Abs(d) < 1e-12f)
            return float.PositiveInfinity;
        var distance = Vector3.Dot(n, t.A - origin) / d;
        var p = origin + direction * distance;
        bool Inside(Vector3 a, Vector3 b) => Vector3.Dot(Vector3.Cross(b - a, p - a), n) >= -1e-5f * n.LengthSquared();
        return distance > 0 && Inside(t.A, t.B) && Inside(t.B, t.C) && Inside(t.C, t.A) ? distance : float.PositiveInfinity;
    }
}
