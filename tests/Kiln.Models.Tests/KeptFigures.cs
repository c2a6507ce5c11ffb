using System.Numerics;
using Kiln.Models.Measures;
using Kiln.Models.Packing;

namespace Kiln.Models.Tests;

/// <summary>What is kept of a model beside its triangles: how its parts stand, and the materials that its file has.</summary>
public sealed class KeptFigures : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-kept-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    /// <summary>A square of two metres over half of the picture: a quarter of its width to a metre.</summary>
    private static ModelPart Square(params Vector3[] normals) =>
        new(
            "/square",
            "square",
            null,
            [new(1, 2, 3), new(3, 2, 3), new(3, 4, 3), new(1, 4, 3)],
            [0, 1, 2, 0, 2, 3],
            [new("uv", [new(0, 0), new(0.5f, 0), new(0.5f, 0.5f), new(0, 0.5f)], [0, 1, 2, 0, 2, 3])],
            normals.Length == 0 ? null : new(normals, [0, 0, 0, 1, 1, 1])
        );

    [Fact]
    public void ASquareHasTheFiguresOfItsFormula()
    {
        var figures = PartFigures.Of(Square());
        Assert.Equal([2f, 3f, 3f], figures.Middle);
        Assert.Equal(0.25, figures.Density!.Value, 1e-9);
        Assert.Equal((0d, 0d, 0d), (figures.Uvs!.Overlap, figures.Uvs.Outside, figures.Uvs.Flipped));
        Assert.Equal((false, 0d), (figures.HasNormals, figures.BackNormals));
        Assert.Null(PartFigures.Of(Square() with { UvSets = [] }).Uvs);
    }

    [Theory]
    [InlineData(1, 1, 0)]
    [InlineData(1, -1, 0.5)]
    [InlineData(-1, -1, 1)]
    [InlineData(1, 0, 0.5)]
    public void NormalsThatPointToTheBackAreCounted(float first, float second, double back) =>
        Assert.Equal(back, PartFigures.Of(Square(new(0, 0, first), new(0, 0, second))).BackNormals);

    /// <summary>A file of assimp-testmodels with its picture in it: laid down beside the packed model, and named by its material.</summary>
    [Fact]
    public void PicturesWithinAFileAreLaidDown()
    {
        var facts = ModelPacker.Pack(
            "/usr/share/assimp/models/glTF2/BoxTextured-glTF-Binary/BoxTextured.glb",
            Path.Combine(folder, "packed"),
            AsRead.Program
        );
        var material = Assert.Single(facts.Materials);
        var texture = Assert.Single(material.Textures);
        Assert.Equal([0x89, (byte)'P', (byte)'N', (byte)'G'], File.ReadAllBytes(texture.Within!)[..4]);
        Assert.Equal(0, Assert.Single(facts.Parts).MaterialAt);
    }

    /// <summary>Numbers beyond all measure are a sentence, not a crash of the reader.</summary>
    [Theory]
    [InlineData("v 3e38 0 0\nv -3e38 1 0\nv 0 3e38 3e38\no far\nf 1 2 3\n")]
    [InlineData("v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 1e38 0\nvt 0 1\nvt 1 1\no far\nf 1/1 2/2 3/3\n")]
    public void NumbersBeyondAllMeasureAreASentence(string obj)
    {
        File.WriteAllText(Path.Combine(folder, "far.obj"), obj);
        var fault = Assert.Throws<ModelException>(() =>
            ModelPacker.Pack(Path.Combine(folder, "far.obj"), Path.Combine(folder, "packed"), AsRead.Program)
        );
        Assert.Contains("'/far' has positions or UVs so far out", fault.Message, StringComparison.Ordinal);
    }

    /// <summary>What a file only names is kept as it is written, though it leads nowhere.</summary>
    [Fact]
    public void PathsAreKeptAsTheyAreWritten()
    {
        File.WriteAllText(Path.Combine(folder, "x.mtl"), "newmtl brass\nKd 0.5 0.25 1\nmap_Kd D:\\gone\\a b.png\nmap_Pr r.png\n");
        File.WriteAllText(
            Path.Combine(folder, "x.obj"),
            "mtllib x.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\no a\nusemtl brass\nf 1 2 3\no b\nusemtl none\nf 1 2 3\n"
        );
        var facts = ModelPacker.Pack(Path.Combine(folder, "x.obj"), Path.Combine(folder, "packed"), AsRead.Program);
        var brass = facts.Materials.Single(m => m.Name == "brass");
        Assert.Equal(["D:\\gone\\a b.png", "r.png"], brass.Textures.Select(t => t.Written));
        Assert.All(brass.Textures, t => Assert.Null(t.Within));
        Assert.Equal([0.5f, 0.25f, 1f], brass.Values["base_color"]);
        // Each part's number leads to the material that it names, one that the library lacks too.
        Assert.Equal(["brass", "none"], facts.Parts.Select(p => facts.Materials[p.MaterialAt!.Value].Name));
    }
}
