using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Proof.Geometry.Models;
using Kiln.Proof.Lights;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>
/// Models in the form's place: parts of several looks against the same shape with one, normals that a file lacks against those of a sphere,
/// and bodies whose size does not change what light loses in them.
/// </summary>
public class ModelsInProofs
{
    private static PartTriangles Part(string name, Mesh mesh, bool withNormals = true) =>
        new(name, mesh.Positions, mesh.Indices, withNormals ? (mesh.Normals, mesh.Indices) : null, (mesh.Uvs, mesh.Indices));

    private static float[] Picture(ProofScene scene, OrbitCamera camera, int samples = 4, int side = 24)
    {
        var tracer = new PathTracer(scene, side, side, camera);
        tracer.Accumulate(samples);
        return tracer.Picture().Samples<float>().ToArray();
    }

    [Fact]
    public async Task ALookOnAPartIsTheSamePictureAsTheLookOnTheForm()
    {
        var (look, other) = (
            await Plain.MaterialAsync("openpbr", ("base_color", Plain.Tint(0.7f, 0.2f, 0.1f)), ("specular_roughness", LookValue.Of(0.2f))),
            await Plain.MattAsync(0.2f)
        );
        var vessel = Forms.Named("vessel");
        var light = LightRoom.Named("softbox", look.Working);
        var alone = Picture(new ProofScene(vessel, look, light), OrbitCamera.For("vessel"));
        var bound = Picture(new ProofScene(vessel, other, light, parts: new(Looks: All(vessel, look))), OrbitCamera.For("vessel"));
        Assert.Equal(alone, bound);
        Assert.NotEqual(alone, Picture(new ProofScene(vessel, other, light), OrbitCamera.For("vessel")));

        static Dictionary<string, ProofMaterial> All(Mesh mesh, ProofMaterial look) => mesh.Parts.ToDictionary(p => p.Name, _ => look);
    }

    /// <summary>Squares that glow, each in the colour of its own look: what the camera sees of each is that colour.</summary>
    [Fact]
    public async Task EveryPartHasItsOwnLook()
    {
        static PartTriangles Square(string name, float left) =>
            new(name, [new(left, 0, 0), new(left + 1, 0, 0), new(left + 1, 1, 0), new(left, 1, 0)], [0, 1, 2, 0, 2, 3], null, null);
        var mesh = PartsAsMesh.Of([Square("left", -1), Square("right", 0)]);
        Task<ProofMaterial> Glows(float r, float g, float b) =>
            Plain.MaterialAsync(
                "openpbr",
                ("base_weight", LookValue.Of(0f)),
                ("specular_weight", LookValue.Of(0f)),
                ("emission_luminance", LookValue.Of(1f)),
                ("emission_color", Plain.Tint(r, g, b))
            );
        var (red, green) = (await Glows(1, 0.25f, 0), await Glows(0, 0.5f, 1));
        var scene = new ProofScene(
            mesh,
            await Plain.MattAsync(0.18f),
            EnvironmentLight.Even(Vector3.Zero),
            withFloor: false,
            parts: new(Looks: new Dictionary<string, ProofMaterial> { ["left"] = red, ["right"] = green })
        );
        var tracer = new PathTracer(scene, 32, 32, new(0, 0, 1));
        tracer.Accumulate(2);
        var picture = tracer.Picture();
        Assert.Equal([1f, 0.25f, 0f], Enumerable.Range(0, 3).Select(c => picture[12, 16, c]), (a, b) => MathF.Abs(a - b) < 2e-3f);
        Assert.Equal([0f, 0.5f, 1f], Enumerable.Range(0, 3).Select(c => picture[20, 16, c]), (a, b) => MathF.Abs(a - b) < 2e-3f);
    }

    /// <summary>A part that is half there lets half of the light through that another part sends; the other part stays whole.</summary>
    [Fact]
    public async Task AVeilBeforeAPartLetsItsShareThrough()
    {
        static PartTriangles Square(string name, float z) =>
            new(name, [new(-1, -1, z), new(1, -1, z), new(1, 1, z), new(-1, 1, z)], [0, 1, 2, 0, 2, 3], null, null);
        var mesh = PartsAsMesh.Of([Square("veil", 0.5f), Square("lamp", 0)]);
        var lamp = await Plain.MaterialAsync(
            "openpbr",
            ("base_weight", LookValue.Of(0f)),
            ("specular_weight", LookValue.Of(0f)),
            ("emission_luminance", LookValue.Of(1f)),
            ("emission_color", Plain.White)
        );
        var veil = await Plain.MaterialAsync(
            "openpbr",
            ("base_weight", LookValue.Of(0f)),
            ("specular_weight", LookValue.Of(0f)),
            ("geometry_opacity", LookValue.Of(0.3f))
        );
        var scene = new ProofScene(
            mesh,
            lamp,
            EnvironmentLight.Even(Vector3.Zero),
            withFloor: false,
            parts: new(Looks: new Dictionary<string, ProofMaterial> { ["veil"] = veil })
        );
        Assert.False(scene.IsOpaque);
        var seen = Picture(scene, new(0, 0, 8), samples: 256, side: 12).Average();
        Assert.Equal(0.7, seen, 0.015);
    }

    /// <summary>Without normals in the file a fine sphere is as smooth as one, and a box has its edges.</summary>
    [Fact]
    public void WhatHasNoNormalsIsSmoothWhereItIsRound()
    {
        var sphere = Forms.Sphere();
        var centre = (sphere.Positions.Aggregate(Vector3.Min) + sphere.Positions.Aggregate(Vector3.Max)) / 2;
        var made = PartsAsMesh.Of([Part("ball", sphere, withNormals: false)]);
        var off = made.Positions.Zip(made.Normals, (p, n) => MathF.Acos(Math.Min(1, Vector3.Dot(n, Vector3.Normalize(p - centre)))));
        Assert.InRange(off.Max() * 180 / MathF.PI, 0, 2.5f);

        Vector3[] corners = [.. Enumerable.Range(0, 8).Select(i => new Vector3(i & 1, i >> 1 & 1, i >> 2))];
        int[] box =
        [
            .. new[] { (0, 2, 3, 1), (4, 5, 7, 6), (0, 1, 5, 4), (2, 6, 7, 3), (0, 4, 6, 2), (1, 3, 7, 5) }.SelectMany(f =>
                new[] { f.Item1, f.Item2, f.Item3, f.Item1, f.Item3, f.Item4 }
            ),
        ];
        var edged = PartsAsMesh.Of([new("box", corners, box, null, null)]);
        Assert.Equal(24, edged.Positions.Length);
        Assert.All(edged.Normals, n => Assert.Equal(1, MathF.Abs(n.X) + MathF.Abs(n.Y) + MathF.Abs(n.Z), 1e-5f));
        // Outwards, as the faces are wound.
        Assert.All(edged.Positions.Zip(edged.Normals), v => Assert.True(Vector3.Dot(v.Second, v.First - new Vector3(0.5f)) > 0));
    }

    [Fact]
    public void WhatIsWoundAgainstItsNormalsIsTurnedAndWhatHasNoAreaIsLeftOut()
    {
        Vector3[] places = [new(0, 0, 0), new(1, 0, 0), new(0, 1, 0), new(2, 0, 0)];
        var up = (new[] { Vector3.UnitZ, new(float.NaN, 0, 0) }, new[] { 0, 0, 0, 0, 0, 0, 0, 1, 0 });
        var made = PartsAsMesh.Of([new("x", places, [0, 2, 1, 0, 1, 3, 0, 1, 2], up, null)]);
        Assert.Equal(2, made.Triangles);
        for (var t = 0; t < 2; t++)
        {
            var (a, b, c) = (
                made.Positions[made.Indices[3 * t]],
                made.Positions[made.Indices[3 * t + 1]],
                made.Positions[made.Indices[3 * t + 2]]
            );
            Assert.True(Vector3.Cross(b - a, c - a).Z > 0);
        }
        Assert.All(made.Normals, n => Assert.Equal(Vector3.UnitZ, n));
        Assert.Throws<ArgumentException>(() => PartsAsMesh.Of([new("line", places, [0, 1, 3], null, null)]));
    }

    [Theory]
    [InlineData('Y', 1f)]
    [InlineData('Z', 180f)]
    [InlineData('X', 0.01f)]
    public void AModelStandsUprightOnTheFloorAsLargeAsAForm(char up, float size)
    {
        // A pin of 1 by 2 by 1, its tip above.
        var axes = up switch
        {
            'Z' => (Vector3.UnitX, Vector3.UnitZ, -Vector3.UnitY),
            'X' => (-Vector3.UnitY, Vector3.UnitX, Vector3.UnitZ),
            _ => (Vector3.UnitX, Vector3.UnitY, Vector3.UnitZ),
        };
        Vector3 At(float x, float y, float z) => (axes.Item1 * x + axes.Item2 * y + axes.Item3 * z) * size + new Vector3(7);
        var model = StandingModel.Of(
            [new("pin", [At(-1, 0, -1), At(1, 0, -1), At(0, 0, 1), At(0, 2, 0)], [0, 1, 2, 0, 3, 1, 1, 3, 2, 2, 3, 0], null, null)],
            up
        );
        var (min, max) = (model.Mesh.Positions.Aggregate(Vector3.Min), model.Mesh.Positions.Aggregate(Vector3.Max));
        Assert.Equal(0, min.Y, 1e-5f);
        Assert.Equal(0.6f, (max - min).Length() / 2, 1e-4f);
        Assert.Equal(0.6f / (MathF.Sqrt(12) / 2 * size), model.UnitsPerMetre, 1e-3f / size);
        // The tip is above the middle.
        var tip = model.Mesh.Positions.MaxBy(p => p.Y);
        Assert.Equal(0, tip.X, 2e-4f);
        Assert.True(Vector3.Cross(max - min, Vector3.UnitY).Length() > 0);
        Assert.Throws<ArgumentException>(() => StandingModel.Of([new("dot", [default], [0, 0, 0], null, null)], 'Y'));
    }

    /// <summary>Beer and Lambert: a body ten times as large, told to be of the same metres, has the same colour.</summary>
    [Fact]
    public async Task TheSizeOnStageDoesNotChangeWhatLightLosesInABody()
    {
        var glass = await Plain.MaterialAsync(
            "openpbr",
            ("transmission_weight", LookValue.Of(1f)),
            ("transmission_color", Plain.Tint(0.9f, 0.4f, 0.1f)),
            ("transmission_depth", LookValue.Of(0.3f)),
            ("specular_roughness", LookValue.Of(0f))
        );
        var light = EnvironmentLight.Even(Vector3.One);
        var sphere = Forms.Sphere();
        float[] Mean(float larger, float unitsPerMetre)
        {
            var part = Part("ball", sphere) with { Positions = [.. sphere.Positions.Select(p => p * larger)] };
            var seen = Picture(
                new ProofScene(PartsAsMesh.Of([part]), glass, light, withFloor: false, parts: new(UnitsPerMetre: unitsPerMetre)),
                new(0, 0, 3),
                samples: 64
            );
            return [.. Enumerable.Range(0, 3).Select(c => seen.Where((_, i) => i % 3 == c).Average())];
        }
        var (own, same, wrong) = (Mean(1, 1), Mean(10, 10), Mean(10, 1));
        Assert.Equal(own, same, (a, b) => MathF.Abs(a - b) < 0.01f);
        Assert.True(wrong[0] < 0.8f * own[0], $"{wrong[0]} beside {own[0]}");
    }

    [Fact]
    public async Task TooManyLooksAreRefused()
    {
        var mesh = PartsAsMesh.Of([
            .. Enumerable
                .Range(0, ProofScene.MostLooks + 1)
                .Select(i => new PartTriangles($"p{i}", [new(i, 0, 0), new(i + 1, 0, 0), new(i, 1, 0)], [0, 1, 2], null, null)),
        ]);
        var plain = await Plain.MattAsync(0.5f);
        var looks = mesh.Parts.ToDictionary(p => p.Name, _ => plain.InItsTiles());
        var refused = Assert.Throws<ArgumentException>(() =>
            new ProofScene(mesh, plain, EnvironmentLight.Even(Vector3.One), parts: new(Looks: looks))
        );
        Assert.Contains("room for 200 looks", refused.Message);
    }
}
