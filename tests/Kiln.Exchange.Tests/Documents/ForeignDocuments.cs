using System.Globalization;
using System.Numerics;
using System.Text;
using Kiln.Dialects.Folding;
using Kiln.Exchange.Documents;
using Kiln.Exchange.Packages;
using Kiln.Exchange.Tests.Conversion;
using Kiln.Exchange.Usd;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps.Kinds;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Pixels;
using Kiln.Testing.Files;
using Kiln.Usd;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// Documents as other programs write them: node graphs with faces, placements in the standard's other order, tiled images, nodes that no
/// profile knows, a layer and its maps in one file.
/// </summary>
public sealed class ForeignDocuments(Workshop shop) : IClassFixture<Workshop>
{
    private async Task<Look> ReadAsync(string inner, string dialect = "openpbr")
    {
        var path = Path.Combine(shop.Folder, $"foreign{Guid.NewGuid():N}.mtlx");
        File.WriteAllText(path, $"<?xml version=\"1.0\"?>\n<materialx version=\"1.39\" colorspace=\"lin_rec709\">{inner}</materialx>");
        var profile = shop.Profiles.Find(dialect);
        var map = shop.Store("map.png", new ImageBuffer(8, 8, ImageBuffer.Rgb, SampleType.U8));
        return await NetworkReading.ReadAsync(
            profile,
            NetworkDocuments.Read(path, profile, name => name == "map.png" ? map : null, shop.Put, _ => null)[0]
        );
    }

    private static Placement PlacementOf(Look look, string input) =>
        look.Lanes[input].Chain!.Steps.OfType<PlaceStep>().FirstOrDefault()?.Placement ?? look.Placement;

    [Fact]
    public async Task AGraphIsOpenedWithItsFacesAndOutputs()
    {
        const string document = """
            <nodegraph name="NG">
              <input name="amount" type="float" value="0.25"/>
              <image name="img" type="float"><input name="file" type="filename" value="map.png"/></image>
              <constant name="one" type="float"><input name="value" type="float" value="0.5"/></constant>
              <multiply name="times" type="float"><input name="in1" type="float" nodename="img"/>
                <input name="in2" type="float" interfacename="amount"/></multiply>
              <dot name="on" type="float"><input name="in" type="float" nodename="times"/></dot>
              <output name="rough" type="float" nodename="on"/>
              <output name="plain" type="float" nodename="one"/>
            </nodegraph>
            <open_pbr_surface name="s" type="surfaceshader">
              <input name="specular_roughness" type="float" nodegraph="NG" output="rough"/>
              <input name="base_metalness" type="float" nodegraph="NG" output="plain"/>
            </open_pbr_surface>
            <surfacematerial name="m" type="material"><input name="surfaceshader" type="surfaceshader" nodename="s"/></surfacematerial>
            """;
        var look = await ReadAsync(document);
        Assert.Empty(look.Remarks);
        Assert.Equal(0.25f, Assert.IsType<GainStep>(Assert.Single(look.Lanes["specular_roughness"].Chain!.Steps)).Gain);
        Assert.Equal(0.5f, Assert.IsType<ScalarValue>(look.Lanes["base_metalness"].Value).Number);
    }

    [Fact]
    public async Task AnUnknownNodeBecomesARemarkWithItsSettingsAndWhatEntersItGoesOn()
    {
        const string document = """
            <image name="img" type="color3"><input name="file" type="filename" value="map.png" colorspace="srgb_texture"/></image>
            <oldpaint name="age" type="color3"><input name="in" type="color3" nodename="img"/>
              <input name="years" type="float" value="12"/></oldpaint>
            <open_pbr_surface name="s" type="surfaceshader"><input name="base_color" type="color3" nodename="age"/></open_pbr_surface>
            <surfacematerial name="m" type="material"><input name="surfaceshader" type="surfaceshader" nodename="s"/></surfacematerial>
            """;
        var look = await ReadAsync(document);
        Assert.Equal(
            "The node 'age' (oldpaint: years = 12) is not known here: what enters its 'in' goes on unchanged.",
            Assert.Single(look.Remarks)
        );
        Assert.IsType<SlotOrigin>(look.Lanes["base_color"].Chain!.Origin);
    }

    /// <summary>Against the node's own graph in the MaterialX 1.39.4 library, worked out for points.</summary>
    [Theory]
    [InlineData("2, 2", 30, "0.1, 0.3", "0.5, 0.5", 0)]
    [InlineData("2, 2", 30, "0.1, 0.3", "0.5, 0.5", 1)]
    [InlineData("0.5, 3", 0, "0.2, 0", "0.25, 0.75", 0)]
    [InlineData("0.5, 3", 90, "0.2, -0.4", "0.5, 0", 0)]
    [InlineData("0.5, 3", 40, "0.2, -0.4", "0.1, 0.2", 1)]
    [InlineData("1, 3", 30, "0.2, -0.4", "0.1, 0.2", 0)]
    [InlineData("-0.5, 2", -70, "0, 0", "0.5, 0.5", 0)]
    public async Task PlacementsOfEitherOrderAndPivotLieWhereTheLibrarySays(
        string scale,
        float rotate,
        string offset,
        string pivot,
        int order
    )
    {
        var look = await ReadAsync(
            $"""
            <texcoord name="uv" type="vector2"/><place2d name="p" type="vector2"><input name="texcoord" type="vector2" nodename="uv"/>
              <input name="pivot" type="vector2" value="{pivot}"/><input name="scale" type="vector2" value="{scale}"/>
              <input name="rotate" type="float" value="{rotate}"/><input name="offset" type="vector2" value="{offset}"/>
              <input name="operationorder" type="integer" value="{order}"/></place2d>
            <image name="img" type="float"><input name="file" type="filename" value="map.png"/>
              <input name="texcoord" type="vector2" nodename="p"/></image>
            <open_pbr_surface name="s" type="surfaceshader">
              <input name="specular_roughness" type="float" nodename="img"/></open_pbr_surface>
            <surfacematerial name="m" type="material"><input name="surfaceshader" type="surfaceshader" nodename="s"/></surfacematerial>
            """
        );
        Assert.Empty(look.Remarks);
        var placement = PlacementOf(look, "specular_roughness");
        double[] Two(string text) => [.. text.Split(',').Select(v => double.Parse(v, CultureInfo.InvariantCulture))];
        foreach (var uv in new Vector2[] { new(0.1f, 0.2f), new(0.9f, 0.4f), new(0.3f, 0.85f) })
        {
            var graph = new PublishedGraph("NG_place2d_vector2", name => name switch
                {
                    "texcoord" => [uv.X, uv.Y],
                    "pivot" => Two(pivot),
                    "scale" => Two(scale),
                    "rotate" => [rotate],
                    "offset" => Two(offset),
                    _ => [order],
                });
            var expected = graph.Output("out");
            var found = placement.Apply(uv);
            // Whole repeats make no difference to a repeating picture.
            Assert.Equal(0, Math.IEEERemainder(expected[0] - found.X, 1), 1e-4);
            Assert.Equal(0, Math.IEEERemainder(expected[1] - found.Y, 1), 1e-4);
        }
    }

    [Fact]
    public async Task ATiledImageLiesWhereTheLibrarySays()
    {
        var look = await ReadAsync(
            """
            <tiledimage name="img" type="float"><input name="file" type="filename" value="map.png"/>
              <input name="uvtiling" type="vector2" value="3, 2"/><input name="uvoffset" type="vector2" value="0.25, 0.5"/>
              <input name="realworldimagesize" type="vector2" value="2, 1"/></tiledimage>
            <open_pbr_surface name="s" type="surfaceshader">
              <input name="specular_roughness" type="float" nodename="img"/></open_pbr_surface>
            <surfacematerial name="m" type="material"><input name="surfaceshader" type="surfaceshader" nodename="s"/></surfacematerial>
            """
        );
        var found = PlacementOf(look, "specular_roughness").Apply(new(0.3f, 0.7f));
        // The node's own graph: (uv · tiling − offset) / image size · tile size.
        Assert.Equal(0, Math.IEEERemainder((0.3 * 3 - 0.25) / 2 - found.X, 1), 1e-5);
        Assert.Equal(0, Math.IEEERemainder(0.7 * 2 - 0.5 - found.Y, 1), 1e-5);
    }

    [Theory]
    [InlineData(
        """
            <dot name="a" type="float"><input name="in" type="float" nodename="b"/></dot>
            <dot name="b" type="float"><input name="in" type="float" nodename="a"/></dot>
            """,
        "feeds itself"
    )]
    [InlineData(
        """
            <nodegraph name="NG"><output name="o" type="float" nodename="gone"/></nodegraph>
            <dot name="a" type="float"><input name="in" type="float" nodegraph="NG" output="o"/></dot>
            """,
        "not in the document"
    )]
    public async Task CirclesAndLooseEndsAreSentences(string nodes, string sentence)
    {
        var e = await Assert.ThrowsAsync<ExchangeException>(() =>
            ReadAsync(
                nodes
                    + """
                    <open_pbr_surface name="s" type="surfaceshader">
                      <input name="specular_roughness" type="float" nodename="a"/></open_pbr_surface>
                    <surfacematerial name="m" type="material">
                      <input name="surfaceshader" type="surfaceshader" nodename="s"/></surfacematerial>
                    """
            )
        );
        Assert.Contains(sentence, e.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task ALayerAndItsMapsInOneFileAreReadOutsideAndComeInAgain()
    {
        var look = await KnownSurface.DeliveredAsync(shop, new Placement(2, 2, 45));
        var compiled = await shop.CompileAsync(look, "usd_preview");
        var files = shop.Writer.PackageFiles([new("", compiled)], shop.Profiles.Find("usd_preview"));
        var path = Path.Combine(shop.Folder, "one.usdz");
        using (var to = File.Create(path))
            files.Single(f => f.Path.EndsWith(".usdz", StringComparison.Ordinal)).CopyTo(to, shop);
        // The parser of others, and Python's own zip: everything stored, the layer first, every file's bytes at a multiple of 64.
        using var read = System.Text.Json.JsonDocument.Parse(Workshop.Run("node", Path.Combine(Workshop.Outside(), "read-usd.mjs"), path));
        Assert.Equal(4, read.RootElement.GetProperty("textures").EnumerateObject().Count());
        Assert.Equal(
            "ok\n",
            Workshop.Run(
                "/usr/bin/python3",
                "-c",
                """
                import sys, zipfile, struct
                z = zipfile.ZipFile(sys.argv[1]); raw = open(sys.argv[1], 'rb').read()
                assert z.testzip() is None
                assert z.infolist()[0].filename.endswith('.usda')
                for i in z.infolist():
                    n, x = struct.unpack('<HH', raw[i.header_offset + 26:i.header_offset + 30])
                    assert i.compress_type == 0 and (i.header_offset + 30 + n + x) % 64 == 0, i.filename
                print('ok')
                """,
                path
            )
        );
        var profile = shop.Profiles.Find("usd_preview");
        Assert.Equal(profile, NetworkDocuments.DialectOf(path, shop.Profiles));
        var network = NetworkDocuments.Read(path, profile, _ => null, shop.Put, _ => null)[0];
        Assert.Equal(compiled.Network.Textures.Select(t => t.File.Content).Order(), network.Textures.Select(t => t.File.Content).Order());
        Assert.Empty((await NetworkReading.ReadAsync(profile, network)).Remarks);
        // Beside its layer as text it is the same network once more.
        Assert.Equal(
            ["a/one.usda", "two.usdz"],
            NetworkDocuments.Among(["a/one.usdz", "a/one.usdz/layer.usda", "a/one.usda", "two.usdz", "a/map.png"]).Order()
        );
    }

    [Theory]
    [InlineData(new byte[] { 1, 2, 3 }, "no zip")]
    public void ABrokenArchiveIsASentence(byte[] bytes, string sentence) =>
        Assert.Contains(
            sentence,
            Assert.Throws<UsdException>(() => UsdzFiles.Read(new MemoryStream(bytes))).Message,
            StringComparison.Ordinal
        );

    /// <summary>The same layer in its binary form, by itself and with its maps in one file.</summary>
    [Fact]
    public async Task ABinaryLayerIsReadAsItsText()
    {
        var look = await KnownSurface.DeliveredAsync(shop, new Placement(2, 2, 45));
        var document = shop.Write((await shop.CompileAsync(look, "usd_preview")).Network, "binary").Single();
        var binary = CrateWriter.Of(UsdText.Parse(await File.ReadAllTextAsync(document)));
        var (alone, within) = (Path.ChangeExtension(document, ".usdc"), Path.ChangeExtension(document, ".usdz"));
        await File.WriteAllBytesAsync(alone, binary);
        using (var zip = System.IO.Compression.ZipFile.Open(within, System.IO.Compression.ZipArchiveMode.Create))
        {
            using (var to = zip.CreateEntry("layer.usdc").Open())
                to.Write(binary);
            var folder = Path.GetDirectoryName(document)!;
            foreach (var file in Directory.GetFiles(Path.Combine(folder, "textures")))
            {
                using var to = zip.CreateEntry(Path.GetRelativePath(folder, file)).Open();
                to.Write(await File.ReadAllBytesAsync(file));
            }
        }
        var text = shop.Read(document, "usd_preview");
        foreach (var path in (string[])[alone, within])
        {
            Assert.Equal("usd_preview", Assert.Single(NetworkDocuments.DialectsOf(path, shop.Profiles)).Id);
            var read = shop.Read(path, "usd_preview");
            Assert.Equal(
                text.Nodes.SelectMany(n => n.Ports.Select(p => $"{n.Name} {n.Category} {n.Type}: {p}")),
                read.Nodes.SelectMany(n => n.Ports.Select(p => $"{n.Name} {n.Category} {n.Type}: {p}"))
            );
            Assert.Equal(text.Textures.Select(t => (t.Path, t.File.Content)), read.Textures.Select(t => (t.Path, t.File.Content)));
        }
    }

    /// <summary>A binary layer that is cut off is said to be damaged, alone and in an archive, rather than to be for nobody.</summary>
    [Theory]
    [InlineData(".usdc")]
    [InlineData(".usdz")]
    public void ADamagedBinaryLayerIsSaidToBeDamaged(string ending)
    {
        var binary = CrateWriter.Of(UsdText.Parse("#usda 1.0\ndef Material \"m\" { token outputs:surface }\n")).AsSpan(0, 90).ToArray();
        var path = Path.Combine(shop.Folder, "cut" + ending);
        if (ending == ".usdc")
            File.WriteAllBytes(path, binary);
        else
        {
            using var zip = System.IO.Compression.ZipFile.Open(path, System.IO.Compression.ZipArchiveMode.Create);
            using var to = zip.CreateEntry("layer.usdc").Open();
            to.Write(binary);
        }
        var said = Assert.Throws<ExchangeException>(() => NetworkDocuments.DialectsOf(path, shop.Profiles));
        Assert.StartsWith($"'cut{ending}': The binary layer", said.Message, StringComparison.Ordinal);
    }
}
