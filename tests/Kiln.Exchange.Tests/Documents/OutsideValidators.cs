using System.Globalization;
using System.IO.Compression;
using Kiln.Demo;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Tests.Conversion;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using SharpGLTF.Schema2;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// Written documents before outside judges: the MaterialX 1.39 library, the Khronos glTF validator, OpenImageIO for pixels.
/// </summary>
public sealed class OutsideValidators : IDisposable
{
    private readonly Workshop shop = new();

    public void Dispose() => shop.Dispose();

    private async Task<string> WriteAsync(string dialect, Placement placement)
    {
        var look = await KnownSurface.DeliveredAsync(shop, placement);
        var compiled = await shop.CompileAsync(look, dialect);
        return shop.Write(compiled.Network, dialect)[0];
    }

    [Theory]
    [InlineData("openpbr")]
    [InlineData("standard_surface")]
    [InlineData("bisque")]
    [InlineData("celadon")]
    [InlineData("tenmoku")]
    [InlineData("saggar")]
    public async Task MaterialXDocumentsValidate(string dialect)
    {
        var document = await WriteAsync(dialect, new Placement(2, 3, 30));
        string[] asked = dialect is "openpbr" or "standard_surface" ? ["--generate", document] : [document];
        Workshop.AssertValidMaterialX(asked);
    }

    [Fact]
    public void ShippedDefinitionsAreThoseOfTheProfiles()
    {
        foreach (var profile in shop.Profiles.All.Where(p => p.Definitions == NodeDefinitionSource.Own))
            Assert.Equal(
                File.ReadAllText(Path.Combine(shop.Profiles.Folder!, profile.Id + "_defs.mtlx")),
                System.Text.Encoding.UTF8.GetString(MaterialX.NodeDefinitions.Write(profile)!)
            );
    }

    /// <summary>The demo's radio: whole in one file, and as a layer with subsets that are bound.</summary>
    [Fact]
    public void TheDemosModelsAreWhatTheySay()
    {
        var folder = Path.Combine(shop.Folder, "demo");
        DemoDeliveries.Make(folder, 64);
        var models = Path.Combine(folder, "models");
        ZipFile.ExtractToDirectory(Path.Combine(folder, "FennFR2-product-maps.zip"), models);
        string Judged(string judge, string file) =>
            Workshop.Run("node", Path.Combine(Workshop.Outside(), judge), Path.Combine(models, file));
        Assert.Equal("0 errors, 0 warnings", Judged("validate-glb.mjs", "fr2_complete.glb").Trim());
        using var read = System.Text.Json.JsonDocument.Parse(Judged("read-usd.mjs", "fr2_subsets.usda"));
        // Body, front and four feet; the front's three subsets have materials of their own.
        Assert.Equal(6, read.RootElement.GetProperty("meshes").GetInt32());
    }

    [Fact]
    public async Task UsdLayersAreReadByAUsdParser()
    {
        // tinyusdz 0.9 reads the layer, resolves the binding and gives the preview surface with its textures.
        var output = Workshop.Run(
            "node",
            Path.Combine(Workshop.Outside(), "read-usd.mjs"),
            await WriteAsync("usd_preview", new Placement(2, 2, 45))
        );
        using var read = System.Text.Json.JsonDocument.Parse(output);
        var material = Assert.Single(read.RootElement.GetProperty("materials").EnumerateArray());
        Assert.Equal(1, read.RootElement.GetProperty("meshes").GetInt32());
        Assert.False(material.GetProperty("useSpecularWorkflow").GetBoolean());
        // Every property that the delivery drives reaches the surface through a texture that exists beside the layer.
        var textures = read.RootElement.GetProperty("textures").EnumerateObject().ToDictionary(t => t.Name, t => t.Value.GetString()!);
        Assert.Equal(["diffuseColorTextureId", "metallicTextureId", "normalTextureId", "roughnessTextureId"], textures.Keys.Order());
        Assert.All(textures.Values, t => Assert.True(File.Exists(Path.Combine(shop.Folder, "written", "usd_preview", t)), t));
    }

    [Fact]
    public async Task GlbHasNoErrorsAndNoWarnings()
    {
        var output = Workshop.Run(
            "node",
            Path.Combine(Workshop.Outside(), "validate-glb.mjs"),
            await WriteAsync("gltf", new Placement(2, 2, 45))
        );
        Assert.Equal("0 errors, 0 warnings", output.Trim());
    }

    /// <summary>Coat, fibres, light that passes and a body it passes through, all with maps where they take any.</summary>
    [Fact]
    public async Task GlbWithEveryLayerHasNoErrorsAndComesInAgain()
    {
        var look = await KnownSurface.DeliveredAsync(shop, Placement.Identity);
        var map = look.Lanes["specular_roughness"];
        Lane Of(float v) => new(LookValue.Of(v));
        look = look with
        {
            Lanes = look
                .Lanes.SetItem("coat_weight", map)
                .SetItem("coat_roughness", Of(0.2f))
                .SetItem("fuzz_weight", Of(0.5f))
                .SetItem("fuzz_roughness", Of(0.7f))
                .SetItem("fuzz_color", new(new TintValue(0.4f, 0.5f, 0.6f, "lin_rec709")))
                .SetItem("transmission_weight", Of(0.25f))
                .SetItem("transmission_depth", Of(0.03f))
                .SetItem("transmission_color", new(new TintValue(0.9f, 0.5f, 0.3f, "lin_rec709"))),
        };
        var compiled = await shop.CompileAsync(look, "gltf");
        var file = Path.Combine(shop.Folder, "layers.glb");
        File.WriteAllBytes(file, shop.Writer.Files(compiled.Network, shop.Profiles.Find("gltf"))[0].Bytes!);
        Assert.Equal("0 errors, 0 warnings", Workshop.Run("node", Path.Combine(Workshop.Outside(), "validate-glb.mjs"), file).Trim());
        var read = await Dialects.Folding.NetworkReading.ReadAsync(
            shop.Profiles.Find("gltf"),
            Gltf.GltfReader.Read(file, shop.Profiles.Find("gltf"), shop.Put)[0]
        );
        float Number(string lane) => ((ScalarValue)read.Lanes[lane].Value!).Number;
        Assert.NotNull(read.Lanes["coat_weight"].Chain);
        Assert.Equal(0.2f, Number("coat_roughness"), 1e-5f);
        Assert.Equal(0.25f, Number("transmission_weight"), 1e-5f);
        Assert.Equal(0.03f, Number("transmission_depth"), 1e-5f);
        Assert.Equal(0.7f, Number("fuzz_roughness"), 1e-4f);
        Assert.True(read.Lanes.ContainsKey("fuzz_color") && read.Lanes.ContainsKey("transmission_color"));
    }

    [Fact]
    public async Task GlbHoldsYUpNormalsAndTheRightChannels()
    {
        var model = ModelRoot.Load(await WriteAsync("gltf", Placement.Identity));
        var material = model.LogicalMaterials[0];
        float[] Pixel(string channel, int x, int y)
        {
            var file = Path.Combine(shop.Folder, channel + ".png");
            File.WriteAllBytes(file, material.FindChannel(channel)!.Value.Texture.PrimaryImage.Content.Content.ToArray());
            var text = Workshop.Run(
                "/usr/bin/python3",
                "-c",
                $"import OpenImageIO as o; b=o.ImageBuf('{file}'); print(*b.getpixel({x},{y}))"
            );
            return [.. text.Split(' ').Select(v => float.Parse(v, CultureInfo.InvariantCulture))];
        }
        // At the middle of a pixel the surface's formulas give slope, metalness and glossiness.
        foreach (var (x, y) in new[] { (20, 50), (150, 110), (225, 201) })
        {
            const float tau = MathF.PI * 2,
                a = 0.35f;
            float u = (x + 0.5f) / KnownSurface.Size,
                v = 1 - (y + 0.5f) / KnownSurface.Size;
            var q = a * MathF.Cos(tau * (u + v)) - 0.25f * MathF.Sin(tau * 2 * v);
            var p = a * MathF.Cos(tau * (u + v));
            var length = MathF.Sqrt(p * p + q * q + 1);
            Assert.Equal(0.5f - 0.5f * q / length, Pixel("Normal", x, y)[1], 0.012f);
            var packed = Pixel("MetallicRoughness", x, y);
            Assert.Equal(1 - (0.5f + 0.3f * MathF.Cos(tau * u) * MathF.Sin(tau * v)), packed[1], 0.01f);
            Assert.Equal(MathF.Sin(tau * (u + 2 * v)) > 0.3f ? 1f : 0f, packed[2], 0.01f);
        }
    }

    [Fact]
    public async Task GlbTransformIsWhatTheLibraryMakesOfIt()
    {
        // SharpGLTF's own matrix of KHR_texture_transform against the placement's formula, v turned over.
        var placement = new Placement(2, 2, 45, 0.1f, 0.2f);
        var model = ModelRoot.Load(await WriteAsync("gltf", placement));
        var matrix = model.LogicalMaterials[0].FindChannel("BaseColor")!.Value.TextureTransform.Matrix;
        foreach (var uv in new System.Numerics.Vector2[] { new(0, 0), new(1, 0), new(0.3f, 0.8f) })
        {
            var theirs = System.Numerics.Vector2.Transform(new(uv.X, 1 - uv.Y), matrix);
            var ours = placement.Apply(uv);
            Assert.Equal(ours.X, theirs.X, 0.001f);
            Assert.Equal(1 - ours.Y, theirs.Y, 0.001f);
        }
    }
}
