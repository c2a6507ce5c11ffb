using System.Text.Json;
using System.Text.RegularExpressions;
using Kiln.Colour;
using Kiln.Dialects.Folding;
using Kiln.Exchange.Documents;
using Kiln.Exchange.Packages;
using Kiln.Exchange.Tests.Conversion;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Pixels;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// Variants in written documents: KHR_materials_variants before Khronos's validator, USD variant sets before other parsers, materials of
/// their own elsewhere.
/// </summary>
public sealed class WrittenVariants : IDisposable
{
    private readonly Workshop shop = new();

    public void Dispose() => shop.Dispose();

    /// <summary>Red is the metalness, alpha the smoothness, as in the delivery.</summary>
    private MapFile Even(string name, byte metal, byte smooth)
    {
        var picture = new ImageBuffer(8, 8, ["R", "G", "B", "A"], SampleType.U8);
        for (var i = 0; i < picture.Data.Length; i += 4)
            (picture.Data[i], picture.Data[i + 3]) = (metal, smooth);
        return shop.Store(name, picture);
    }

    /// <summary>
    /// A mapped surface in three more colours: another base, another finish, and another roughness map of the same file name, placed
    /// elsewhere.
    /// </summary>
    private async Task<Look> LookAsync()
    {
        var look = await KnownSurface.DeliveredAsync(shop, new Placement(2, 2, 45));
        var roughness = look.Slots.First(s => s.Value.Role is Looks.Readings.MapRole.Roughness or Looks.Readings.MapRole.Glossiness);
        return look with
        {
            Variants =
            [
                new("Signal red") { Values = Values(("base_color", LookValue.Of(ColourValue.FromHex("#b01818")))) },
                new("Signal-red")
                {
                    Values = Values(
                        ("base_color", LookValue.Of(ColourValue.FromHex("#c02020"))),
                        ("specular_roughness", LookValue.Of(0.75f))
                    ),
                },
                new("Worn")
                {
                    Maps = new Dictionary<string, MapFile> { [roughness.Key] = Even(roughness.Value.File.Name, 20, 200) }.ToImmutable(),
                    Placement = new(3, 3),
                },
            ],
        };
    }

    private static System.Collections.Immutable.ImmutableSortedDictionary<string, LookValue> Values(
        params (string Place, LookValue Value)[] values
    ) => values.ToDictionary(v => v.Place, v => v.Value).ToImmutable();

    private async Task<string> WriteAsync(Look look, string dialect)
    {
        var all = await CompiledVariant.AllAsync(look, l => shop.CompileAsync(l, dialect), null);
        var into = Directory.CreateDirectory(Path.Combine(shop.Folder, "variants", dialect)).FullName;
        foreach (var file in shop.Writer.PackageFiles(all, shop.Profiles.Find(dialect)))
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.Combine(into, file.Path))!);
            using var to = File.Create(Path.Combine(into, file.Path));
            file.CopyTo(to, shop);
        }
        return into;
    }

    [Fact]
    public async Task GltfHasThemAsTheExtensionSays()
    {
        var folder = await WriteAsync(await LookAsync(), "gltf");
        var file = Assert.Single(Directory.GetFiles(folder, "*.glb"));
        Assert.Equal("0 errors, 0 warnings", Workshop.Run("node", Path.Combine(Workshop.Outside(), "validate-glb.mjs"), file).Trim());
        // KHR_materials_variants, by the words of its specification, read without our code.
        var bytes = File.ReadAllBytes(file);
        using var document = JsonDocument.Parse(bytes.AsMemory(20, BitConverter.ToInt32(bytes, 12)));
        var root = document.RootElement;
        var names = root.GetProperty("extensions")
            .GetProperty("KHR_materials_variants")
            .GetProperty("variants")
            .EnumerateArray()
            .Select(v => v.GetProperty("name").GetString())
            .ToList();
        Assert.Equal(["Signal red", "Signal-red", "Worn"], names);
        var primitive = root.GetProperty("meshes")[0].GetProperty("primitives")[0];
        Assert.Equal(0, primitive.GetProperty("material").GetInt32());
        var mappings = primitive
            .GetProperty("extensions")
            .GetProperty("KHR_materials_variants")
            .GetProperty("mappings")
            .EnumerateArray()
            .ToDictionary(
                m => m.GetProperty("variants")[0].GetInt32(),
                m => root.GetProperty("materials")[m.GetProperty("material").GetInt32()]
            );
        Assert.Equal([0, 1, 2], mappings.Keys.Order());
        // The red is sRGB's, linear in the file (glTF 2.0, 3.9.2): by IEC 61966-2-1.
        var red = mappings[0]
            .GetProperty("pbrMetallicRoughness")
            .GetProperty("baseColorFactor")
            .EnumerateArray()
            .Select(v => v.GetDouble())
            .ToArray();
        Assert.Equal(Math.Pow((0xb0 / 255.0 + 0.055) / 1.055, 2.4), red[0], 1e-4);
        Assert.False(mappings[0].GetProperty("pbrMetallicRoughness").TryGetProperty("baseColorTexture", out _));
        Assert.True(mappings[2].GetProperty("pbrMetallicRoughness").TryGetProperty("baseColorTexture", out _));
        // What is the same is carried once: a base colour for the look and the worn one.
        int Source(JsonElement of) =>
            root.GetProperty("textures")[
                    of.GetProperty("pbrMetallicRoughness").GetProperty("baseColorTexture").GetProperty("index").GetInt32()
                ]
                .GetProperty("source")
                .GetInt32();
        Assert.Equal(Source(root.GetProperty("materials")[0]), Source(mappings[2]));
    }

    [Fact]
    public async Task UsdHasThemAsAVariantSet()
    {
        var folder = await WriteAsync(await LookAsync(), "usd_preview");
        var layer = Assert.Single(Directory.GetFiles(folder, "*.usda"));
        var text = File.ReadAllText(layer);
        var red = Path.Combine(folder, "red.usda");
        File.WriteAllText(red, text.Replace("string look = \"as_it_is\"", "string look = \"Signal_red_2\"", StringComparison.Ordinal));
        var lines = Workshop.Run("node", Path.Combine(Workshop.Outside(), "read-usd.mjs"), layer, red).Trim().Split('\n');
        using var plain = JsonDocument.Parse(lines[0]);
        using var chosen = JsonDocument.Parse(lines[1]);
        Assert.Equal(4, plain.RootElement.GetProperty("textures").EnumerateObject().Count());
        var material = Assert.Single(chosen.RootElement.GetProperty("materials").EnumerateArray());
        Assert.Equal(0.75, material.GetProperty("roughness").GetDouble(), 1e-5);
        Assert.DoesNotContain("diffuseColorTextureId", chosen.RootElement.GetProperty("textures").EnumerateObject().Select(t => t.Name));
        // Every file that any choice names lies beside the layer, and the two maps of one name lie apart.
        var named = Regex.Matches(text, "@\\./([^@]+)@").Select(m => m.Groups[1].Value).Distinct().ToList();
        Assert.All(named, n => Assert.True(File.Exists(Path.Combine(folder, n)), n));
        // The exchanged file holds metalness and smoothness, which this dialect has as two.
        Assert.Equal(4 + 2, named.Count);
        // By our own reader it is the look as it is.
        var profile = shop.Profiles.Find("usd_preview");
        var read = await NetworkReading.ReadAsync(profile, shop.Read(layer, "usd_preview"));
        Assert.NotNull(read.Lanes["base_color"].Chain);
        Assert.Empty(read.Remarks);
    }

    [Theory]
    [InlineData("openpbr")]
    [InlineData("tenmoku")]
    [InlineData("bisque")]
    public async Task ElsewhereTheyAreMaterialsOfTheirOwn(string dialect)
    {
        var folder = await WriteAsync(await LookAsync(), dialect);
        var documents = Directory.GetFiles(folder, "*.mtlx").Where(NetworkDocuments.IsNetwork).Order().ToList();
        Assert.Equal(4, documents.Count);
        Workshop.AssertValidMaterialX(documents);
        var looks = new List<Look>();
        foreach (var document in documents)
            looks.Add(await NetworkReading.ReadAsync(shop.Profiles.Find(dialect), shop.Read(document, dialect)));
        Assert.Equal(2, looks.Count(l => l.Lanes["base_color"].Chain is null));
        Assert.Single(looks, l =>
            l.Lanes["specular_roughness"].Value is ScalarValue { Number: > 0.74f and < 0.76f }
            && l.Lanes["specular_roughness"].Chain is null
        );
    }

    [Fact]
    public async Task APackageComesInAgainWithThemAndTheirMaps()
    {
        var look = await LookAsync();
        var all = await CompiledVariant.AllAsync(look, l => shop.CompileAsync(l, "saggar"), null);
        using var stream = new MemoryStream();
        PackageWriter.Write(stream, look, all, shop.Writer.PackageFiles(all, shop.Profiles.Find("saggar")), shop);
        stream.Position = 0;
        var package = PackageReader.Read(stream, Directory.CreateTempSubdirectory("kiln-variants-").FullName);
        Assert.Equal(LookJson.Hash(look), LookJson.Hash(package.Look));
        Assert.All(look.FilesWithVariants().SelectMany(f => f.Contents), c => Assert.Contains(c, package.Files.Keys));
    }
}

internal static class SortedDictionaries
{
    public static System.Collections.Immutable.ImmutableSortedDictionary<string, T> ToImmutable<T>(this Dictionary<string, T> of) =>
        System.Collections.Immutable.ImmutableSortedDictionary.CreateRange(of);
}
