using System.Diagnostics;
using System.IO.Compression;
using System.Numerics;
using System.Text.Json;
using CsCheck;
using Kiln.Looks.Readings;
using Kiln.Models.Measures;
using Kiln.Testing;
using Kiln.Testing.Files;
using Kiln.Usd;
using Kiln.Usd.Crate;

namespace Kiln.Models.Tests;

/// <summary>What USD layers say of meshes: places, UVs, subsets, bindings, units; and broken ones.</summary>
public sealed class UsdLayers : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-usd-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private string Write(string name, string text)
    {
        var path = Path.Combine(folder, name);
        File.WriteAllText(path, text);
        return path;
    }

    private Model Read(string text) => AsRead.Of(Write("thing.usda", "#usda 1.0\n" + text));

    internal const string Triangle =
        "int[] faceVertexCounts = [3] int[] faceVertexIndices = [0, 1, 2] point3f[] points = [(0, 0, 0), (1, 0, 0), (0, 1, 0)]";

    private static List<JsonElement> Theirs(IEnumerable<string> files)
    {
        var start = new ProcessStartInfo("node", [Repository.Path("tests", "outside", "read-usd-meshes.mjs"), .. files])
        {
            RedirectStandardOutput = true,
        };
        using var process = Process.Start(start)!;
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.Equal(0, process.ExitCode);
        return [.. output.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l => JsonDocument.Parse(l).RootElement)];
    }

    /// <summary>Sixty invented scenes: triangles, sizes, places and UVs of every mesh as tinyusdz and three's loader have them.</summary>
    [Fact]
    public void PlacesAndUvsAreThoseOfAnotherReader()
    {
        var files = Enumerable.Range(0, 60).Select(i => Write($"scene_{i}.usda", UsdScenes.Of(i))).ToList();
        foreach (var (file, theirs) in files.Zip(Theirs(files)))
            Same(AsRead.Of(file), theirs, Path.GetFileName(file));
    }

    /// <summary>The same scenes in the binary form: read by the others as ours, and by us as their text.</summary>
    [Fact]
    public void BinaryLayersAreReadAsTheirText()
    {
        var files = Enumerable
            .Range(0, 60)
            .Select(i =>
            {
                var path = Path.Combine(folder, $"scene_{i}.usdc");
                File.WriteAllBytes(path, CrateWriter.Of(UsdText.Parse(UsdScenes.Of(i))));
                return path;
            })
            .ToList();
        foreach (var (i, theirs) in Theirs(files).Index())
        {
            Same(AsRead.Of(files[i]), theirs, Path.GetFileName(files[i]));
            Equal(UsdText.Parse(UsdScenes.Of(i)), UsdCrate.Parse(File.ReadAllBytes(files[i])));
        }
    }

    internal static void Equal(UsdPrim text, UsdPrim binary)
    {
        Assert.Equal((text.Specifier, text.Type, text.Path), (binary.Specifier, binary.Type, binary.Path));
        Assert.Equal(text.Selections, binary.Selections);
        Assert.Equal(text.Properties.Keys, binary.Properties.Keys);
        foreach (var (name, property) in text.Properties)
        {
            var there = binary.Properties[name];
            Assert.Equal(property.Type, there.Type);
            Assert.Equal((property.Text, property.Connection, property.Space), (there.Text, there.Connection, there.Space));
            Assert.Equal(property.Texts, there.Texts);
            Assert.Equal(
                property.Metadata.GetValueOrDefault("interpolation")?.Text,
                there.Metadata.GetValueOrDefault("interpolation")?.Text
            );
            // The text says more digits than a float or a half has.
            var isShort =
                property.Type.Contains("2h", StringComparison.Ordinal) || property.Type.StartsWith("half", StringComparison.Ordinal);
            Assert.Equal(property.Numbers?.Length, there.Numbers?.Length);
            foreach (var (a, b) in (property.Numbers ?? []).Zip(there.Numbers ?? []))
                Assert.Equal(a, b, Math.Abs(a) * (isShort ? 1e-3 : 1e-6));
        }
        Assert.Equal(text.Children.Count, binary.Children.Count);
        foreach (var (a, b) in text.Children.Zip(binary.Children))
            Equal(a, b);
    }

    /// <summary>Theirs are in the layer's units.</summary>
    private static void Same(Model ours, JsonElement theirs, string file)
    {
        Assert.Equal(theirs.GetArrayLength(), ours.Parts.Count);
        foreach (var mesh in theirs.EnumerateArray())
        {
            var part = ours.Parts.Single(p => p.Path == mesh.GetProperty("path").GetString());
            Assert.Equal(mesh.GetProperty("triangles").GetInt32(), part.Triangles);
            Assert.Equal(mesh.GetProperty("uvs").GetBoolean(), part.UvSets.Count > 0);
            var positions = part.Positions.Select(p => p / (float)ours.MetersPerUnit).ToList();
            var (min, max) = (positions.Aggregate(Vector3.Min), positions.Aggregate(Vector3.Max));
            var size = Vector3.Distance(min, max) + max.Length();
            Assert.True(Vector3.Distance(min, Of(mesh, "min")) < 1e-4f * size, $"{file}, {part.Name}: {min}, {Of(mesh, "min")}");
            Assert.True(Vector3.Distance(max, Of(mesh, "max")) < 1e-4f * size, $"{file}, {part.Name}: {max}, {Of(mesh, "max")}");
            Assert.Equal(mesh.GetProperty("area").GetDouble(), part.UvSets.Count == 0 ? 0 : AreaOf(part.UvSets[0]), 1e-4);
        }
    }

    private static Vector3 Of(JsonElement mesh, string name) =>
        mesh.GetProperty(name).EnumerateArray().Select(n => n.GetSingle()).ToArray() is [var x, var y, var z] ? new(x, y, z) : default;

    private static double AreaOf(UvSet uvs)
    {
        var area = 0.0;
        for (var i = 0; i < uvs.Corners.Length / 3; i++)
        {
            var (a, b, c) = uvs.Of(i);
            area += ((double)b.X - a.X) * (c.Y - a.Y) - ((double)c.X - a.X) * (b.Y - a.Y);
        }
        return area / 2;
    }

    [Fact]
    public void FacesOfASubsetAreAPartWithItsMaterial()
    {
        var model = Read(
            """
            (
                metersPerUnit = 1
            )
            def Xform "radio" (
                prepend apiSchemas = ["MaterialBindingAPI"]
            )
            {
                rel material:binding = </radio/Looks/paint>
                def Mesh "body"
                {
                    int[] faceVertexCounts = [3, 4, 3]
                    int[] faceVertexIndices = [0, 1, 2, 0, 1, 2, 3, 1, 2, 3]
                    point3f[] points = [(0, 0, 0), (1, 0, 0), (1, 1, 0), (0, 1, 0), (9, 9, 9)]
                    normal3f[] primvars:normals = [(0, 0, 1)] (
                        interpolation = "constant"
                    )
                    float2[] primvars:map1 = [(0, 0), (1, 0), (1, 1)] (
                        interpolation = "uniform"
                    )
                    def GeomSubset "lid"
                    {
                        uniform token elementType = "face"
                        uniform token familyName = "materialBind"
                        int[] indices = [1, 7]
                        rel material:binding = </radio/Looks/brass>
                    }
                    def GeomSubset "somewhere"
                    {
                        int[] indices = [0]
                    }
                }
                def Mesh "knob"
                {
                    rel material:binding = </radio/Looks/gone>
                    uniform token orientation = "leftHanded"
                    int[] faceVertexCounts = [3] int[] faceVertexIndices = [0, 1, 2] point3f[] points = [(0, 0, 0), (1, 0, 0), (0, 1, 0)]
                }
                def Scope "Looks"
                {
                    def Material "paint" { }
                    def Material "brass" { }
                }
            }
            """
        );
        Assert.Equal(
            [("/radio/body/lid", "brass", 2), ("/radio/body", "paint", 2), ("/radio/knob", (string?)"gone", 1)],
            model.Parts.Select(p => (p.Path, p.Material, p.Triangles))
        );
        Assert.Equal(["paint", "brass", "gone"], model.Materials.Select(m => m.Name));
        // Points that no face has are not among a part's.
        Assert.All(model.Parts, p => Assert.True(p.Positions.Max(v => v.Length()) < 2));
        Assert.All(model.Parts.Take(2), p => Assert.Equal(Vector3.UnitZ, Assert.Single(p.Normals!.Directions)));
        Assert.Equal(["map1"], model.Parts[0].UvSets.Select(u => u.Name));
        // A left-handed mesh is wound the other way.
        var knob = model.Parts[2];
        var (a, b, c) = (knob.Positions[knob.Corners[0]], knob.Positions[knob.Corners[1]], knob.Positions[knob.Corners[2]]);
        Assert.True(Vector3.Cross(b - a, c - a).Z < 0);
        Assert.Contains(model.Remarks, r => r.Contains("/radio/Looks/gone", StringComparison.Ordinal));
        Assert.Contains(model.Remarks, r => r.Contains("subdivided", StringComparison.Ordinal));
    }

    /// <summary>UsdPreviewSurface 2.6: inputs, what is left out, values through a material's own inputs, pictures by channel.</summary>
    [Fact]
    public void APreviewSurfaceIsPicturesInRolesAndValues()
    {
        Directory.CreateDirectory(Path.Combine(folder, "maps"));
        File.WriteAllBytes(Path.Combine(folder, "maps", "orm.png"), [1]);
        var model = Read(
            $$"""
            def Mesh "m" { rel material:binding = </brass> {{Triangle}} }
            def Material "brass"
            {
                float inputs:gloss = 0.25
                asset inputs:picture = @./maps/orm.png@
                token outputs:surface.connect = </brass/graph.outputs:surface>
                def NodeGraph "graph"
                {
                    token outputs:surface.connect = </brass/graph/s.outputs:surface>
                    def Shader "s"
                    {
                        uniform token info:id = "UsdPreviewSurface"
                        color3f inputs:emissiveColor = (1, 0.5, 0)
                        float inputs:clearcoat.connect = </brass.inputs:gloss>
                        float inputs:roughness.connect = </brass/graph/t.outputs:g>
                        float inputs:metallic.connect = </brass/graph/t.outputs:b>
                        normal3f inputs:normal.connect = </brass/graph/n.outputs:rgb>
                        float inputs:ior = 1.7
                    }
                    def Shader "t"
                    {
                        uniform token info:id = "UsdUVTexture"
                        asset inputs:file.connect = </brass.inputs:picture>
                        float4 inputs:scale = (1, 0.5, 1, 1)
                    }
                    def Shader "n"
                    {
                        uniform token info:id = "UsdUVTexture"
                        asset inputs:file = @../elsewhere/n.png@
                        float4 inputs:scale = (2, 2, 2, 1)
                        float4 inputs:bias = (-1, -1, -1, 0)
                    }
                }
            }
            """
        );
        var brass = Assert.Single(model.Materials);
        Assert.Equal(
            [
                (MapRole.Roughness, "./maps/orm.png", "maps/orm.png", MapChannel.G),
                (MapRole.Metalness, "./maps/orm.png", "maps/orm.png", MapChannel.B),
                (MapRole.Normal, "../elsewhere/n.png", (string?)null, (MapChannel?)null),
            ],
            brass.Textures.Select(t => (t.Role, t.Written, t.Found, t.Channel))
        );
        Assert.Equal([0.18f, 0.18f, 0.18f], brass.Values["base_color"]);
        Assert.Equal([0.25f], brass.Values["coat_weight"]);
        Assert.Equal([1f, 0.5f, 0f], brass.Values["emission_color"]);
        Assert.Equal([1.7f], brass.Values["specular_ior"]);
        // The normal map's numbers are the usual ones.
        Assert.Equal(1, model.Remarks.Count(r => r.Contains("scale and bias of /brass/graph/t", StringComparison.Ordinal)));
        Assert.DoesNotContain(model.Remarks, r => r.Contains("/brass/graph/n", StringComparison.Ordinal));
    }

    [Fact]
    public void WhatIsChosenHoldsAndWhatTheModelItselfSaysIsStronger()
    {
        var model = Read(
            $$"""
            def Xform "a" (
                prepend variantSets = ["size", "other"]
                variants = {
                    string size = "large"
                }
            )
            {
                variantSet "size" = {
                    "small" { def Mesh "small" { {{Triangle}} } }
                    "large" {
                        def Mesh "large" { {{Triangle}} }
                        over "kept" {
                            rel material:binding = </weaker>
                            double3 xformOp:translate = (5, 0, 0)
                            uniform token[] xformOpOrder = ["xformOp:translate"]
                        }
                    }
                }
                def Mesh "kept" { rel material:binding = </stronger> {{Triangle}} }
            }
            """
        );
        Assert.Equal([("/a/kept", "stronger"), ("/a/large", null)], model.Parts.Select(p => (p.Path, p.Material)));
        Assert.Equal(0.06f, model.Parts[0].Positions.Max(p => p.X), 1e-6f);
    }

    /// <summary>A choice outside a variant is stronger than its own; its own holds for the sets that come after it.</summary>
    [Theory]
    [InlineData("string size = \"large\" string tone = \"dark\"", "/a/dark")]
    [InlineData("string size = \"large\"", "/a/pale")]
    [InlineData("string size = \"small\"", "/a/dark")]
    [InlineData("string size = \"small\" string tone = \"pale\"", "/a/pale")]
    [InlineData("string size = \"third\"", "/a/last", "b")]
    [InlineData("string size = \"third\" string after = \"a\"", "/a/last", "a")]
    public void SetsWithinAVariantSeeTheChoiceOutside(string choices, string path, string? after = null)
    {
        var tones = $$"""
            variantSet "tone" = { "pale" { def Mesh "pale" { {{Triangle}} } } "dark" { def Mesh "dark" { {{Triangle}} } } }
            """;
        var model = Read(
            $$"""
            def Xform "a" ( variants = { {{choices}} } )
            {
                variantSet "size" = {
                    "small" ( variants = { string tone = "dark" } ) { {{tones}} }
                    "large" { {{tones}} }
                    "third" ( variants = { string after = "b" } ) { def Mesh "last" { {{Triangle}} } }
                }
                variantSet "after" = {
                    "a" { over "last" { rel material:binding = </a> } }
                    "b" { over "last" { rel material:binding = </b> } }
                }
            }
            """
        );
        var part = Assert.Single(model.Parts);
        Assert.Equal((path, after), (part.Path, part.Material));
    }

    /// <summary>A place by one axis alone; what cannot be followed is said, since the part stands elsewhere then.</summary>
    [Fact]
    public void PlacesByOneAxisAreFollowedAndOthersSaid()
    {
        var model = Read(
            $$"""
            def Mesh "m"
            {
                {{Triangle}}
                double xformOp:translateY = 300
                float xformOp:scaleX:wide = 4
                uniform token[] xformOpOrder = ["xformOp:translateY", "xformOp:scaleX:wide", "!invert!xformOp:scaleX:wide"]
            }
            def Mesh "sheared"
            {
                {{Triangle}}
                double3 xformOp:shear = (1, 2, 3)
                uniform token[] xformOpOrder = ["xformOp:shear"]
            }
            def Mesh "flat"
            {
                {{Triangle}}
                double3 xformOp:scale = (1, 0, 1)
                uniform token[] xformOpOrder = ["!invert!xformOp:scale", "xformOp:gone"]
            }
            """
        );
        var (plain, moved) = (model.Parts[1], model.Parts[0]);
        Assert.Equal(plain.Positions.Select(p => p.X), moved.Positions.Select(p => p.X));
        foreach (var (was, now) in plain.Positions.Zip(moved.Positions))
            Assert.Equal(was.Y + 3, now.Y, 1e-6f);
        var said = Assert.Single(model.Remarks, r => r.Contains("cannot be followed", StringComparison.Ordinal));
        foreach (var of in (string[])["xformOp:shear of /sheared", "xformOp:scale of /flat", "xformOp:gone of /flat"])
            Assert.Contains(of, said, StringComparison.Ordinal);
        Assert.DoesNotContain("of /m", said, StringComparison.Ordinal);
    }

    [Fact]
    public void WhatDoesNotComeInIsSaid()
    {
        var model = Read(
            $$"""
            (
                subLayers = [@./other.usda@]
            )
            def Mesh "m"
            {
                {{Triangle}}
                float3 xformOp:translate.timeSamples = { 1: (100, 0, 0), 2: (200, 0, 0) }
                uniform token[] xformOpOrder = ["xformOp:translate"]
                token visibility = "invisible"
            }
            def "away" ( references = @./chair.usda@</Chair> ) { }
            def "here" ( prepend references = </m> ) { }
            def "none" ( references = [] ) { }
            def PointInstancer "many" { def Mesh "proto" { {{Triangle}} } }
            def Sphere "ball" { double radius = 2 }
            def Mesh "guide" { uniform token purpose = "guide" {{Triangle}} }
            def Mesh "asleep" ( active = false ) { {{Triangle}} }
            over "nothing" { def Mesh "below" { {{Triangle}} } }
            class "kind" { def Mesh "below" { {{Triangle}} } }
            reorder rootPrims = ["m", "away"]
            """
        );
        var part = Assert.Single(model.Parts);
        // At the first of its times, in centimetres.
        Assert.Equal(1, part.Positions.Min(p => p.X), 1e-6f);
        Assert.DoesNotContain(model.Remarks, r => r.Contains("/none", StringComparison.Ordinal));
        foreach (
            var said in (string[])["./other.usda", "/away, /here", "/many", "/ball", "proxies are left out: 1", "Animation", "invisible"]
        )
            Assert.Contains(model.Remarks, r => r.Contains(said, StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("", "no USD text layer")]
    [InlineData("#usda 1.0\n", "no meshes")]
    [InlineData("#usda 1.0\ndef Sphere \"a\" { }", "no meshes. Curves, points and shapes")]
    [InlineData("#usda 1.0\ndef Mesh \"a\" { point3f[] points = [(1, 2", "line 2")]
    [InlineData(
        "#usda 1.0\ndef Mesh \"a\" { int[] faceVertexCounts = [3] int[] faceVertexIndices = [0, 1, 5] point3f[] points = [(0,0,0)] }",
        "no meshes"
    )]
    [InlineData("PXR-USDC and more", "PXR-USDC")]
    [InlineData("PXR-USDC", "PXR-USDC")]
    [InlineData("PK and more", ".usdz file is no zip")]
    public void WhatIsNoModelIsRefusedWithASentence(string text, string sentence) =>
        Assert.Contains(sentence, Assert.Throws<ModelException>(() => AsRead.Of(Write("thing.usd", text))).Message);

    /// <summary>A layer with any of its words elsewhere, cut off, or with numbers that cannot be: a model, or a sentence.</summary>
    [Fact]
    public void DamagedLayersAreReadOrRefusedWithASentence()
    {
        var whole = UsdScenes.Of(7);
        var words = whole.Split(' ');
        Gen.Select(
                Gen.Int[0, words.Length - 1],
                Gen.Int[0, words.Length - 1],
                Gen.Int[0, whole.Length],
                Gen.Int[0, 5].Select(i => ((string[])["", "-1", "1e999", "nan", "}", "["])[i])
            )
            .Sample(
                (from, to, end, word) =>
                {
                    var changed = (string[])words.Clone();
                    changed[to] = word.Length > 0 ? word : changed[from];
                    var text = string.Join(' ', changed);
                    try
                    {
                        var model = AsRead.Of(
                            Write($"damaged_{Environment.CurrentManagedThreadId}.usda", text[..Math.Min(end, text.Length)])
                        );
                        Assert.All(model.Parts, p => Assert.All(p.Positions, v => Assert.True(float.IsFinite(v.X + v.Y + v.Z))));
                    }
                    catch (ModelException e)
                    {
                        Assert.Contains("damaged_", e.Message);
                    }
                },
                iter: 3000
            );
    }

    /// <summary>A .usdz holds its pictures itself.</summary>
    [Fact]
    public void AnArchiveBringsItsPictures()
    {
        var path = Path.Combine(folder, "thing.usdz");
        using (var zip = ZipFile.Open(path, ZipArchiveMode.Create))
        {
            void Add(string name, string text)
            {
                using var to = new StreamWriter(zip.CreateEntry(name, CompressionLevel.NoCompression).Open());
                to.Write(text);
            }
            Add(
                "thing.usda",
                $$"""
                #usda 1.0
                def Mesh "m" { rel material:binding = </a> {{Triangle}} }
                def Material "a"
                {
                    token outputs:surface.connect = </a/s.outputs:surface>
                    def Shader "s" { uniform token info:id = "UsdPreviewSurface" color3f inputs:diffuseColor.connect = </a/t.outputs:rgb> }
                    def Shader "t" { uniform token info:id = "UsdUVTexture" asset inputs:file = @textures/a.png@ }
                }
                """
            );
            Add("textures/a.png", "picture");
        }
        var model = AsRead.Of(path);
        Assert.Equal("usdz", model.Format);
        Assert.Equal(7, Assert.Single(model.Materials.Single().Textures).Within!.Value.Length);
    }
}
