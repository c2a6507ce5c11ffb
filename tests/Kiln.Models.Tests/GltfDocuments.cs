using System.Numerics;
using CsCheck;
using Kiln.Looks.Readings;
using Kiln.Models.Measures;

namespace Kiln.Models.Tests;

/// <summary>What glTF files say: nodes and their places, UVs that count downwards, shared materials; and broken ones.</summary>
public sealed class GltfDocuments : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-models-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private Model Read(string json)
    {
        var path = Path.Combine(folder, "thing.gltf");
        File.WriteAllText(path, json);
        return AsRead.Of(path);
    }

    /// <summary>A triangle (0,0,0), (1,0,0), (0,1,0) with UVs (0,0), (1,0), (0,1) as the file counts them, downwards.</summary>
    private static string Document(string rest)
    {
        float[] numbers = [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 1];
        var bytes = Convert.ToBase64String(numbers.SelectMany(BitConverter.GetBytes).ToArray());
        return $$"""
            { "asset": { "version": "2.0" },
              "buffers": [ { "byteLength": 60, "uri": "data:application/octet-stream;base64,{{bytes}}" } ],
              "bufferViews": [ { "buffer": 0, "byteLength": 36 }, { "buffer": 0, "byteOffset": 36, "byteLength": 24 } ],
              "accessors": [
                { "bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3" },
                { "bufferView": 1, "componentType": 5126, "count": 3, "type": "VEC2" } ],
              {{rest}} }
            """;
    }

    private const string Triangle = """{ "attributes": { "POSITION": 0, "TEXCOORD_0": 1 }""";

    [Fact]
    public void AnInstanceIsAPartOfItsOwnAtItsPlace()
    {
        var model = Read(
            Document(
                $$"""
                "nodes": [
                  { "name": "radio", "children": [1, 2, 3], "scale": [2, 2, 2] },
                  { "name": "knob", "mesh": 0, "translation": [1, 0, 0] },
                  { "name": "knob", "mesh": 0, "rotation": [0, 0, 0.70710678, 0.70710678] },
                  { "children": [4] },
                  { "name": "a/b", "mesh": 1 } ],
                "scenes": [ { "nodes": [0] } ],
                "materials": [ { "name": "brass" }, {} ],
                "meshes": [
                  { "primitives": [ {{Triangle}}, "material": 0 } ] },
                  { "primitives": [ {{Triangle}}, "material": 0 }, {{Triangle}}, "material": 1 }, {{Triangle}}, "material": 0 } ] } ]
                """
            )
        );
        Assert.Equal(["/radio/knob", "/radio/knob_2", "/radio/a_b/brass", "/radio/a_b/material 2"], model.Parts.Select(p => p.Path));
        Assert.Equal([1, 1, 2, 1], model.Parts.Select(p => p.Triangles));
        Assert.Equal(["brass", "brass", "brass", null], model.Parts.Select(p => p.Material));
        // Twice as large: four times the area.
        Assert.All(model.Parts.Take(2), p => Assert.Equal(2, PartMeasures.Area(p), 1e-4));
        Assert.Equal(new Vector3(2, 0, 0), PartMeasures.Bounds([model.Parts[0]]).Min, (a, b) => Vector3.Distance(a, b) < 1e-5);
        Assert.Equal(new Vector3(-2, 0, 0), PartMeasures.Bounds([model.Parts[1]]).Min, (a, b) => Vector3.Distance(a, b) < 1e-5);
        var set = model.Parts[0].UvSets.Single();
        Assert.Equal("TEXCOORD_0", set.Name);
        Assert.Equal([new(0, 1), new(1, 1), new(0, 0)], set.Places);
        // Turned, the triangle's UVs wind the other way.
        Assert.Equal(1, UvMeasures.Of(model.Parts[0], set).Flipped);
    }

    [Fact]
    public void MaterialsNameTheirPicturesByRole()
    {
        File.WriteAllText(Path.Combine(folder, "brass colour.png"), "");
        var model = Read(
            Document(
                $$"""
                "nodes": [ { "mesh": 0 } ], "meshes": [ { "primitives": [ {{Triangle}}, "material": 0 } ] } ],
                "images": [ { "uri": "brass%20colour.png" }, { "name": "mr", "bufferView": 0 }, { "uri": "../out.png" } ],
                "textures": [ { "source": 0 }, { "source": 1 }, { "source": 2 } ],
                "materials": [ { "name": "brass", "alphaMode": "BLEND", "emissiveFactor": [1, 0.5, 0],
                  "normalTexture": { "index": 2 },
                  "pbrMetallicRoughness": { "baseColorFactor": [0.5, 0.25, 0.125, 0.75], "roughnessFactor": 0.5,
                    "baseColorTexture": { "index": 0 }, "metallicRoughnessTexture": { "index": 1 } },
                  "extensions": { "KHR_materials_emissive_strength": { "emissiveStrength": 4 } } } ]
                """
            )
        );
        var brass = model.Materials.Single();
        Assert.Equal(
            [
                (MapRole.BaseColor, "brass%20colour.png", "brass colour.png", null),
                (MapRole.Roughness, "mr", null, MapChannel.G),
                (MapRole.Metalness, "mr", null, MapChannel.B),
                (MapRole.Normal, "../out.png", (string?)null, (MapChannel?)null),
            ],
            brass.Textures.Select(t => (t.Role, t.Written, t.Found, t.Channel))
        );
        // The bytes that the file calls a picture.
        Assert.Equal([0, 36, 36, 0], brass.Textures.Select(t => t.Within?.Length ?? 0));
        Assert.True(brass.HasOpacityInBaseColour);
        Assert.Equal(0, model.Parts.Single().MaterialAt);
        Assert.Equal([0.5f, 0.25f, 0.125f], brass.Values["base_color"]);
        Assert.Equal([0.75f], brass.Values["geometry_opacity"]);
        Assert.Equal([1f], brass.Values["base_metalness"]);
        Assert.Equal([4f, 2f, 0f], brass.Values["emission_color"]);
    }

    [Theory]
    [InlineData("", "no glTF 2.0|broken")]
    [InlineData("{}", "no glTF 2.0")]
    [InlineData("""{ "asset": { "version": "2.0" } }""", "no meshes")]
    [InlineData("[1, 2", "broken")]
    public void WhatIsNoModelIsRefusedWithASentence(string json, string sentences)
    {
        var said = Assert.Throws<ModelException>(() => Read(json)).Message;
        Assert.Contains(sentences.Split('|'), said.Contains);
    }

    [Fact]
    public void NodesInACircleAreReadOnce()
    {
        var model = Read(
            Document(
                $$"""
                "nodes": [ { "name": "a", "mesh": 0, "children": [1] }, { "name": "b", "children": [0, 99] } ],
                "scenes": [ { "nodes": [0] } ],
                "meshes": [ { "primitives": [ {{Triangle}} } ] } ]
                """
            )
        );
        Assert.Equal(["/a"], model.Parts.Select(p => p.Path));
        Assert.Equal(2, model.Remarks.Count);
    }

    /// <summary>A real file with any of its bytes changed, or cut off anywhere: a model, or a sentence.</summary>
    [Fact]
    public void ADamagedFileIsReadOrRefused()
    {
        var whole = File.ReadAllBytes("/usr/share/assimp/models/glTF2/BoxTextured-glTF-Binary/BoxTextured.glb");
        var path = Path.Combine(folder, "damaged.glb");
        Gen.Select(Gen.Int[0, 2400], Gen.Byte, Gen.Int[0, 2400], Gen.Byte, Gen.Int[20, whole.Length])
            .Sample(
                (at, value, at2, value2, length) =>
                {
                    var bytes = whole[..length];
                    bytes[Math.Min(at, length - 1)] = value;
                    bytes[Math.Min(at2, length - 1)] = value2;
                    File.WriteAllBytes(path, bytes);
                    try
                    {
                        foreach (var part in AsRead.Of(path).Parts)
                        {
                            Assert.All(part.Corners, c => Assert.InRange(c, 0, part.Positions.Length - 1));
                            foreach (var set in part.UvSets)
                                UvMeasures.Of(part, set);
                        }
                    }
                    catch (ModelException) { }
                },
                iter: 3000,
                threads: 1
            );
    }
}
