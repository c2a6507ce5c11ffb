using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Models.Materials;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;

namespace Kiln.Models.Tests;

/// <summary>A model's own materials as looks: which picture feeds what by which channel, and what values do beside a picture.</summary>
public sealed class OwnMaterials : IPictureDecoder, IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-materials-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        Task.FromResult(DecodeWorker.InProcess(path, longest, DecodeLimits.Default));

    private static byte[] Picture(float value)
    {
        var picture = new ImageBuffer(16, 16, ImageBuffer.Rgb, SampleType.U8);
        for (var y = 0; y < 16; y++)
        for (var x = 0; x < 16; x++)
            (picture[x, y, 0], picture[x, y, 1], picture[x, y, 2]) = (value, x / 16f, y / 16f);
        return PictureWriter.Png(picture);
    }

    private async Task<(MaterialLook Look, IReadOnlyList<DeliveredFile> Files)> OneAsync(string path)
    {
        var staging = Directory.CreateDirectory(Path.Combine(folder, "staging")).FullName;
        var (looks, files) = await MaterialLooks.OfAsync(AsRead.Of(path), path, staging, this, NamingTables.With([]));
        return (Assert.Single(looks), files);
    }

    private string Write(string name, string text)
    {
        File.WriteAllText(Path.Combine(folder, name), text);
        return Path.Combine(folder, name);
    }

    [Fact]
    public async Task AMaterialOfAnObjFeedsWhatItNames()
    {
        File.WriteAllBytes(Path.Combine(folder, "a.png"), Picture(0.2f));
        File.WriteAllBytes(Path.Combine(folder, "b.png"), Picture(0.6f));
        File.WriteAllText(Path.Combine(folder, "c.png"), "no picture");
        Write("x.mtl", "newmtl brass\nKd 0.5 0.5 0.5\nPm 1\nNi 1.7\nmap_Kd a.png\nmap_Pr b.png\nnorm gone.png\nmap_d c.png\n");
        var (found, files) = await OneAsync(Write("x.obj", "mtllib x.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl brass\nf 1 2 3\n"));
        var look = found.Look;
        // The picture stands for the value beside it; a value alone is one.
        Assert.Empty(look.Lanes["base_color"].Chain!.Steps);
        Assert.Equal("srgb_texture", ((SlotOrigin)look.Lanes["base_color"].Chain!.Origin).Reading.Space.ToString());
        Assert.Equal("a.png", look.Slots["baseColor"].File.Name);
        Assert.Equal("raw", ((SlotOrigin)look.Lanes["specular_roughness"].Chain!.Origin).Reading.Space.ToString());
        Assert.Equal(new ScalarValue(1), look.Lanes["base_metalness"].Value);
        Assert.Equal(new ScalarValue(1.7f), look.Lanes["specular_ior"].Value);
        Assert.False(look.Lanes.ContainsKey("geometry_normal"));
        Assert.Contains("Material brass: the picture 'gone.png' was not found.", found.Remarks);
        Assert.Contains(found.Remarks, r => r.StartsWith("Material brass: 'c.png' cannot be read", StringComparison.Ordinal));
        Assert.Equal(["a.png", "b.png", "c.png"], files.Select(f => f.Path).Order());
    }

    /// <summary>
    /// glTF 2.0, 3.9: roughness in G, metalness in B, occlusion in R; factors multiply; normals with Y up; alpha by the mode.
    /// </summary>
    [Fact]
    public async Task AMaterialOfAGltfFeedsItsChannelsTimesItsFactors()
    {
        var within = Convert.ToBase64String(Picture(0.4f));
        File.WriteAllBytes(Path.Combine(folder, "n_down.png"), Picture(0.5f));
        float[] numbers = [0, 0, 0, 1, 0, 0, 0, 1, 0];
        var bytes = Convert.ToBase64String(numbers.SelectMany(BitConverter.GetBytes).ToArray());
        var path = Write(
            "x.gltf",
            $$"""
            { "asset": { "version": "2.0" }, "scenes": [ { "nodes": [0] } ], "nodes": [ { "mesh": 0 } ],
              "buffers": [ { "byteLength": 36, "uri": "data:application/octet-stream;base64,{{bytes}}" } ],
              "bufferViews": [ { "buffer": 0, "byteLength": 36 } ],
              "accessors": [ { "bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3" } ],
              "meshes": [ { "primitives": [ { "attributes": { "POSITION": 0 }, "material": 0 } ] } ],
              "images": [ { "uri": "data:image/png;base64,{{within}}" }, { "uri": "n_down.png" } ],
              "textures": [ { "source": 0 }, { "source": 1 } ],
              "materials": [ { "name": "paint", "alphaMode": "BLEND", "emissiveFactor": [0, 0, 0],
                "pbrMetallicRoughness": { "baseColorFactor": [0.5, 1, 1, 0.8], "baseColorTexture": { "index": 0 },
                  "roughnessFactor": 0.5, "metallicRoughnessTexture": { "index": 0 } },
                "occlusionTexture": { "index": 0 }, "normalTexture": { "index": 1 } } ] }
            """
        );
        var (found, files) = await OneAsync(path);
        var look = found.Look;
        Assert.Empty(found.Remarks);
        Reading Of(string lane) => ((SlotOrigin)look.Lanes[lane].Chain!.Origin).Reading;
        Assert.Equal(
            [MapChannel.G, MapChannel.B, MapChannel.R, MapChannel.A],
            new[] { "specular_roughness", "base_metalness", "occlusion", "geometry_opacity" }.Select(l => Of(l).Channel)
        );
        Assert.Equal(NormalY.Up, Of("geometry_normal").NormalY);
        Assert.Equal(0.5f, Assert.IsType<GainStep>(Assert.Single(look.Lanes["specular_roughness"].Chain!.Steps)).Gain);
        // 1 changes nothing, so nothing is multiplied.
        Assert.Empty(look.Lanes["base_metalness"].Chain!.Steps);
        var tint = Assert.IsType<MixStep>(Assert.Single(look.Lanes["base_color"].Chain!.Steps));
        Assert.Equal((MixMode.Multiply, new TintValue(0.5f, 1, 1, "lin_rec709")), (tint.Mode, tint.Other.Value));
        Assert.Equal(0.8f, Assert.IsType<GainStep>(Assert.Single(look.Lanes["geometry_opacity"].Chain!.Steps)).Gain);
        Assert.False(look.Lanes.ContainsKey("emission_color"));
        Assert.Equal(2, files.Count);
    }
}
