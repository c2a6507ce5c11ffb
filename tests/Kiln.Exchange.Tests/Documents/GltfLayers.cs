using System.Collections.Immutable;
using System.Numerics;
using Kiln.Dialects.Folding;
using Kiln.Exchange.Documents;
using Kiln.Exchange.Tests.Conversion;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Pixels;
using Kiln.Pixels.Writing;
using SharpGLTF.Memory;
using SharpGLTF.Schema2;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// Film, stretched reflections and dispersion in glTF against the formulas of KHR_materials_iridescence, _anisotropy and _dispersion, and
/// the archived glossiness materials
/// against the conversion that Khronos published with KHR_materials_pbrSpecularGlossiness (its examples/convert-between-workflows), worked
/// out here in double precision.
/// </summary>
public sealed class GltfLayers(Workshop shop) : IClassFixture<Workshop>
{
    private async Task<Look> ReadAsync(ModelRoot model)
    {
        var path = Path.Combine(shop.Folder, $"layers{Guid.NewGuid():N}.glb");
        model.SaveGLB(path);
        var profile = shop.Profiles.Find("gltf");
        return await NetworkReading.ReadAsync(
            profile,
            NetworkDocuments.Read(path, profile, _ => null, shop.Put, _ => null)[0],
            null,
            new Dialects.Baking.Bakery(shop.Textures, shop)
        );
    }

    private async Task<Vector3> AtAsync(Look look, string input, Vector2 uv)
    {
        var graph = new ShadeGraph(Colour.Spaces.WorkingSpace.Find("lin_rec709"));
        var node = new LaneGraphs(look, graph).Input(input)!.Value;
        var program = await ShadeProgram.LoadAsync(graph, [node], shop.Textures, null);
        var registers = program.NewRegisters();
        program.Run(uv, 1e-5f, registers);
        return registers[program.Register(node)];
    }

    /// <summary>solveMetallic and the two ways to a base colour, as published.</summary>
    private static (double[] Colour, double Metal) Published(double[] diffuse, double[] specular)
    {
        static double Brightness(double[] c) => Math.Sqrt(0.299 * c[0] * c[0] + 0.587 * c[1] * c[1] + 0.114 * c[2] * c[2]);
        const double dielectric = 0.04,
            epsilon = 1e-6;
        var strength = 1 - specular.Max();
        double metal = 0,
            s = Brightness(specular);
        if (s >= dielectric)
        {
            var b = Brightness(diffuse) * strength / (1 - dielectric) + s - 2 * dielectric;
            metal = Math.Clamp((-b + Math.Sqrt(Math.Max(b * b - 4 * dielectric * (dielectric - s), 0))) / (2 * dielectric), 0, 1);
        }
        return (
            [
                .. Enumerable
                    .Range(0, 3)
                    .Select(i =>
                    {
                        var fromDiffuse = diffuse[i] * (strength / (1 - dielectric) / Math.Max(1 - metal, epsilon));
                        var fromSpecular = (specular[i] - dielectric * (1 - metal)) / Math.Max(metal, epsilon);
                        return Math.Clamp(fromDiffuse + (fromSpecular - fromDiffuse) * metal * metal, 0, 1);
                    }),
            ],
            metal
        );
    }

    private static Material Glossy(ModelRoot model, double[] diffuse, double[] specular, float glossiness)
    {
        var material = model.CreateMaterial("old");
        material.InitializePBRSpecularGlossiness(false);
        var colour = material.FindChannel("Diffuse")!.Value;
        colour.Color = new((float)diffuse[0], (float)diffuse[1], (float)diffuse[2], 1);
        var channel = material.FindChannel("SpecularGlossiness")!.Value;
        channel.Parameters.First(p => p.Name == "SpecularFactor").Value = new Vector3(
            (float)specular[0],
            (float)specular[1],
            (float)specular[2]
        );
        channel.SetFactor("GlossinessFactor", glossiness);
        return material;
    }

    [Theory]
    [InlineData("0.5 0.3 0.2", "0.04 0.04 0.04")]
    [InlineData("0.02 0.01 0.03", "0.9 0.7 0.3")]
    [InlineData("0.3 0.3 0.3", "0.2 0.25 0.3")]
    [InlineData("0.8 0.8 0.8", "0.01 0.02 0.03")]
    [InlineData("0 0 0", "1 1 1")]
    public async Task ArchivedGlossinessMaterialsBecomeWhatThePublishedConversionMakes(string diffuseText, string specularText)
    {
        double[] diffuse = [.. diffuseText.Split(' ').Select(double.Parse)],
            specular = [.. specularText.Split(' ').Select(double.Parse)];
        var model = ModelRoot.CreateModel();
        Glossy(model, diffuse, specular, 0.7f);
        var look = await ReadAsync(model);
        var (colour, metal) = Published(diffuse, specular);
        var found = await AtAsync(look, "base_color", Vector2.Zero);
        Assert.Equal(colour[0], found.X, 1e-4);
        Assert.Equal(colour[1], found.Y, 1e-4);
        Assert.Equal(colour[2], found.Z, 1e-4);
        Assert.Equal(metal, (await AtAsync(look, "base_metalness", Vector2.Zero)).X, 1e-4);
        Assert.Equal(0.3, (await AtAsync(look, "specular_roughness", Vector2.Zero)).X, 1e-5);
    }

    [Fact]
    public async Task TheirMapsAreConvertedTexelByTexel()
    {
        static float Linear(float code) => code <= 0.04045f ? code / 12.92f : MathF.Pow((code + 0.055f) / 1.055f, 2.4f);
        static float[] Diffuse(int x) => [x / 20f, 0.3f, 0.5f - x / 20f];
        static float[] Specular(int x) => [0.1f + x / 10f, 0.2f + x / 12f, 0.15f, 0.2f + x / 16f];
        MemoryImage Picture(int channels, Func<int, float[]> at)
        {
            var picture = new ImageBuffer(8, 8, ImageBuffer.UsualChannels(channels), SampleType.U8);
            for (var y = 0; y < 8; y++)
            for (var x = 0; x < 8; x++)
            for (var c = 0; c < channels; c++)
                picture[x, y, c] = at(x)[c];
            return new(PictureWriter.Png(picture));
        }
        var model = ModelRoot.CreateModel();
        var material = Glossy(model, [1, 1, 1], [1, 1, 1], 1);
        foreach (var (channel, picture) in new[] { ("Diffuse", Picture(3, Diffuse)), ("SpecularGlossiness", Picture(4, Specular)) })
        {
            var image = model.CreateImage(channel);
            image.Content = picture;
            material.FindChannel(channel)!.Value.SetTexture(0, image);
        }
        var look = await ReadAsync(model);
        for (var x = 0; x < 8; x++)
        {
            double Stored(float v) => MathF.Round(v * 255) / 255;
            var (colour, metal) = Published(
                [.. Diffuse(x).Select(v => (double)Linear((float)Stored(v)))],
                [.. Specular(x).Take(3).Select(v => (double)Linear((float)Stored(v)))]
            );
            var uv = new Vector2((x + 0.5f) / 8, 0.5f);
            // Maps are held as half floats, and half a metal's colour divides by what is left of the other half.
            var found = await AtAsync(look, "base_color", uv);
            Assert.Equal(colour[0], found.X, 8e-3);
            Assert.Equal(colour[1], found.Y, 8e-3);
            Assert.Equal(colour[2], found.Z, 8e-3);
            Assert.Equal(metal, (await AtAsync(look, "base_metalness", uv)).X, 6e-3);
            Assert.Equal(1 - Stored(Specular(x)[3]), (await AtAsync(look, "specular_roughness", uv)).X, 1e-3);
        }
    }

    private static Look With(params (string Input, float Value)[] values) =>
        new() { Name = "layers", Lanes = values.ToImmutableSortedDictionary(v => v.Input, v => new Lane(LookValue.Of(v.Value))) };

    private async Task<Material> WrittenAsync(Look look) =>
        ModelRoot.Load(shop.Write((await shop.CompileAsync(look, "gltf")).Network, $"layers{Guid.NewGuid():N}")[0]).LogicalMaterials[0];

    [Theory]
    [InlineData(0.3f, 0.5f)]
    [InlineData(0.6f, 0.9f)]
    [InlineData(0.1f, 0.2f)]
    public async Task AStretchedReflectionHasTheSameTwoWidths(float roughness, float anisotropy)
    {
        var look = With(("specular_roughness", roughness), ("specular_roughness_anisotropy", anisotropy));
        var material = await WrittenAsync(look);
        // OpenPBR Surface 1.1: along = r²·√(2 / (1 + (1 − a)²)), across = (1 − a)·along.
        double along = roughness * roughness * Math.Sqrt(2 / (1 + (1 - anisotropy) * (1 - anisotropy))),
            across = (1 - anisotropy) * along;
        // KHR_materials_anisotropy: along = mix(α, 1, strength²), across = α, with α the square of the roughness.
        var r = material.FindChannel("MetallicRoughness")!.Value.GetFactor("RoughnessFactor");
        var strength = material.FindChannel("Anisotropy")!.Value.GetFactor("AnisotropyStrength");
        Assert.Equal(across, r * r, 1e-5);
        Assert.Equal(along, r * r + (1 - r * r) * strength * strength, 1e-5);
        var back = await ReadAsync(material.LogicalParent);
        Assert.Equal(roughness, (await AtAsync(back, "specular_roughness", default)).X, 1e-5f);
        Assert.Equal(anisotropy, (await AtAsync(back, "specular_roughness_anisotropy", default)).X, 1e-4f);
    }

    [Fact]
    public async Task AFilmAndADispersingBodyComeBack()
    {
        var look = With(
            ("thin_film_weight", 0.8f),
            ("thin_film_thickness", 0.35f),
            ("thin_film_ior", 1.7f),
            ("transmission_weight", 1),
            ("transmission_depth", 0.1f),
            ("transmission_dispersion_scale", 1),
            ("transmission_dispersion_abbe_number", 40)
        );
        var material = await WrittenAsync(look);
        Assert.Equal(350, material.FindChannel("IridescenceThickness")!.Value.GetFactor("Maximum"), 0.01f);
        // KHR_materials_dispersion: 20 over the Abbe number.
        Assert.Equal(0.5f, material.Dispersion, 1e-6f);
        var back = await ReadAsync(material.LogicalParent);
        foreach (var (input, value) in new[] { ("thin_film_weight", 0.8f), ("thin_film_thickness", 0.35f), ("thin_film_ior", 1.7f) })
            Assert.Equal(value, (await AtAsync(back, input, default)).X, 1e-5f);
        var number =
            (await AtAsync(back, "transmission_dispersion_abbe_number", default)).X
            / (await AtAsync(back, "transmission_dispersion_scale", default)).X;
        Assert.Equal(40, number, 1e-3f);
    }

    [Fact]
    public async Task MapsOfFilmAndStretchAreValidAndComeBack()
    {
        var look = await KnownSurface.DeliveredAsync(shop, Placement.Identity);
        var map = look.Lanes["specular_roughness"];
        look = look with
        {
            Lanes = look
                .Lanes.SetItem("thin_film_weight", map)
                .SetItem("thin_film_thickness", map)
                .SetItem("specular_roughness_anisotropy", map),
        };
        var document = shop.Write((await shop.CompileAsync(look, "gltf")).Network, "mapped layers")[0];
        Assert.Equal("0 errors, 0 warnings", Workshop.Run("node", Path.Combine(Workshop.Outside(), "validate-glb.mjs"), document).Trim());
        var back = await ReadAsync(ModelRoot.Load(document));
        // Nothing was turned, and the sheet says so in its own way.
        Assert.True(Vector3.Distance(Vector3.UnitX, await AtAsync(back, "geometry_tangent", new(0.3f, 0.6f))) < 0.1f);
        foreach (var input in new[] { "thin_film_weight", "thin_film_thickness", "specular_roughness", "specular_roughness_anisotropy" })
            for (var i = 0; i < 12; i++)
            {
                var uv = new Vector2((i * 11 % 64 + 0.5f) / 64, (i * 23 % 64 + 0.5f) / 64);
                Assert.Equal((await AtAsync(look, input, uv)).X, (await AtAsync(back, input, uv)).X, 0.02f);
            }
    }

    [Fact]
    public async Task ATurnedStretchIsReadInRadians()
    {
        var model = ModelRoot.CreateModel();
        var material = model.CreateMaterial("turned");
        material.InitializePBRMetallicRoughness("Anisotropy");
        var channel = material.FindChannel("Anisotropy")!.Value;
        channel.SetFactor("AnisotropyStrength", 0.5f);
        channel.SetFactor("AnisotropyRotation", 1);
        var look = await ReadAsync(model);
        Assert.Empty(look.Remarks);
        Assert.Equal(1 / (2 * MathF.PI), Assert.IsType<ScalarValue>(look.Lanes["geometry_tangent"].Value).Number, 1e-6f);
    }

    /// <summary>
    /// The numbers that the pictures of directions and crevices carry in glTF 2.0 (3.9.3): directions are normalize((2 v - 1) * (scale,
    /// scale, 1)), crevices 1 + strength (v - 1).
    /// They come in so, and the written document says the same again.
    /// </summary>
    [Theory]
    [InlineData(0.5f, 0.6f)]
    [InlineData(1.75f, 0.25f)]
    [InlineData(1, 1)]
    public async Task ThePicturesOwnNumbersComeInAndGoOut(float scale, float strength)
    {
        var model = ModelRoot.CreateModel();
        var material = model.CreateMaterial("worn");
        material.InitializePBRMetallicRoughness();
        Texture(material, "Normal", Tilted).SetFactor("NormalScale", scale);
        Texture(material, "Occlusion", new(0.4f)).SetFactor("OcclusionStrength", strength);
        await HoldsAsync(await ReadAsync(model));

        var profile = shop.Profiles.Find("gltf");
        var written = await shop.CompileAsync(await ReadAsync(model), "gltf");
        Assert.Empty(written.Report.Baked);
        var document = shop.Write(written.Network, FormattableString.Invariant($"numbers {scale} {strength}"))[0];
        var again = ModelRoot.Load(document).LogicalMaterials[0];
        Assert.Equal(scale, again.FindChannel("Normal")!.Value.GetFactor("NormalScale"), 1e-4f);
        Assert.Equal(strength, again.FindChannel("Occlusion")!.Value.GetFactor("OcclusionStrength"), 1e-4f);
        await HoldsAsync(await NetworkReading.ReadAsync(profile, shop.Read(document, "gltf")));

        async Task HoldsAsync(Look look)
        {
            var wanted = Vector3.Normalize((2 * Tilted - Vector3.One) * new Vector3(scale, scale, 1));
            var found = Vector3.Normalize(await AtAsync(look, "geometry_normal", new(0.3f, 0.6f)));
            // Pictures are kept in halves for sampling: 2^-11 of the value.
            Assert.True(Vector3.Distance(wanted, found) < 1e-3f, $"{found} instead of {wanted}");
            Assert.Equal(1 + strength * (0.4f - 1), (await AtAsync(look, "occlusion", new(0.3f, 0.6f))).X, 1e-3f);
        }
    }

    /// <summary>A direction in codes of 8 bits.</summary>
    private static readonly Vector3 Tilted = new Vector3(191, 153, 230) / 255;

    private static MaterialChannel Texture(Material material, string channel, Vector3 colour)
    {
        var picture = new ImageBuffer(8, 8, ImageBuffer.Rgb, SampleType.U8);
        for (var i = 0; i < 64; i++)
        for (var c = 0; c < 3; c++)
            picture[i % 8, i / 8, c] = colour[c];
        var found = material.FindChannel(channel)!.Value;
        found.SetTexture(0, material.LogicalParent.UseImage(new MemoryImage(PictureWriter.Png(picture))));
        return found;
    }
}
