using System.Numerics;
using System.Text.Json;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Networks;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.Models;
using Kiln.Exchange.Packages;
using Kiln.Exchange.Tests.Conversion;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Overrides;
using Kiln.Models;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// A model with looks on its parts, written and read again by us and by outside judges: the Khronos glTF validator, tinyusdz, the MaterialX
/// library.
/// </summary>
public sealed partial class DressedModels(Workshop shop) : IClassFixture<Workshop>
{
    private const int Count = 8;

    /// <summary>One metre wide, facing upwards, all of the picture on it.</summary>
    private static CarrierForm Square(string name) =>
        new(
            name,
            [new(0, 0, 0), new(1, 0, 0), new(1, 0, -1), new(0, 0, -1)],
            [.. Enumerable.Repeat(Vector3.UnitY, 4)],
            [.. Enumerable.Repeat(new Vector4(1, 0, 0, 1), 4)],
            [new(0, 0), new(1, 0), new(1, 1), new(0, 1)],
            [0, 1, 2, 0, 2, 3]
        );

    /// <summary>Every part turns, moves and repeats the surface otherwise; every second one flips it.</summary>
    private static Placement Own(int part) =>
        new(1 + part % 3, 1 + part % 3, 90 * (part % 4), 0.1f * part, 0, 0, 0, MirrorU: part % 2 == 1);

    private static readonly string[] Paths =
    [
        "/radio/body",
        "/radio/cloth",
        "/radio/feet/1",
        "/radio/feet/1/rubber",
        "/radio/feet/Füße",
        "/radio/Looks",
        "/radio/knob/pointer",
        "/radio_knob/pointer",
    ];

    /// <summary>The same with every map in the tiles 1001 and 1012.</summary>
    private static Network Tiled(Network network) =>
        (
            network with
            {
                Textures =
                [
                    .. network.Textures.Select(t =>
                        t with
                        {
                            File = t.File with { Tiles = [new(1001, t.File.Content, "a.png"), new(1012, t.File.Content, "b.png")] },
                        }
                    ),
                ],
            }
        ).WithPaths(p => p.Replace(".", ".<UDIM>."));

    /// <summary>"Radio 2_look" would be called as the document that assigns.</summary>
    private static readonly string[] Alike = ["a look", "a-look", "a look base", "A look", "Radio 2_look", "Radio 2"];

    private async Task<CarriedModel> DressedAsync(string dialect)
    {
        var look = await KnownSurface.DeliveredAsync(shop, new Placement(2, 2));
        var names = new WrittenNames();
        var (parts, networks) = (new List<CarriedPart>(), new List<Network>());
        for (var i = 0; i < Count; i++)
        {
            var own = (look with { Name = $"look {i}" }).With(new PartOverride { Placement = Own(i) });
            networks.Add(names.Apart((await shop.CompileAsync(own, dialect)).Network));
            parts.Add(new(Paths[i], Square($"part_{i}"), i));
        }
        parts.Add(new("/radio/bare", Square("bare"), null));
        return new("Radio 2", parts, networks);
    }

    private string Write(CarriedModel model, string dialect)
    {
        var into = Directory.CreateTempSubdirectory("kiln-dressed-").FullName;
        foreach (var file in new ModelWriter(shop.Writer, shop).Files(model, shop.Profiles.Find(dialect)))
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.Combine(into, file.Path))!);
            using var to = File.Create(Path.Combine(into, file.Path));
            file.CopyTo(to, shop);
        }
        return into;
    }

    /// <summary>Eight looks, each with a placement of its own, are bound as they were and lie as they lay.</summary>
    [Fact]
    public async Task AGlbComesInAgainAsItWentOut()
    {
        var model = await DressedAsync("gltf");
        var file = Path.Combine(Write(model, "gltf"), "Radio_2.glb");
        Assert.Equal("0 errors, 0 warnings", Workshop.Run("node", Path.Combine(Workshop.Outside(), "validate-glb.mjs"), file).Trim());
        var read = ModelFiles.Read(file, program: "");
        Assert.Equal(
            model.Parts.Select(p => (p.Path, p.Material is { } m ? model.Materials[m].Material : null)).Order(),
            read.Parts.Select(p => (p.Path, p.Material)).Order()
        );
        Assert.All(read.Parts, p => Assert.Equal(model.Parts[0].Form.Indices.Length / 3, p.Triangles));
        var uvs = read.Parts[0].UvSets.Single();
        for (var i = 0; i < 6; i++)
            Assert.True(
                Vector2.Distance(uvs.Places[uvs.Corners[i]], model.Parts[0].Form.Uvs[model.Parts[0].Form.Indices[i]]) < 1e-6f,
                $"corner {i}"
            );
        await SameLooksAsync(GltfReader.Read(file, shop.Profiles.Find("gltf"), shop.Put), "gltf");
    }

    /// <summary>The same by a USD layer: prims are called by letters and digits, so parts are told by where they stand.</summary>
    [Fact]
    public async Task AUsdLayerComesInAgainAsItWentOut()
    {
        var model = await DressedAsync("usd_preview");
        model = model with
        {
            Parts =
            [
                .. model.Parts.Select(
                    (p, i) => p with { Form = p.Form with { Positions = [.. p.Form.Positions.Select(v => v + i * Vector3.UnitX)] } }
                ),
            ],
        };
        var file = Path.Combine(Write(model, "usd_preview"), "Radio_2.usda");
        var read = ModelFiles.Read(file, program: "");
        Assert.Equal(model.Parts.Count, read.Parts.Count);
        Assert.Equal((1.0, 'Y'), (read.MetersPerUnit, read.UpAxis));
        // A model's own materials say pictures and values; where they lie is read with the looks.
        Assert.All(read.Remarks, r => Assert.Contains(" left out.", r, StringComparison.Ordinal));
        foreach (var (i, part) in model.Parts.Index())
        {
            var there = read.Parts.Single(p => Math.Abs(p.Positions.Min(v => v.X) - i) < 1e-6f);
            Assert.Equal(part.Material is { } m ? model.Materials[m].Material : null, there.Material);
            Assert.StartsWith("/Radio_2/radio", there.Path, StringComparison.Ordinal);
            Assert.Equal(part.Form.Indices.Select(k => part.Form.Positions[k]), there.Corners.Select(k => there.Positions[k]));
            Assert.Equal(
                part.Form.Indices.Select(k => part.Form.Uvs[k]),
                there.UvSets.Single().Corners.Select(k => there.UvSets[0].Places[k])
            );
            Assert.Equal(
                part.Form.Indices.Select(k => part.Form.Normals[k]),
                there.Normals!.Corners.Select(k => there.Normals.Directions[k])
            );
        }
        Assert.All(read.Materials, m => Assert.All(m.Textures, t => Assert.NotNull(t.Found)));
        await SameLooksAsync(shop.ReadAll(file, "usd_preview"), "usd_preview");
    }

    private async Task SameLooksAsync(IReadOnlyList<Network> networks, string dialect)
    {
        var profile = shop.Profiles.Find(dialect);
        Assert.Equal(Count, networks.Count);
        var delivered = await KnownSurface.DeliveredAsync(shop, new Placement(2, 2));
        for (var i = 0; i < Count; i++)
        {
            var look = await NetworkReading.ReadAsync(profile, networks[i]);
            Assert.Equal($"look_{i}", networks[i].Material);
            var sent = delivered.With(new PartOverride { Placement = Own(i) });
            foreach (var p in (Vector2[])[new(0.2f, 0.3f), new(0.9f, 0.1f), new(0.55f, 0.8f)])
            foreach (var input in (string[])["base_color", "specular_roughness"])
            {
                var (is_, was) = (await AtAsync(look, input, p), await AtAsync(sent, input, p));
                // Where pictures were made anew, between their texels; one that is somewhere else would be 0.1 and more away.
                Assert.True(Vector3.Distance(is_, was) < 0.03f, $"look {i}, {input} at {p}: {is_}, {was}");
            }
        }
    }

    private async Task<Vector3> AtAsync(Look look, string input, Vector2 uv)
    {
        var graph = new ShadeGraph();
        var node = new LaneGraphs(look, graph).Input(input)!.Value;
        var program = await ShadeProgram.LoadAsync(graph, [node], shop.Textures, null);
        var registers = program.NewRegisters();
        program.Run(uv, 1e-3f, registers);
        return registers[program.Register(node)];
    }

    /// <summary>tinyusdz finds a material at each mesh that has one, with its textures beside the layer.</summary>
    [Fact]
    public async Task AUsdLayerHasItsMaterialsAndBindings()
    {
        var folder = Write(await DressedAsync("usd_preview"), "usd_preview");
        var output = Workshop.Run("node", Path.Combine(Workshop.Outside(), "read-usd.mjs"), Path.Combine(folder, "Radio_2.usda"));
        using var read = JsonDocument.Parse(output);
        Assert.Equal(Count + 1, read.RootElement.GetProperty("meshes").GetInt32());
        var dressed = read
            .RootElement.GetProperty("materials")
            .EnumerateArray()
            .Where(m => m.ValueKind == JsonValueKind.Object && m.TryGetProperty("diffuseColorTextureId", out var id) && id.GetInt32() >= 0)
            .ToList();
        Assert.Equal(Count, dressed.Count);
        Assert.Equal(Count, dressed.Select(m => m.GetProperty("diffuseColorTextureId").GetInt32()).Distinct().Count());
        Assert.All(read.RootElement.GetProperty("textures").EnumerateObject(), t =>
            Assert.True(File.Exists(Path.Combine(folder, t.Value.GetString()!)), t.Value.GetString())
        );
        var text = await File.ReadAllTextAsync(Path.Combine(folder, "Radio_2.usda"));
        for (var i = 0; i < Count; i++)
            Assert.Contains($"rel material:binding = </Radio_2/Looks/look_{i}>", text, StringComparison.Ordinal);
    }

    /// <summary>The look's assignments name parts as the OBJ beside it has them, and materials as its documents have them.</summary>
    [Theory]
    [InlineData("openpbr")]
    [InlineData("standard_surface")]
    [InlineData("bisque")]
    [InlineData("celadon")]
    [InlineData("tenmoku")]
    [InlineData("saggar")]
    public async Task AMaterialXLookAssignsWhatIsThere(string dialect)
    {
        var model = await DressedAsync(dialect);
        var folder = Write(model, dialect);
        var document = Path.Combine(folder, "Radio_2_look.mtlx");
        Workshop.AssertValidMaterialX(document);
        var assigned = XDocument
            .Load(document)
            .Descendants("materialassign")
            .ToDictionary(a => (string)a.Attribute("geom")!, a => (string)a.Attribute("material")!);
        Assert.Equal(Count, assigned.Count);
        var parts = ModelFiles.Read(Path.Combine(folder, "Radio_2.obj"), program: "").Parts;
        Assert.Equal(Count + 1, parts.Count);
        foreach (var part in parts)
            Assert.Equal(assigned.GetValueOrDefault(part.Path), part.Material);
        foreach (var material in assigned.Values)
            Assert.Equal(material, shop.Read(Path.Combine(folder, material + ".mtlx"), dialect).Material);
    }

    /// <summary>
    /// Whoever reads a look reads all documents that it includes into one, where of two things with one name the first is kept (MaterialX
    /// library, Document::importLibrary). Every part reads its own pictures there too: looks whose names come out alike, looks whose name
    /// is another's with the name of a node, tiles of one look.
    /// </summary>
    [Theory]
    [InlineData("openpbr")]
    [InlineData("standard_surface")]
    [InlineData("bisque")]
    [InlineData("celadon")]
    [InlineData("tenmoku")]
    [InlineData("saggar")]
    public async Task ReadIntoOneDocumentEveryPartHasItsOwnPictures(string dialect)
    {
        var look = await KnownSurface.DeliveredAsync(shop, new Placement(2, 2));
        var names = new WrittenNames();
        var (parts, networks) = (new List<CarriedPart>(), new List<Network>());
        foreach (var (i, name) in Alike.Index())
        {
            var network = (await shop.CompileAsync(look with { Name = name }, dialect)).Network;
            network = network.WithPaths(p => p.Replace("textures/", $"textures/{i}_", StringComparison.Ordinal));
            if (i == 1)
                network = Tiled(network);
            networks.Add(names.Apart(network));
            var square = Square($"part_{i}");
            parts.Add(new($"/{i}/1001", square, i));
            if (i == 1)
                parts.Add(new($"/{i}/1012", square with { Uvs = [.. square.Uvs.Select(u => u + new Vector2(1, 1))] }, i));
        }
        var model = new CarriedModel("Radio 2", parts, networks);
        var splits = shop.Profiles.Find(dialect).Textures.Udim is null;
        var carried = splits ? model.TileByTile() : model;
        var folder = Write(model, dialect);
        var document = Directory.GetFiles(folder, "*.mtlx").Single(f => File.ReadAllText(f).Contains("<look ", StringComparison.Ordinal));
        Workshop.AssertValidMaterialX(document);
        var inOne = InOne(document);
        var assigned = inOne
            .Values.Single(e => e.Name.LocalName == "look")
            .Elements("materialassign")
            .Select(a => (string)a.Attribute("material")!)
            .ToList();
        Assert.Equal(carried.Parts.Count, assigned.Count);
        for (var i = 0; i < assigned.Count; i++)
        {
            var network = carried.Materials[carried.Parts[i].Material!.Value];
            Assert.Equal(network.Material, assigned[i]);
            var paths = network.Textures.Select(t => t.Path.Replace(NetworkTexture.TilePlace, "*", StringComparison.Ordinal));
            // A dialect's own token for the tile.
            var read = PicturesOf(inOne, assigned[i]).Select(p => TileToken().Replace(p, "*"));
            Assert.Equal(paths.Order(), read.Order());
        }
    }

    [GeneratedRegex("<[A-Za-z]+>")]
    private static partial Regex TileToken();

    /// <summary>By name, what a document and those that it includes hold; the first of each name.</summary>
    private static Dictionary<string, XElement> InOne(string document)
    {
        var all = new Dictionary<string, XElement>();
        foreach (var element in XDocument.Load(document).Root!.Elements())
            if (element.Name.LocalName != "include")
                all.TryAdd((string)element.Attribute("name")!, element);
            else
                foreach (var (name, included) in InOne(Path.Combine(Path.GetDirectoryName(document)!, (string)element.Attribute("href")!)))
                    all.TryAdd(name, included);
        return all;
    }

    /// <summary>The files of all nodes that lead to this one.</summary>
    private static HashSet<string> PicturesOf(Dictionary<string, XElement> all, string name)
    {
        var inputs = all[name].Elements("input").ToList();
        return
        [
            .. inputs.Where(i => (string?)i.Attribute("type") == "filename").Select(i => (string)i.Attribute("value")!),
            .. inputs.Select(i => (string?)i.Attribute("nodename")).OfType<string>().SelectMany(n => PicturesOf(all, n)),
        ];
    }

    [Fact]
    public void WhatIsTooMuchForTextIsASentence()
    {
        var form = Square("huge") with { Indices = new int[3 * (ModelWriter.MostTrianglesAsText + 1)] };
        var said = Assert
            .Throws<ExchangeException>(() =>
                new ModelWriter(shop.Writer, shop).Files(new("huge", [new("/huge", form, null)], []), shop.Profiles.Find("usd_preview"))
            )
            .Message;
        Assert.Contains("2000001 triangles", said, StringComparison.Ordinal);
    }

    /// <summary>Where a dialect has no word for UDIM, each tile is a part of its own, moved to where pictures are.</summary>
    [Fact]
    public async Task TilesBecomePartsWhereTheDialectHasNone()
    {
        var network = (await shop.CompileAsync(await KnownSurface.DeliveredAsync(shop, Placement.Identity), "gltf")).Network;
        var tiled = Tiled(network);
        var square = Square("hull");
        var form = square with
        {
            Positions = [.. square.Positions, .. square.Positions, .. square.Positions],
            Normals = [.. square.Normals, .. square.Normals, .. square.Normals],
            Tangents = [.. square.Tangents, .. square.Tangents, .. square.Tangents],
            Uvs = [.. square.Uvs, .. square.Uvs.Select(u => u + new Vector2(1, 1)), .. square.Uvs.Select(u => u + new Vector2(5, 0))],
            Indices =
            [
                .. square.Indices,
                .. square.Indices.Select(i => i + square.Positions.Length),
                .. square.Indices.Select(i => i + 2 * square.Positions.Length),
            ],
        };
        var split = new CarriedModel("hull", [new("/hull", form, 0)], [tiled]).TileByTile();
        Assert.Equal(["/hull/hull_1001", "/hull/hull_1006", "/hull/hull_1012"], split.Parts.Select(p => p.Path));
        // No map has tile 1006: what lies there has no material rather than another tile's.
        Assert.Equal(
            [tiled.Material + "_1001", null, tiled.Material + "_1012"],
            split.Parts.Select(p => p.Material is { } m ? split.Materials[m].Material : null)
        );
        Assert.All(split.Parts, p =>
        {
            Assert.Equal(square.Uvs.Length, p.Form.Uvs.Length);
            Assert.All(p.Form.Uvs, u => Assert.True(u is { X: >= -1e-5f and <= 1.00001f, Y: >= -1e-5f and <= 1.00001f }, u.ToString()));
        });
    }
}
