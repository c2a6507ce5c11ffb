using System.Diagnostics;
using System.Numerics;
using System.Text.Json;
using Kiln.Models.Measures;

namespace Kiln.Models.Tests;

/// <summary>Files by others (assimp-testmodels of Debian) as the assimp tool reads them: triangles, UVs, materials and sizes.</summary>
public class AgainstTheAssimpTool
{
    private const string Folder = "/usr/share/assimp/models";

    /// <summary>A polygon that goes many times around a square: which area it has is a matter of taste.</summary>
    private const string RoundAndRound = "OBJ/box_longline.obj";

    public static TheoryData<string> Files(string folder, string ending) =>
        [
            .. Directory
                .GetFiles(Path.Combine(Folder, folder), "*" + ending, SearchOption.AllDirectories)
                .Select(f => Path.GetRelativePath(Folder, f))
                .Order(StringComparer.Ordinal),
        ];

    /// <summary>A mesh of the tool: triangles alone count.</summary>
    private sealed record Mesh(string Name, string? Material, int Triangles, bool HasUvs, double Area, Vector3 Min, Vector3 Max);

    [Theory]
    [MemberData(nameof(Files), "OBJ", ".obj")]
    public void AnObjIsReadAsTheToolReadsIt(string name)
    {
        var theirs = TheirMeshes(Path.Combine(Folder, name));
        if (name == "OBJ/box_UTF16BE.obj")
            // The tool finds nothing in it; it is box.obj in another encoding.
            theirs = TheirMeshes(Path.Combine(Folder, "OBJ", "box.obj"));
        if (theirs is null || theirs.Count == 0)
        {
            Assert.Throws<ModelException>(() => AsRead.Of(Path.Combine(Folder, name)));
            return;
        }
        var ours = AsRead.Of(Path.Combine(Folder, name)).Parts;
        // The tool begins a mesh anew with each change of the material, also back to one that its group had.
        var meshes =
            from mesh in theirs
            group mesh by (mesh.Name, mesh.Material) into g
            select (g.Key.Material, g.Sum(m => m.Triangles), g.Any(m => m.HasUvs));
        Assert.Equal(Parts(meshes), Parts(ours.Select(p => (p.Material, p.Triangles, p.UvSets.Count > 0))));
        if (name == RoundAndRound)
            return;
        SameShape(theirs, ours);
    }

    private static void SameShape(List<Mesh> theirs, IReadOnlyList<ModelPart> ours)
    {
        var area = theirs.Sum(m => m.Area);
        Assert.Equal(area, ours.Sum(PartMeasures.Area), area * 1e-4);
        var (min, max) = PartMeasures.Bounds(ours);
        var (theirMin, theirMax) = (theirs.Select(m => m.Min).Aggregate(Vector3.Min), theirs.Select(m => m.Max).Aggregate(Vector3.Max));
        var size = Vector3.Distance(theirMin, theirMax);
        Assert.True(
            Vector3.Distance(min, theirMin) < 1e-4f * size && Vector3.Distance(max, theirMax) < 1e-4f * size,
            $"{min} {max}, {theirMin} {theirMax}"
        );
    }

    /// <summary>Broken on purpose: a model of what is whole, or a sentence.</summary>
    [Theory]
    [MemberData(nameof(Files), "invalid", ".obj")]
    public void ABrokenFileIsReadOrRefusedWithASentence(string name)
    {
        try
        {
            Assert.NotEmpty(AsRead.Of(Path.Combine(Folder, name)).Parts);
        }
        catch (ModelException e)
        {
            Assert.Contains(Path.GetFileName(name), e.Message);
        }
    }

    /// <summary>Meshes at the places of their nodes. What the tool refuses is refused too, or read.</summary>
    [Theory]
    [MemberData(nameof(Files), "glTF2", ".gltf")]
    [MemberData(nameof(Files), "glTF2", ".glb")]
    public void AGltfIsReadAsTheToolReadsIt(string name)
    {
        var theirs = TheirMeshes(Path.Combine(Folder, name), "-ptv");
        Model? read = null;
        string? sentence = null;
        try
        {
            read = AsRead.Of(Path.Combine(Folder, name));
        }
        catch (ModelException e)
        {
            sentence = e.Message;
        }
        Assert.True(read is not null || sentence!.Length > 20);
        if (theirs is not { Count: > 0 })
            return;
        if (theirs.Any(m => !float.IsFinite(m.Max.X)))
        {
            // The tool hands out what is no number.
            Assert.Contains("broken", sentence);
            return;
        }
        Assert.True(read is not null, sentence);
        var ours = read.Parts;
        if (name.Contains("/draco/", StringComparison.Ordinal))
        {
            Assert.Contains(read.Remarks, r => r.Contains("compressed"));
            Assert.Equal(theirs.Select(m => m.Material).Distinct().Order(), read.Materials.Select(m => m.Name).Distinct().Order());
            return;
        }
        Assert.Equal(
            Parts(ByMaterial(theirs.Select(m => (m.Material, m.Triangles, false)))),
            Parts(ByMaterial(ours.Select(p => (p.Material, p.Triangles, false))))
        );
        Assert.Equal(theirs.Any(m => m.HasUvs), ours.Any(p => p.UvSets.Count > 0));
        SameShape(theirs, ours);
    }

    /// <summary>
    /// What the library reads, in a process of its own: the same triangles and shapes as its tool has, in metres and in the file's axes,
    /// which the tool turns upright where COLLADA and 3DS have others. What the tool refuses is refused with a sentence.
    /// </summary>
    [Theory]
    [MemberData(nameof(Files), "FBX", ".fbx")]
    [MemberData(nameof(Files), "FBX", ".FBX")]
    [MemberData(nameof(Files), "Collada", ".dae")]
    [MemberData(nameof(Files), "Collada", ".DAE")]
    [MemberData(nameof(Files), "PLY", ".ply")]
    [MemberData(nameof(Files), "STL", ".stl")]
    [MemberData(nameof(Files), "STL", ".STL")]
    [MemberData(nameof(Files), "3DS", ".3ds")]
    [MemberData(nameof(Files), "3DS", ".3DS")]
    [MemberData(nameof(Files), "invalid", ".ply")]
    [MemberData(nameof(Files), "invalid", ".3ds")]
    public void WhatTheLibraryReadsIsAsItsToolHasIt(string name)
    {
        var theirs = TheirMeshes(Path.Combine(Folder, name), "-ptv");
        Model read;
        try
        {
            read = AsRead.Of(Path.Combine(Folder, name));
        }
        catch (ModelException e)
        {
            Assert.Contains(Path.GetFileName(name), e.Message);
            // The tool makes a mesh of bones where there is none, and hands out what is no number.
            Assert.True(
                theirs is not { Count: > 0 } || theirs.Any(m => m.Material == "SkeletonMaterial" || !float.IsFinite(m.Max.X)),
                e.Message
            );
            return;
        }
        Assert.NotNull(theirs);
        Assert.Equal(
            Parts(ByMaterial(theirs.Select(m => (m.Material, m.Triangles, false)))),
            Parts(ByMaterial(read.Parts.Select(p => (p.Material, p.Triangles, false))))
        );
        Assert.Equal(theirs.Any(m => m.HasUvs), read.Parts.Any(p => p.UvSets.Count > 0));
        Assert.All(read.Parts, p => Assert.True(p.Material is null || read.Materials.Any(m => m.Name == p.Material)));
        var turns = read.Format is "dae" or "3ds";
        Vector3 Theirs(Vector3 v) =>
            (turns ? read.UpAxis : 'Y') switch
            {
                'Z' => new(v.X, v.Z, -v.Y),
                'X' => new(-v.Y, v.X, v.Z),
                _ => v,
            };
        var units = read.Format == "fbx" ? (float)read.MetersPerUnit : 1;
        SameShape(theirs, [.. read.Parts.Select(p => p with { Positions = [.. p.Positions.Select(v => Theirs(v) / units)] })]);
    }

    /// <summary>With its places in the world the tool puts meshes of one material together.</summary>
    private static IEnumerable<(string?, int, bool)> ByMaterial(IEnumerable<(string? Material, int Triangles, bool)> parts) =>
        parts.GroupBy(p => p.Material).Select(g => (g.Key, g.Sum(p => p.Triangles), false));

    private static List<string> Parts(IEnumerable<(string? Material, int Triangles, bool HasUvs)> parts) =>
        // The tool gives a name to what has no material.
        [
            .. parts
                .Select(p => $"{(p.Material is null or "DefaultMaterial" ? "none" : p.Material)} {p.Triangles} {p.HasUvs}")
                .Order(StringComparer.Ordinal),
        ];

    /// <summary>Null where the tool refuses the file.</summary>
    private static List<Mesh>? TheirMeshes(string file, params string[] more)
    {
        var folder = Directory.CreateTempSubdirectory("kiln-assimp-").FullName;
        try
        {
            var to = Path.Combine(folder, "out.json");
            var start = new ProcessStartInfo("assimp", ["export", file, to, "-fassjson", "-tri", .. more])
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            };
            using (var tool = Process.Start(start)!)
            {
                tool.StandardOutput.ReadToEnd();
                tool.WaitForExit();
            }
            if (!File.Exists(to))
                return null;
            using var json = JsonDocument.Parse(File.ReadAllText(to));
            var root = json.RootElement;
            if (!root.TryGetProperty("meshes", out var meshes))
                return [];
            var materials = root.GetProperty("materials").EnumerateArray().Select(NameOf).ToList();
            return [.. meshes.EnumerateArray().Select(m => Of(m, materials)).Where(m => m.Triangles > 0)];
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static string? NameOf(JsonElement material) =>
        material
            .GetProperty("properties")
            .EnumerateArray()
            .Where(p => p.GetProperty("key").GetString() == "?mat.name")
            .Select(p => p.GetProperty("value").GetString())
            .FirstOrDefault();

    private static Mesh Of(JsonElement mesh, List<string?> materials)
    {
        var numbers = mesh.GetProperty("vertices")
            .EnumerateArray()
            .Select(v => v.ValueKind == JsonValueKind.Number ? v.GetSingle() : float.NaN)
            .ToArray();
        var positions = Enumerable
            .Range(0, numbers.Length / 3)
            .Select(i => new Vector3(numbers[3 * i], numbers[3 * i + 1], numbers[3 * i + 2]))
            .ToArray();
        var faces = mesh.GetProperty("faces").EnumerateArray().Select(f => f.EnumerateArray().Select(i => i.GetInt32()).ToArray());
        var triangles = faces.Where(f => f.Length == 3).ToList();
        var used = triangles.SelectMany(f => f).Distinct().Select(i => positions[i]).DefaultIfEmpty().ToList();
        var part = new ModelPart("", "", null, positions, [.. triangles.SelectMany(f => f)], [], null);
        return new(
            mesh.GetProperty("name").GetString()!,
            materials[mesh.GetProperty("materialindex").GetInt32()],
            triangles.Count,
            mesh.TryGetProperty("texturecoords", out _),
            PartMeasures.Area(part),
            used.Aggregate(Vector3.Min),
            used.Aggregate(Vector3.Max)
        );
    }
}
