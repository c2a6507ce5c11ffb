using CsCheck;
using Kiln.Looks.Readings;

namespace Kiln.Models.Tests;

/// <summary>What OBJ files say in their many ways, and what broken ones are answered.</summary>
public sealed class ObjDocuments : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-models-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private const string Square = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n";

    private Model Read(string text, string name = "thing.obj")
    {
        var path = Path.Combine(folder, name);
        File.WriteAllText(path, text);
        return AsRead.Of(path);
    }

    [Fact]
    public void PartsAreObjectsGroupsAndTheMaterialsWithinThem()
    {
        var model = Read(
            Square
                + "f 1 2 3\no Valve\ng Handle\nusemtl brass\nf 1 2 3\ng Body\nf 1 2 3\nusemtl iron\nf 1 2 3 4\n"
                + "g Handle\nusemtl brass\nf 1 3 4\no a/b\nf 1 2 3\n"
        );
        Assert.Equal(["/thing", "/Valve/Handle", "/Valve/Body/brass", "/Valve/Body/iron", "/a_b"], model.Parts.Select(p => p.Path));
        Assert.Equal([1, 2, 1, 2, 1], model.Parts.Select(p => p.Triangles));
        Assert.Equal([null, "brass", "brass", "iron", "brass"], model.Parts.Select(p => p.Material));
        Assert.Equal(["brass", "iron"], model.Materials.Select(m => m.Name));
    }

    [Fact]
    public void MaterialsAreReadWithTheirPicturesAndNothingOutsideIsLookedAt()
    {
        Directory.CreateDirectory(Path.Combine(folder, "maps", "deep"));
        File.WriteAllText(Path.Combine(folder, "maps", "brass colour.png"), "");
        File.WriteAllText(Path.Combine(folder, "maps", "deep", "Brass_Rough.png"), "");
        File.WriteAllText(
            Path.Combine(folder, "the thing.mtl"),
            "newmtl brass\nKd 0.8 0.5 0.2\nNs 98\nPr 0.25\nPm 1\nTr 0.25\nmap_Kd -s 2 2 1 -clamp on maps\\brass colour.png\n"
                + "map_Pr C:\\work\\brass_rough.png\nmap_Pm old/brass_rough.png\nnorm ../secret.png\nbump -bm 0.3 gone.png\nmap_Ka a.png\n"
                + "newmtl plain\nKd 0.5\nNs 0\n"
        );
        var model = Read("mtllib the thing.mtl\nmtllib gone.mtl\n" + Square + "usemtl brass\nf 1 2 3\n");
        var brass = model.Materials[0];
        Assert.Equal([0.8f, 0.5f, 0.2f], brass.Values["base_color"]);
        Assert.Equal([0.25f], brass.Values["specular_roughness"]);
        Assert.Equal([1f], brass.Values["base_metalness"]);
        Assert.Equal([0.75f], brass.Values["geometry_opacity"]);
        Assert.Equal(
            [
                new(MapRole.BaseColor, "maps\\brass colour.png", "maps/brass colour.png"),
                // An absolute path is not looked for, a relative one by its name anywhere below.
                new(MapRole.Roughness, "C:\\work\\brass_rough.png", null),
                new(MapRole.Metalness, "old/brass_rough.png", "maps/deep/Brass_Rough.png"),
                new(MapRole.Normal, "../secret.png", null),
                new(MapRole.Bump, "gone.png", null),
            ],
            brass.Textures
        );
        Assert.Equal([1f], model.Materials[1].Values["specular_roughness"]);
        Assert.Equal([0.5f, 0.5f, 0.5f], model.Materials[1].Values["base_color"]);
        Assert.Contains(model.Remarks, r => r.Contains("gone.mtl"));
        Assert.Contains(model.Remarks, r => r.Contains("map_Ka"));
    }

    [Theory]
    [InlineData("", "no faces")]
    [InlineData("v 1 2 3\np 1\n", "points")]
    [InlineData("v 0 0 0\nv 1 0 0\nl 1 2\n", "lines")]
    [InlineData("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "no faces")]
    public void WhatHasNoFacesIsRefusedWithASentence(string text, string sentence) =>
        Assert.Contains(sentence, Assert.Throws<ModelException>(() => Read(text)).Message);

    [Fact]
    public void WhatIsBrokenIsLeftOutWithARemarkAndTheRestComesIn()
    {
        var model = Read(
            Square
                + "v nan 0 0\nv 1e99 0 0\nv 1 2\nvt 0 0\nvt x 1\n"
                + "f 1 2 3 4\nf 1 2 5\nf 1 2 6\nf 1 2 7\nf 1/1 2/2 3/1\nf 1/9 2 3\nf 1 2\nf -4 -5 0\nf 1 2 99999999999\nf a b c\nl 1 2\n"
        );
        Assert.Equal(2, model.Parts.Single().Triangles);
        Assert.Contains(model.Remarks, r => r.Contains("left out: 9"));
        Assert.Contains(model.Remarks, r => r.Contains("left out: 1."));
    }

    [Fact]
    public void OtherFilesAreRefusedByName()
    {
        Assert.Contains("no file", Assert.Throws<ModelException>(() => AsRead.Of(Path.Combine(folder, "none.obj"))).Message);
        File.WriteAllText(Path.Combine(folder, "a.blob"), "");
        Assert.Contains(".obj", Assert.Throws<ModelException>(() => AsRead.Of(Path.Combine(folder, "a.blob"))).Message);
    }

    /// <summary>Lines in any order, of any words: a model, or a sentence.</summary>
    [Fact]
    public void AnythingIsReadOrRefused()
    {
        string[] words =
        [
            "v",
            "vt",
            "vn",
            "f",
            "o",
            "g",
            "usemtl",
            "mtllib",
            "l",
            "1",
            "2",
            "3",
            "-1",
            "0",
            "1/1",
            "1//1",
            "1/2/3/4",
            "nan",
            "\\",
            "/",
            "é",
        ];
        var word = Gen.Int[0, words.Length - 1].Select(i => words[i]);
        var line = word.Array[0, 7].Select(all => string.Join(' ', all));
        line.Array[0, 40]
            .Sample(
                lines =>
                {
                    try
                    {
                        foreach (var part in Read(Square + string.Join('\n', lines)).Parts)
                        {
                            Assert.Equal(0, part.Corners.Length % 3);
                            Assert.All(part.Corners, c => Assert.InRange(c, 0, part.Positions.Length - 1));
                            foreach (var set in part.UvSets)
                                Measures.UvMeasures.Of(part, set);
                        }
                    }
                    catch (ModelException) { }
                },
                iter: 2000,
                threads: 1
            );
    }
}
