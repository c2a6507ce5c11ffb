using System.Text;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Documents;
using Kiln.Exchange.Packages;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>Texts that go deep, are long, or were changed here and there: every reader answers with a sentence, and soon.</summary>
public sealed class HostileDocuments(Workshop shop) : IClassFixture<Workshop>
{
    private const int Levels = 1_000_000;

    private static string Deep(string open, string middle, string close, int levels = Levels)
    {
        var text = new StringBuilder();
        for (var i = 0; i < levels; i++)
            text.Append(open);
        text.Append(middle);
        for (var i = 0; i < levels; i++)
            text.Append(close);
        return text.ToString();
    }

    public static TheoryData<string> DeepTexts =>
        [
            "usd brackets",
            "usd tuples",
            "usd prims",
            "usd lists",
            "usd metadata",
            "usd variants",
            "materialx elements",
            "materialx graphs",
            "materialx chain",
            "gltf json",
            "look json",
            "edit json",
            "profile json",
            "formula",
            "gltf nodes",
        ];

    /// <summary>
    /// A million levels in every reader that could call itself: an exception of ours, and soon, never the end of the process.
    /// </summary>
    [Theory]
    [MemberData(nameof(DeepTexts))]
    public void AMillionLevelsAreASentence(string kind)
    {
        Exception? thrown = null;
        Yardstick.Within(Yardstick.Soon, kind, () => thrown = Record.Exception(() => Read(kind)));
        Assert.NotNull(thrown);
        Assert.True(
            thrown is ExchangeException or LookException or ProfileException or System.Text.Json.JsonException,
            $"{kind}: {thrown}"
        );
    }

    private void Read(string kind)
    {
        switch (kind)
        {
            case "usd brackets":
                Document(".usda", "#usda 1.0\ndef Material \"m\" { float3 inputs:a = " + Deep("(", "1", ")") + " }", "usd_preview");
                break;
            case "usd tuples":
                Document(".usda", "#usda 1.0\ndef Material \"m\" { float3[] inputs:a = [" + Deep("(", "1", ")") + "] }", "usd_preview");
                break;
            case "usd prims":
                Document(".usda", "#usda 1.0\n" + Deep("def X \"a\" {", "", "}"), "usd_preview");
                break;
            case "usd lists":
                Document(".usda", "#usda 1.0\ndef Material \"m\" { float3[] inputs:a = " + Deep("[", "1", "]") + " }", "usd_preview");
                break;
            case "usd metadata":
                Document(".usda", "#usda 1.0\ndef Material \"m\" " + Deep("(", "", ")") + " { }", "usd_preview");
                break;
            case "usd variants":
                Document(
                    ".usda",
                    "#usda 1.0\ndef Material \"m\" {" + Deep("variantSet \"v\" = { \"a\" {", "", "} }", 300_000) + "}",
                    "usd_preview"
                );
                break;
            case "materialx elements":
                Document(".mtlx", "<materialx version=\"1.39\">" + Deep("<a>", "", "</a>") + "</materialx>", "openpbr");
                break;
            case "materialx graphs":
                Document(
                    ".mtlx",
                    "<materialx version=\"1.39\">" + Deep("<nodegraph name=\"g\">", "", "</nodegraph>", 300_000) + "</materialx>",
                    "openpbr"
                );
                break;
            case "materialx chain":
                var chain = new StringBuilder(
                    "<materialx version=\"1.39\"><open_pbr_surface name=\"s\" type=\"surfaceshader\"><input name=\"base_color\" "
                        + "type=\"color3\" nodename=\"n0\"/></open_pbr_surface><surfacematerial name=\"m\" type=\"material\"><input "
                        + "name=\"surfaceshader\" type=\"surfaceshader\" nodename=\"s\"/></surfacematerial>"
                );
                for (var i = 0; i < 9000; i++)
                    chain.Append(
                        $"<invert name=\"n{i}\" type=\"color3\"><input name=\"in\" type=\"color3\" nodename=\"n{i + 1}\"/></invert>"
                    );
                Document(".mtlx", chain.Append("</materialx>").ToString(), "openpbr");
                break;
            case "gltf json":
                Document(".gltf", Deep("{\"a\":", "1", "}"), "gltf");
                break;
            case "gltf nodes":
                Document(".gltf", "{\"asset\":{\"version\":\"2.0\"},\"nodes\":" + Deep("[", "", "]") + "}", "gltf");
                break;
            case "look json":
                LookJson.Read(Encoding.UTF8.GetBytes(Deep("{\"lanes\":", "{}", "}")));
                break;
            case "edit json":
                System.Text.Json.JsonSerializer.Deserialize<LookEdit>(
                    Deep("{\"edit\":\"batch\",\"words\":\"w\",\"edits\":[", "", "]}", 200_000),
                    LookJson.Options
                );
                break;
            case "profile json":
                DialectProfile.Read(Deep("{\"id\":", "1", "}"), "deep");
                break;
            case "formula":
                Expression.Parse(Deep("(", "1", ")"));
                break;
        }
    }

    private IReadOnlyList<Dialects.Networks.Network> Document(string ending, string text, string dialect)
    {
        var path = Path.Combine(shop.Folder, Guid.NewGuid().ToString("N") + ending);
        File.WriteAllText(path, text);
        try
        {
            return NetworkDocuments.Read(path, shop.Profiles.Find(dialect), _ => null, shop.Put, _ => null);
        }
        finally
        {
            File.Delete(path);
        }
    }

    private const int PerDialect = 1250;

    public static TheoryData<string> All => [.. Workshop.Dialects];

    /// <summary>
    /// Ten thousand networks with bytes changed, doubled, cut and moved: read whole, or refused with a sentence, and soon.
    /// </summary>
    [Theory]
    [MemberData(nameof(All))]
    public async Task MutatedNetworksAreReadOrRefused(string dialect)
    {
        var look = KnownLook();
        var document = shop.Write((await shop.CompileAsync(look, dialect)).Network, "mutated " + dialect)[0];
        var original = File.ReadAllBytes(document);
        var profile = shop.Profiles.Find(dialect);
        var random = new Random(20261129);
        var (read, refused) = (0, 0);
        var slowest = new SlowestInput<byte[]>();
        var path = Path.Combine(shop.Folder, "mutant" + dialect + Path.GetExtension(document));
        void ReadMutant(byte[] bytes)
        {
            File.WriteAllBytes(path, bytes);
            foreach (var network in NetworkDocuments.Read(path, profile, _ => null, shop.Put, _ => null))
                NetworkReading.ReadAsync(profile, network).GetAwaiter().GetResult();
        }
        for (var i = 0; i < PerDialect; i++)
        {
            try
            {
                slowest.Read(Mutations.Mutated(original, random), ReadMutant);
                read++;
            }
            catch (Exception e) when (e is KilnException or FileNotFoundException)
            {
                refused++;
            }
            catch (Exception e)
            {
                Assert.Fail($"{dialect}, mutation {i}: {e}");
            }
        }
        Assert.Equal(PerDialect, read + refused);
        Assert.True(refused > 0, $"{read} read, {refused} refused");
        slowest.IsWithin(Yardstick.Soon, ReadMutant);
    }

    /// <summary>Ten thousand packages: read whole, or refused with a sentence, and soon.</summary>
    [Fact]
    public async Task MutatedPackagesAreReadOrRefused()
    {
        var look = KnownLook();
        var compiled = await CompiledVariant.AllAsync(look, l => shop.CompileAsync(l, "openpbr"), null);
        using var whole = new MemoryStream();
        PackageWriter.Write(whole, look, compiled, shop.Writer.PackageFiles(compiled, shop.Profiles.Find("openpbr")), shop, null);
        var (original, random) = (whole.ToArray(), new Random(5));
        // The network and its textures are not read from a package; without them there is time for more of the rest.
        var files = Mutations
            .Files(original)
            .Where(f => f.Key is "look.json" or "checksums.txt" || f.Key.StartsWith("maps/", StringComparison.Ordinal))
            .ToDictionary();
        var root = Mutations.Folder();
        var (read, refused) = (0, 0);
        var slowest = new SlowestInput<byte[]>();
        void ReadPackage(byte[] bytes)
        {
            var folder = Directory.CreateDirectory(Path.Combine(root, "unpacked")).FullName;
            try
            {
                PackageReader.Read(new MemoryStream(bytes), folder);
            }
            finally
            {
                Directory.Delete(folder, recursive: true);
            }
        }
        for (var i = 0; i < 10_000; i++)
        {
            try
            {
                slowest.Read(Mutations.MutatedZip(files, original, random), ReadPackage);
                read++;
            }
            catch (Exception e) when (e is ExchangeException or LookException)
            {
                refused++;
            }
            catch (Exception e)
            {
                Assert.Fail($"mutation {i}: {e}");
            }
        }
        slowest.IsWithin(Yardstick.Soon, ReadPackage);
        Directory.Delete(root, recursive: true);
        Assert.True(read > 0 && refused > 5000, $"{read} read, {refused} refused");
    }

    /// <summary>A content that lies in a package twice is unpacked twice, and neither takes another's place.</summary>
    [Fact]
    public async Task ARepeatedContentPoisonsNothing()
    {
        var look = KnownLook();
        var compiled = await CompiledVariant.AllAsync(look, l => shop.CompileAsync(l, "openpbr"), null);
        using var whole = new MemoryStream();
        PackageWriter.Write(whole, look, compiled, shop.Writer.PackageFiles(compiled, shop.Profiles.Find("openpbr")), shop, null);
        using var zip = new System.IO.Compression.ZipArchive(whole, System.IO.Compression.ZipArchiveMode.Update, leaveOpen: true);
        string Text(string name)
        {
            using var reader = new StreamReader(zip.GetEntry(name)!.Open());
            return reader.ReadToEnd();
        }
        void Replace(string name, byte[] bytes)
        {
            zip.GetEntry(name)?.Delete();
            using var to = zip.CreateEntry(name).Open();
            to.Write(bytes);
        }
        byte[] twice = [1, 2, 3, 4],
            other = [5, 6, 7, 8, 9];
        string Line(byte[] bytes, string name) =>
            $"{Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes))}  {name}\n";
        var sums = Text("checksums.txt") + Line(twice, "a/one.bin") + Line(twice, "b/two.bin") + Line(other, "c/three.bin");
        Replace("a/one.bin", twice);
        Replace("b/two.bin", twice);
        Replace("c/three.bin", other);
        Replace("checksums.txt", Encoding.UTF8.GetBytes(sums));
        zip.Dispose();
        var folder = Directory.CreateDirectory(Path.Combine(shop.Folder, "repeated")).FullName;
        var package = PackageReader.Read(new MemoryStream(whole.ToArray()), folder);
        Assert.All(package.Files, f => Assert.Equal(f.Key, Pixels.ContentHash.Of(File.ReadAllBytes(f.Value))));
    }

    private Look KnownLook()
    {
        var picture = new Pixels.ImageBuffer(16, 16, Pixels.ImageBuffer.Rgb, Pixels.SampleType.U8);
        for (var i = 0; i < 256; i++)
            (picture[i % 16, i / 16, 0], picture[i % 16, i / 16, 1], picture[i % 16, i / 16, 2]) = (i / 255f, 0.5f, 1 - i / 255f);
        var file = shop.Store("tiny_basecolor.png", picture);
        var lane = new Lane(
            Chain: new(
                new SlotOrigin("colour", new Looks.Readings.Reading(Looks.Readings.ReadingKind.Colour, "srgb_texture", MapChannel.Rgb)),
                []
            )
        );
        return new Look
        {
            Name = "tiny",
            Placement = new(2, 3, 30),
            Slots = System.Collections.Immutable.ImmutableSortedDictionary<string, Slot>.Empty.Add(
                "colour",
                new(Looks.Readings.MapRole.BaseColor, file, [file])
            ),
            Lanes = System
                .Collections.Immutable.ImmutableSortedDictionary<string, Lane>.Empty.Add("base_color", lane)
                .Add("specular_roughness", new(new ScalarValue(0.4f))),
        };
    }
}
