using System.IO.Compression;
using Kiln.Dialects.Networks;
using Kiln.Exchange.Documents;
using Kiln.Exchange.Packages;
using Kiln.Exchange.Tests.Conversion;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Usd;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// A MaterialX network in a USD layer, beside the preview's: called by the definitions that the MaterialX library itself finds for the same
/// nodes,
/// the same network as in a MaterialX document, out of the way of a USD parser that knows nothing of it; and such layers of other people.
/// </summary>
public sealed class MaterialXBesideUsd(DemoLooks demo) : IClassFixture<DemoLooks>
{
    private Workshop Shop => demo.Shop;

    /// <summary>
    /// A surface that a preview cannot say: stretched reflections, fibres, a film, a height, a turned map, steps in between.
    /// </summary>
    private async Task<Look> RichAsync()
    {
        var look = await KnownSurface.DeliveredAsync(Shop, new Placement(2, 3, 30));
        var map = look.Lanes["specular_roughness"];
        static Lane Of(float v) => new(LookValue.Of(v));
        return look with
        {
            Lanes = look
                .Lanes.SetItem("specular_roughness_anisotropy", Of(0.6f))
                .SetItem("fuzz_weight", map)
                .SetItem("fuzz_color", new(new TintValue(0.4f, 0.5f, 0.6f, "lin_rec709")))
                .SetItem("thin_film_weight", Of(0.5f))
                .SetItem("coat_weight", new(Chain: map.Chain! with { Steps = [.. map.Chain.Steps, new ClampStep(0.2f, 0.7f)] }))
                .SetItem("displacement", new(Chain: map.Chain)),
            Displacement = new(true, 0.02f, 0.5f, "", 0.02f, 0.004f, 2),
        };
    }

    private Task<IReadOnlyList<CompiledVariant>> AllAsync(Look look) =>
        CompiledVariant.AllAsync(
            look,
            l => Shop.CompileAsync(l, "usd_preview"),
            l => Shop.CompileAsync(l, Shop.Profiles.Find("usd_preview").Beside!)
        );

    private string Written(IReadOnlyList<CompiledVariant> all, string folder)
    {
        var into = Directory.CreateDirectory(Path.Combine(Shop.Folder, "beside", folder)).FullName;
        foreach (var file in Shop.Writer.PackageFiles(all, Shop.Profiles.Find("usd_preview")))
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.Combine(into, file.Path))!);
            using var to = File.Create(Path.Combine(into, file.Path));
            file.CopyTo(to, Shop);
        }
        return Assert.Single(Directory.GetFiles(into, "*.usda"));
    }

    /// <summary>Shader names to the definitions that the layer calls them by.</summary>
    private static Dictionary<string, string> Called(string layer) =>
        UsdText
            .Parse(File.ReadAllText(layer))
            .All.Where(p => p.Type == "Shader" && p.Find("info:id")!.Text!.StartsWith("ND_", StringComparison.Ordinal))
            .ToDictionary(p => p.Path[(p.Path.LastIndexOf('/') + 1)..]["mtlx_".Length..], p => p.Find("info:id")!.Text!);

    [Fact]
    public async Task ShadersAreCalledAsTheLibraryCallsTheirNodes()
    {
        var (called, documents) = (new List<Dictionary<string, string>>(), new List<string>());
        foreach (var (i, look) in demo.All.Append(await RichAsync()).Index())
        {
            var all = await AllAsync(look);
            if (all[0].Beside is not { } beside)
                continue;
            called.Add(Called(Written(all, $"called {i}")));
            documents.Add(Shop.Write(beside.Network, $"called {i}")[0]);
        }
        // The nodes of a document, then that it is valid, document after document.
        var lines = new Queue<string>(Workshop.JudgedByMaterialX(["--definitions", .. documents]));
        foreach (var ours in called)
        {
            var theirs = new Dictionary<string, string>();
            for (var line = lines.Dequeue(); !line.StartsWith("valid: ", StringComparison.Ordinal); line = lines.Dequeue())
                theirs.Add(line.Split(' ')[0], line.Split(' ')[1]);
            Assert.Equal(theirs.OrderBy(n => n.Key, StringComparer.Ordinal), ours.OrderBy(n => n.Key, StringComparer.Ordinal));
        }
        var definitions = called.SelectMany(c => c.Values).ToHashSet();
        // Pictures, numbers beside colours, directions, channels and heights were among them.
        foreach (
            var expected in (string[])
                [
                    "ND_open_pbr_surface_surfaceshader",
                    "ND_image_color3",
                    "ND_place2d_vector2",
                    "ND_normalmap_float",
                    "ND_extract_vector4",
                    "ND_displacement_float",
                    "ND_transformmatrix_vector3",
                    "ND_multiply_vector3FA",
                ]
        )
            Assert.Contains(expected, definitions);
    }

    [Fact]
    public async Task TheLayerHoldsTheNetworkOfTheDocument()
    {
        var look = await RichAsync();
        var all = await AllAsync(look);
        var layer = Written(all, "same");
        Assert.Equal("openpbr", NetworkDocuments.DialectOf(layer, Shop.Profiles)!.Id);
        var (usd, document) = (Shop.Read(layer, "openpbr"), Shop.Read(Shop.Write(all[0].Beside!.Network, "same")[0], "openpbr"));
        Assert.Equal(document.WorkingSpace, usd.WorkingSpace);
        Assert.Equal(Plain(document), Plain(usd));
        Assert.Equal(document.Textures.Select(t => t.File.Content).Order(), usd.Textures.Select(t => t.File.Content).Order());
        // The packed file holds both too, and what is the preview's is read as before.
        Assert.Equal(Plain(usd), Plain(Shop.Read(Path.ChangeExtension(layer, ".usdz"), "openpbr")));
        Assert.Equal("UsdPreviewSurface", Shop.Read(layer, "usd_preview").Surface.Category);

        // A constant of the layer says its space; a document's says nothing, since the document does.
        // A file of the same name and other content than one of the preview's has another path here, so contents are compared.
        static string Plain(Network network) =>
            string.Join("\n", network.Nodes.Select(n => Line(network, n)).Order(StringComparer.Ordinal));

        static string Line(Network network, NetworkNode node) =>
            $"{Own(node.Name)} {node.Category} {node.Type}: "
            + string.Join(
                "; ",
                node.Ports.OrderBy(p => p.Name, StringComparer.Ordinal)
                    .Select(p => $"{p.Name} {p.Type} {Fed(network, p)} {p.Output} {(p.Type == "filename" ? p.Space : "")}")
            );

        static string? Fed(Network network, NetworkPort p) =>
            p.Node is { } from ? "from " + Own(from)
            : p.Type == "filename" ? network.Textures.First(t => t.Path == p.Value).File.Content.ToString()
            : p.Value;

        static string Own(string name) => name.Replace("mtlx_", "", StringComparison.Ordinal);
    }

    [Fact]
    public async Task AUsdParserSeesThePreviewWithAndWithoutVariants()
    {
        var look = await RichAsync();
        var diffuse = new Variant("matt")
        {
            Values = System.Collections.Immutable.ImmutableSortedDictionary<string, LookValue>.Empty.Add(
                "specular_roughness_anisotropy",
                LookValue.Of(0.1f)
            ),
        };
        foreach (var variants in new Variant[][] { [], [diffuse] })
        {
            var layer = Written(await AllAsync(look with { Variants = [.. variants] }), $"parsed {variants.Length}");
            Assert.Equal(1 + variants.Length, Surfaces(layer).Count);
            using var read = System.Text.Json.JsonDocument.Parse(
                Workshop.Run("node", Path.Combine(Workshop.Outside(), "read-usd.mjs"), layer)
            );
            var material = Assert.Single(read.RootElement.GetProperty("materials").EnumerateArray());
            // A coat with an index of its own lies over it, so the reflection of the base is a colour.
            Assert.True(material.GetProperty("useSpecularWorkflow").GetBoolean());
            Assert.Contains("diffuseColorTextureId", read.RootElement.GetProperty("textures").EnumerateObject().Select(t => t.Name));
        }

        static List<string> Surfaces(string layer) =>
            [.. File.ReadLines(layer).Where(l => l.Contains("\"ND_open_pbr_surface_surfaceshader\"", StringComparison.Ordinal))];
    }

    [Fact]
    public async Task WhatAPreviewSaysWholeHasNoOtherBeside()
    {
        var plain = new Look
        {
            Name = "plain",
            Lanes = System.Collections.Immutable.ImmutableSortedDictionary<string, Lane>.Empty.Add(
                "specular_roughness",
                new(LookValue.Of(0.4f))
            ),
        };
        var all = await AllAsync(plain);
        Assert.True(
            all[0].Beside is null,
            string.Join("; ", all[0].Compiled.Report.Approximated.Concat(all[0].Compiled.Report.Lost).Select(l => $"{l.Input}: {l.Note}"))
        );
        Assert.DoesNotContain("mtlx", File.ReadAllText(Written(all, "plain")), StringComparison.Ordinal);
    }

    [Fact]
    public async Task APackageTellsOfBothAndComesInAsItsLook()
    {
        var look = await RichAsync();
        var all = await AllAsync(look);
        using var stream = new MemoryStream();
        PackageWriter.Write(stream, look, all, Shop.Writer.PackageFiles(all, Shop.Profiles.Find("usd_preview")), Shop);
        stream.Position = 0;
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true))
        {
            using var notes = new StreamReader(zip.GetEntry("notes.txt")!.Open());
            Assert.Contains("as openpbr in the same layer", notes.ReadToEnd(), StringComparison.Ordinal);
        }
        stream.Position = 0;
        Assert.Equal(
            LookJson.Hash(look),
            LookJson.Hash(PackageReader.Read(stream, Directory.CreateTempSubdirectory("kiln-beside-").FullName).Look)
        );
    }

    [Fact]
    public async Task ALayerWithoutPlainColoursComesInWithNothingItDoesNotSay()
    {
        var look = await KnownSurface.DeliveredAsync(Shop, Placement.Identity);
        look = look with { Lanes = look.Lanes.SetItem("specular_roughness_anisotropy", new(LookValue.Of(0.3f))) };
        var back = await Dialects.Folding.NetworkReading.ReadAsync(
            Shop.Profiles.Find("openpbr"),
            Shop.Read(Written(await AllAsync(look), "no colours"), "openpbr")
        );
        Assert.Equal(look.Lanes.Keys.Order(), back.Lanes.Keys.Order());
        Assert.Empty(back.Remarks);
    }

    private Network Foreign(string body, string dialect = "openpbr")
    {
        var path = Path.Combine(Shop.Folder, $"foreign_{Guid.NewGuid():N}.usda");
        File.WriteAllText(path, "#usda 1.0\n" + body);
        Assert.Equal(dialect, NetworkDocuments.DialectOf(path, Shop.Profiles)!.Id);
        return Shop.Read(path, dialect);
    }

    /// <summary>
    /// As other programs write it: the graph in a node graph with a face of its own, the value on the material, the surface over the plain
    /// output.
    /// </summary>
    [Fact]
    public async Task GraphsAndFacesOfOtherLayersAreFollowed()
    {
        var network = Foreign(
            """
            def Material "Glaze"
            {
                float inputs:shine = 0.25
                token outputs:surface.connect = </Glaze/Top.outputs:surface>
                def Shader "Top"
                {
                    uniform token info:id = "ND_standard_surface_surfaceshader"
                    color3f inputs:base_color.connect = </Glaze/Graph.outputs:tint>
                    float inputs:specular_roughness.connect = </Glaze.inputs:shine>
                    token outputs:surface
                }
                def NodeGraph "Graph"
                {
                    color3f inputs:first = (0.5, 0.25, 0.125) ( colorSpace = "lin_rec709" )
                    color3f outputs:tint.connect = </Glaze/Graph/Half.outputs:out>
                    def Shader "Half"
                    {
                        uniform token info:id = "ND_multiply_color3FA"
                        color3f inputs:in1.connect = </Glaze/Graph.inputs:first>
                        float inputs:in2 = 0.5
                        color3f outputs:out
                    }
                }
            }
            """,
            "standard_surface"
        );
        Assert.Equal(("lin_rec709", "0.25"), (network.WorkingSpace, network.Surface.Port("specular_roughness")!.Value));
        var look = await Dialects.Folding.NetworkReading.ReadAsync(Shop.Profiles.Find("standard_surface"), network);
        var colour = Assert.IsType<TintValue>(look.Lanes["base_color"].Value);
        // Half of (0.5, 0.25, 0.125), in Rec.709, or restated in the space that it was folded in.
        var told = Kiln
            .Colour.Spaces.ColourTransform.Between(
                Kiln.Colour.Spaces.ColourSpace.Find(colour.Space),
                Kiln.Colour.Spaces.ColourSpace.LinRec709
            )
            .Apply(new(colour.R, colour.G, colour.B));
        Assert.True(System.Numerics.Vector3.Distance(told, new(0.25f, 0.125f, 0.0625f)) < 1e-5f, told.ToString());
    }

    [Theory]
    [InlineData("<M/A.inputs:a>", "which is not in the layer")]
    [InlineData("</M.inputs:round>", "leads back to itself")]
    [InlineData("</M/Nothing.outputs:out>", "which is not in the layer")]
    public void BrokenLayersGetASentence(string connection, string expected)
    {
        var broken = Assert.Throws<ExchangeException>(() =>
            Foreign(
                $$"""
                def Material "M"
                {
                    float inputs:round.connect = </M.inputs:round>
                    token outputs:mtlx:surface.connect = </M/Top.outputs:out>
                    def Shader "Top"
                    {
                        uniform token info:id = "ND_open_pbr_surface_surfaceshader"
                        float inputs:specular_roughness.connect = {{connection}}
                        token outputs:out
                    }
                }
                """
            )
        );
        Assert.Contains(expected, broken.Message, StringComparison.Ordinal);
    }
}
