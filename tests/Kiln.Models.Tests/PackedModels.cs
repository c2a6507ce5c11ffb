using System.Text;
using Kiln.Models.Measures;
using Kiln.Models.Packing;

namespace Kiln.Models.Tests;

/// <summary>
/// Models that a child reads and leaves packed: nothing is lost on the way, whatever the format, and what is damaged is a sentence.
/// </summary>
public sealed class PackedModels : IDisposable
{
    private const string Samples = "/usr/share/assimp/models/";

    private readonly string folder = Directory.CreateTempSubdirectory("kiln-packed-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private string Packed => Path.Combine(folder, "packed");

    [Theory]
    [InlineData("OBJ/spider.obj")]
    [InlineData("FBX/box.fbx")]
    [InlineData("Collada/duck.dae")]
    public void WhatIsPackedIsWhatWasRead(string name)
    {
        var facts = ModelPacker.Pack(Samples + name, Packed, AsRead.Program);
        var read = AsRead.Of(Samples + name);
        using var file = File.OpenRead(Packed);
        var packed = PackedModel.Read(file);
        Assert.Equal((read.Format, read.MetersPerUnit, read.UpAxis), (packed.Format, packed.MetersPerUnit, packed.UpAxis));
        Assert.Equal(read.Parts.Count, packed.Parts.Count);
        foreach (var (was, now) in read.Parts.Zip(packed.Parts))
        {
            Assert.Equal((was.Path, was.Name, was.Material), (now.Path, now.Name, now.Material));
            Assert.Equal(was.Positions, now.Positions);
            Assert.Equal(was.Corners, now.Corners);
            Assert.Equal(was.Normals?.Directions, now.Normals?.Directions);
            Assert.Equal(was.UvSets.SelectMany(s => s.Places), now.UvSets.SelectMany(s => s.Places));
            Assert.Equal(was.UvSets.SelectMany(s => s.Corners), now.UvSets.SelectMany(s => s.Corners));
        }
        Assert.Equal(read.Parts.Select(p => (p.Path, p.Triangles)), facts.Parts.Select(p => (p.Path, p.Triangles)));
        Assert.Equal(read.Parts.Select(PartMeasures.Area), facts.Parts.Select(p => p.Area));
    }

    [Fact]
    public void WhatCannotBeReadIsASentenceAndLeavesNothing()
    {
        var path = Path.Combine(folder, "broken.fbx");
        File.WriteAllText(path, "no model at all");
        Assert.Contains("broken.fbx", Assert.Throws<ModelException>(() => ModelPacker.Pack(path, Packed, AsRead.Program)).Message);
        Assert.False(File.Exists(Packed));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(5)]
    [InlineData(200)]
    [InlineData(-1)]
    public void APackedModelThatIsCutOffIsASentence(int bytes)
    {
        ModelPacker.Pack(Samples + "OBJ/box.obj", Packed, AsRead.Program);
        var whole = File.ReadAllBytes(Packed);
        using var cut = new MemoryStream(whole[..(bytes < 0 ? whole.Length - 1 : bytes)]);
        Assert.Contains("cut off", Assert.Throws<ModelException>(() => PackedModel.Read(cut)).Message);
    }

    [Fact]
    public void AnotherFormIsNotTakenForOurs()
    {
        using var other = new MemoryStream(Encoding.ASCII.GetBytes("kiln model 9\n and more that nobody can read"));
        Assert.Contains("does not know", Assert.Throws<ModelException>(() => PackedModel.Read(other)).Message);
    }
}
