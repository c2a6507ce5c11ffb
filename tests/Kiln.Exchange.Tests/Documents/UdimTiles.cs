using System.Numerics;
using Kiln.Dialects.Folding;
using Kiln.Exchange.Packages;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Pixels;
using Kiln.Pixels.Writing;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// A surface in three UDIM tiles (numbering of the MaterialX specification 1.39: 1001 + u + 10 v) goes through the intake and every
/// dialect: each tile shows its own picture where it belongs,
/// whether the dialect names tiles by a token or has a document for each.
/// </summary>
public sealed class UdimTiles(Workshop shop) : IClassFixture<Workshop>
{
    private const int Size = 32;
    private static readonly int[] Numbers = [1001, 1002, 1012];

    private static float Shade(int tile, float u) =>
        tile switch
        {
            1001 => 0.2f + 0.2f * u,
            1002 => 0.5f + 0.2f * u,
            _ => 0.9f - 0.1f * u,
        };

    private static Vector2 Within(int tile, float u, float v) => new(tile == 1001 ? u : 1 + u, tile == 1012 ? 1 + v : v);

    private async Task<Look> DeliveredAsync()
    {
        var folder = Directory.CreateDirectory(Path.Combine(shop.Folder, "udim delivery")).FullName;
        foreach (var tile in Numbers)
        {
            void Save(string name, Func<float, Vector3> at)
            {
                var picture = new ImageBuffer(Size, Size, ImageBuffer.Rgb, SampleType.U8);
                for (var y = 0; y < Size; y++)
                for (var x = 0; x < Size; x++)
                for (var (c, v) = (0, at((x + 0.5f) / Size)); c < 3; c++)
                    picture[x, y, c] = v[c];
                File.WriteAllBytes(Path.Combine(folder, $"hull_{name}.{tile}.png"), PictureWriter.Png(picture));
            }
            Save("baseColor", u => new(Shade(tile, u), 0.4f, 1 - Shade(tile, u)));
            Save("glossiness", u => new(Shade(tile, u)));
        }
        var listing = DeliveryListing.Read([folder], Path.Combine(shop.Folder, "udim unpacked"));
        foreach (var file in listing.Files)
            shop.Put(File.ReadAllBytes(file.LocalPath));
        return SetWiring.Wire((await new IntakeAnalysis(shop).RunAsync(listing, "hull")).Sets.Single());
    }

    private async Task<Vector3> AtAsync(Look look, string input, Vector2 uv)
    {
        var graph = new ShadeGraph();
        var node = new LaneGraphs(look, graph).Input(input)!.Value;
        var program = await ShadeProgram.LoadAsync(graph, [node], shop.Textures, null);
        var registers = program.NewRegisters();
        program.Run(uv, 1f / Size, registers);
        return registers[program.Register(node)];
    }

    private static float Linear(float code) => code <= 0.04045f ? code / 12.92f : MathF.Pow((code + 0.055f) / 1.055f, 2.4f);

    [Fact]
    public async Task EachTileHasItsOwnPictureAndWhatLiesBesideIsMissing()
    {
        var look = await DeliveredAsync();
        Assert.Equal(Numbers, look.Slots["baseColor"].File.Tiles!.Select(t => t.Number));
        foreach (var tile in Numbers)
        foreach (var u in new[] { 0.02f, 0.5f, 0.98f })
            Assert.Equal(
                1 - Shade(tile, Math.Clamp(u, 0.5f / Size, 1 - 0.5f / Size)),
                (await AtAsync(look, "specular_roughness", Within(tile, u, 0.3f))).X,
                0.5f / 255 + 1e-4f
            );
        // As the standard image node has it: 0 where there is no picture, here inverted.
        Assert.Equal(1, (await AtAsync(look, "specular_roughness", new(0.5f, 1.5f))).X);
        Assert.Equal(Vector3.Zero, await AtAsync(look, "base_color", new(-0.5f, 0.5f)));
        Assert.Equal(LookJson.Hash(look), LookJson.Hash(LookJson.Read(LookJson.Write(look))));
    }

    [Theory]
    [InlineData("openpbr", "<UDIM>")]
    [InlineData("standard_surface", "<UDIM>")]
    [InlineData("usd_preview", "<UDIM>")]
    [InlineData("bisque", "<UDIM>")]
    [InlineData("celadon", "<UDIM>")]
    [InlineData("tenmoku", "<UVTILE>")]
    [InlineData("gltf", null)]
    [InlineData("saggar", null)]
    public async Task EveryDialectShowsEveryTile(string dialect, string? token)
    {
        var look = await DeliveredAsync();
        var profile = shop.Profiles.Find(dialect);
        Assert.Equal(token, profile.Textures.Udim);
        var compiled = await shop.CompileAsync(look, dialect);
        var documents = shop.Write(compiled.Network, dialect);
        Assert.Equal(token is null ? 3 : 1, documents.Count);
        for (var i = 0; i < Numbers.Length; i++)
        {
            var network = shop.Read(documents[token is null ? i : 0], dialect);
            Assert.All(network.Textures, t => Assert.DoesNotContain("gone", t.File.Name, StringComparison.Ordinal));
            var back = await NetworkReading.ReadAsync(profile, network);
            foreach (var u in new[] { 0.1f, 0.6f })
            {
                var uv = token is null ? new Vector2(u, 0.4f) : Within(Numbers[i], u, 0.4f);
                Assert.Equal(1 - Shade(Numbers[i], u), (await AtAsync(back, "specular_roughness", uv)).X, 0.006f);
                // Green alone would be the same in every tile; red and blue are not.
                var expected = Colour
                    .Spaces.ColourTransform.Between(Colour.Spaces.ColourSpace.Find("lin_rec709"), Colour.Spaces.ColourSpace.AcesCg)
                    .Apply(new(Linear(Shade(Numbers[i], u)), Linear(0.4f), Linear(1 - Shade(Numbers[i], u))));
                var found = await AtAsync(back, "base_color", uv);
                Assert.True((found - expected).Length() < 0.015f, $"{dialect}, tile {Numbers[i]}: {found} instead of {expected}");
            }
        }
        Assert.Equal(token is null, compiled.Report.Exact.Any(l => l.Input == "UDIM tiles"));
    }

    [Fact]
    public async Task ATileThatOneMapLacksIsNamedAsLostWhereEachTileIsADocument()
    {
        var look = await DeliveredAsync();
        var slot = look.Slots["glossiness"];
        look = look with
        {
            Slots = look.Slots.SetItem("glossiness", slot with { File = slot.File with { Tiles = [.. slot.File.Tiles!.Take(2)] } }),
        };
        var gltf = await shop.CompileAsync(look, "gltf");
        Assert.Contains("1012", Assert.Single(gltf.Report.Lost, l => l.Input == "UDIM tiles").Note, StringComparison.Ordinal);
        Assert.Equal([1001, 1002], gltf.Network.TilesToSplit().Whole);
        Assert.Equal(2, shop.Writer.Files(gltf.Network, shop.Profiles.Find("gltf")).Count);
        // Where a token stands for the tile, every map keeps the tiles it has.
        Assert.DoesNotContain((await shop.CompileAsync(look, "openpbr")).Report.Lost, l => l.Input == "UDIM tiles");
    }

    [Fact]
    public async Task APackageWithTilesComesInAgain()
    {
        var look = await DeliveredAsync();
        var compiled = await shop.CompileAsync(look, "saggar");
        using var stream = new MemoryStream();
        PackageWriter.Write(stream, look, [new("", compiled)], shop.Writer.Files(compiled.Network, shop.Profiles.Find("saggar")), shop);
        stream.Position = 0;
        var read = PackageReader.Read(stream, Directory.CreateDirectory(Path.Combine(shop.Folder, "again")).FullName);
        Assert.Equal(LookJson.Hash(look), LookJson.Hash(read.Look));
        Assert.Equal(look.Slots.Values.SelectMany(s => s.File.Contents).Distinct().Order(), read.Files.Keys.Order());
    }
}
