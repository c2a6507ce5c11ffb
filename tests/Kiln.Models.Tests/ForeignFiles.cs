using System.Numerics;
using Kiln.Models.Files.Foreign;
using Kiln.Models.Measures;

namespace Kiln.Models.Tests;

/// <summary>
/// What libassimp reads in a process of its own: units and axes as the file says them, and files that bring the reader down.
/// </summary>
public sealed class ForeignFiles : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-foreign-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private string Write(string name, string text)
    {
        File.WriteAllText(Path.Combine(folder, name), text);
        return Path.Combine(folder, name);
    }

    /// <summary>A triangle of 200 by 100 units in COLLADA 1.4.1, upright in the plane of x and z, at a place of its own.</summary>
    private const string Triangle = """
        <?xml version="1.0" encoding="utf-8"?>
        <COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1">
          <asset><created>2026-01-01T00:00:00</created><modified>2026-01-01T00:00:00</modified>
            <unit name="centimetre" meter="0.01"/><up_axis>Z_UP</up_axis></asset>
          <library_effects><effect id="e"><profile_COMMON><technique sid="t"><lambert>
            <diffuse><color>0.25 0.5 0.75 1</color></diffuse></lambert></technique></profile_COMMON></effect></library_effects>
          <library_materials><material id="m" name="brass"><instance_effect url="#e"/></material></library_materials>
          <library_geometries><geometry id="g" name="plate"><mesh>
            <source id="p"><float_array id="pa" count="9">0 0 0 200 0 0 0 0 100</float_array><technique_common>
              <accessor source="#pa" count="3" stride="3">
                <param name="X" type="float"/><param name="Y" type="float"/><param name="Z" type="float"/>
              </accessor></technique_common></source>
            <vertices id="v"><input semantic="POSITION" source="#p"/></vertices>
            <triangles count="1" material="s"><input semantic="VERTEX" source="#v" offset="0"/><p>0 1 2</p></triangles>
          </mesh></geometry></library_geometries>
          <library_visual_scenes><visual_scene id="vs"><node id="n" name="Plate" type="NODE"><translate>100 0 0</translate>
            <instance_geometry url="#g"><bind_material><technique_common><instance_material symbol="s" target="#m"/>
            </technique_common></bind_material></instance_geometry></node></visual_scene></library_visual_scenes>
          <scene><instance_visual_scene url="#vs"/></scene>
        </COLLADA>
        """;

    [Fact]
    public void UnitsAndAxesAreTheFiles()
    {
        var model = AsRead.Of(Write("plate.dae", Triangle.TrimStart()));
        Assert.Equal(("dae", 0.01, 'Z'), (model.Format, model.MetersPerUnit, model.UpAxis));
        var part = Assert.Single(model.Parts);
        Assert.Equal(("/Plate", "brass", 1), (part.Path, part.Material, part.Triangles));
        var (min, max) = PartMeasures.Bounds(model.Parts);
        Assert.True(Vector3.Distance(min, new(1, 0, 0)) < 1e-5f && Vector3.Distance(max, new(3, 0, 1)) < 1e-5f, $"{min} {max}");
        Assert.Equal(1, PartMeasures.Area(part), 1e-5);
        Assert.Equal([0.25f, 0.5f, 0.75f], Assert.Single(model.Materials).Values["base_color"]);
    }

    [Fact]
    public void AStlHasTheNameItSaysAndNoMaterial()
    {
        var model = AsRead.Of(
            Write(
                "foot.stl",
                "solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid x\n"
            )
        );
        var part = Assert.Single(model.Parts);
        Assert.Equal((null, 1, 0), (part.Material, part.Triangles, part.UvSets.Count));
        Assert.Empty(model.Materials);
        Assert.Equal("/x", part.Path);
    }

    [Fact]
    public void PointsAloneAreNoModel()
    {
        var points = Write(
            "cloud.ply",
            "ply\nformat ascii 1.0\nelement vertex 2\nproperty float x\nproperty float y\nproperty float z\nend_header\n0 0 0\n1 1 1\n"
        );
        Assert.Contains("cloud.ply", Assert.Throws<ModelException>(() => AsRead.Of(points)).Message);
    }

    /// <summary>Bytes of a binary FBX changed and cut off: a model, or a sentence with the file's name.</summary>
    [Fact]
    public void DamagedFilesAreReadOrRefusedWithASentence()
    {
        var whole = File.ReadAllBytes("/usr/share/assimp/models/FBX/huesitos.fbx");
        var random = new Random(21);
        var refused = 0;
        for (var i = 0; i < 16; i++)
        {
            var damaged = whole[..(i % 4 == 0 ? random.Next(whole.Length) : whole.Length)].ToArray();
            for (var k = 0; k < 1 << (i % 8) && i % 4 != 0; k++)
                damaged[random.Next(damaged.Length)] = (byte)random.Next(256);
            var path = Path.Combine(folder, "damaged.fbx");
            File.WriteAllBytes(path, damaged);
            try
            {
                Assert.NotEmpty(AsRead.Of(path).Parts);
            }
            catch (ModelException e)
            {
                refused++;
                Assert.Contains("damaged.fbx", e.Message);
                Assert.DoesNotContain('\n', e.Message);
            }
        }
        Assert.InRange(refused, 4, 16);
    }

    /// <summary>A child that ends before it has said anything, or says nonsense, is a file that cannot be read.</summary>
    [Theory]
    [InlineData("")]
    [InlineData("short")]
    public void AReaderThatDiesIsASentence(string said)
    {
        var program = Path.Combine(folder, "nothing.dll");
        File.WriteAllText(program, said);
        var refused = Assert.Throws<ModelException>(() => ModelFiles.Read(Write("a.stl", "solid"), program));
        Assert.Contains("'a.stl'", refused.Message);
    }

    /// <summary>From one process to another nothing changes.</summary>
    [Fact]
    public void WhatTheChildSendsIsWhatItRead()
    {
        var output = new MemoryStream();
        ForeignWorker.Run(Write("plate.dae", Triangle.TrimStart()), output);
        Assert.True(output.Length > 100);
        var error = new MemoryStream();
        ForeignWorker.Run(Write("broken.dae", "<COLLADA"), error);
        Assert.Contains("broken.dae", System.Text.Encoding.UTF8.GetString(error.ToArray()));
    }
}
