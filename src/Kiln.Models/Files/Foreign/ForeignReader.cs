using System.Globalization;
using System.Numerics;
using System.Text.RegularExpressions;
using Kiln.Looks.Readings;

namespace Kiln.Models.Files.Foreign;

/// <summary>
/// FBX, COLLADA, PLY, STL and 3DS by libassimp, in the file's own axes and in metres. It works in this process, which a hostile file may
/// bring down: whoever serves people asks <see cref="ForeignWorker"/>.
/// </summary>
internal sealed unsafe partial class ForeignReader
{
    public static readonly IReadOnlyList<string> Endings = [".fbx", ".dae", ".ply", ".stl", ".3ds"];

    private const int MostNodes = 1_000_000,
        MostDepth = 500;

    /// <summary>Kinds of textures by the library's numbers, and the roles in which materials of files have them (common practice, no
    /// source). The first of a role counts.</summary>
    private static readonly (uint Kind, MapRole Role)[] Kinds =
    [
        (12, MapRole.BaseColor),
        (1, MapRole.BaseColor),
        (15, MapRole.Metalness),
        (16, MapRole.Roughness),
        (7, MapRole.Glossiness),
        (2, MapRole.SpecularColor),
        (13, MapRole.Normal),
        (6, MapRole.Normal),
        (5, MapRole.Bump),
        (9, MapRole.Height),
        (17, MapRole.AmbientOcclusion),
        (8, MapRole.Opacity),
        (14, MapRole.Emission),
        (4, MapRole.Emission),
    ];

    private readonly string path,
        ending;
    private readonly Assimp.Scene* scene;
    private readonly List<string> remarks = [];
    private readonly List<ModelPart> parts = [];
    private readonly PartPaths paths = new();
    private int nodes,
        withoutFaces,
        broken;
    private long triangles;

    private ForeignReader(string path, Assimp.Scene* scene)
    {
        this.scene = scene;
        (this.path, ending) = (path, Path.GetExtension(path).ToLowerInvariant());
    }

    /// <exception cref="ModelException">It cannot be read, or has no faces.</exception>
    public static Model InProcess(string path)
    {
        var properties = Assimp.CreateProperties();
        Assimp.Scene* scene;
        try
        {
            // Joints that only rigs have are no nodes of ours; COLLADA stays in its own axes, as it says them.
            Assimp.Set(properties, "IMPORT_FBX_PRESERVE_PIVOTS", 0);
            Assimp.Set(properties, "IMPORT_COLLADA_IGNORE_UP_DIRECTION", 1);
            // What people call a node, not what documents point at it by.
            Assimp.Set(properties, "IMPORT_COLLADA_USE_COLLADA_NAMES", 1);
            // Bones without a mesh are none.
            Assimp.Set(properties, "IMPORT_NO_SKELETON_MESHES", 1);
            scene = Assimp.Import(path, Assimp.Triangulate | Assimp.JoinIdenticalVertices, 0, properties);
        }
        catch (DllNotFoundException e)
        {
            throw new ModelException("FBX, COLLADA, PLY, STL and 3DS need the package libassimp5, which is not installed.", e);
        }
        finally
        {
            Assimp.ReleaseProperties(properties);
        }
        if (scene is null)
            throw new ModelException($"'{Path.GetFileName(path)}' cannot be read: {Assimp.Error.ReplaceLineEndings(" ").Trim()}");
        try
        {
            return new ForeignReader(path, scene).Read();
        }
        finally
        {
            Assimp.Release(scene);
        }
    }

    private Model Read()
    {
        if (scene->Root is null)
            throw new ModelException($"'{Path.GetFileName(path)}' has no meshes.");
        var (units, up) = Lie();
        // What the library turns by its root is turned back: a 3DS file counts Z upwards.
        var root = ending == ".3ds" ? Matrix4x4.Identity : Placement(scene->Root);
        // COLLADA is in metres already.
        Visit(scene->Root, "", root * Matrix4x4.CreateScale(ending == ".fbx" ? (float)units : 1), 0);
        if (scene->AnimationCount > 0 || HasBones())
            remarks.Add("Animation, skins and morphs are left out; the model is as it lies in the file.");
        if (scene->CameraCount > 0 || scene->LightCount > 0)
            remarks.Add("Cameras and lights are left out.");
        if (withoutFaces > 0)
            remarks.Add($"Points and lines are left out: {withoutFaces}.");
        if (broken > 0)
            remarks.Add($"Triangles that point at nothing, or at what is no number, are left out: {broken}.");
        if (parts.Count == 0)
            throw new ModelException(
                withoutFaces > 0
                    ? $"'{Path.GetFileName(path)}' has points or lines only; a model needs faces."
                    : $"'{Path.GetFileName(path)}' has no meshes."
            );
        return new(ending[1..], units, up, parts, Materials(), remarks);
    }

    private bool HasBones()
    {
        for (var i = 0; i < scene->MeshCount; i++)
            if (scene->Meshes[i]->BoneCount > 0 || scene->Meshes[i]->MorphCount > 0)
                return true;
        return false;
    }

    /// <summary>Metres to a unit and the axis that points upwards, as the file says; 1 and Y where its format has no word for it.</summary>
    private (double Units, char Up) Lie()
    {
        double Said(string key, double otherwise)
        {
            for (var i = 0; scene->Metadata is not null && i < scene->Metadata->Count; i++)
                if (scene->Metadata->Keys[i].ToString() == key && scene->Metadata->Values[i].Number is { } number)
                    return number;
            return otherwise;
        }
        switch (ending)
        {
            case ".fbx":
                // In centimetres; axes are counted from 0.
                var factor = Said("UnitScaleFactor", 1);
                return (factor is > 0 and < 1e9 ? factor / 100 : 0.01, "XYZ"[(int)Math.Clamp(Said("UpAxis", 1), 0, 2)]);
            case ".dae":
                var head = Head();
                var up = UpAxis().Match(head) is { Success: true } said ? said.Groups[1].Value[0] : 'Y';
                var unit = Unit().Match(head) is { Success: true } u ? double.Parse(u.Groups[1].Value, CultureInfo.InvariantCulture) : 1;
                return (unit > 0 ? unit : 1, up);
            case ".3ds":
                return (1, 'Z');
            default:
                return (1, 'Y');
        }
    }

    /// <summary>The beginning of a document of text, where its assets are described.</summary>
    private string Head()
    {
        using var reader = new StreamReader(path);
        var buffer = new char[1 << 16];
        return new(buffer, 0, reader.ReadBlock(buffer, 0, buffer.Length));
    }

    [GeneratedRegex(@"<up_axis>\s*([XYZ])_UP\s*</up_axis>")]
    private static partial Regex UpAxis();

    [GeneratedRegex(@"<unit\b[^>]*\bmeter\s*=\s*[""'](\d{1,9}(?:\.\d{1,20})?(?:[eE]-?\d{1,2})?)[""']")]
    private static partial Regex Unit();

    /// <summary>The library's rows are ours turned: its translation stands in the last column.</summary>
    private static Matrix4x4 Placement(Assimp.Node* node)
    {
        var m = node->Placement;
        return new(m[0], m[4], m[8], m[12], m[1], m[5], m[9], m[13], m[2], m[6], m[10], m[14], m[3], m[7], m[11], m[15]);
    }

    private void Visit(Assimp.Node* node, string above, Matrix4x4 placed, int depth)
    {
        if (depth > MostDepth || ++nodes > MostNodes)
            throw new ModelException($"'{Path.GetFileName(path)}' has nodes without end.");
        var isRoot = node == scene->Root;
        var name = node->Name.ToString();
        // The root is the library's own; a file whose meshes lie on it is called as the file is.
        if (isRoot || name.Length == 0)
            name = node->MeshCount == 0 ? "" : Path.GetFileNameWithoutExtension(path);
        var here = name.Length == 0 ? above : paths.Of(above, name);
        if (node->MeshCount > 0)
            Meshes(node, here, name, placed);
        for (var i = 0; i < node->ChildCount; i++)
            Visit(node->Children[i], isRoot ? above : here, Placement(node->Children[i]) * placed, depth + 1);
    }

    /// <summary>A part for each material that the meshes of a node have.</summary>
    private void Meshes(Assimp.Node* node, string here, string name, Matrix4x4 place)
    {
        var byMaterial = new SortedDictionary<int, GatheredTriangles>();
        var order = new List<int>();
        for (var i = 0; i < node->MeshCount; i++)
        {
            if (node->Meshes[i] >= scene->MeshCount)
                continue;
            var mesh = scene->Meshes[node->Meshes[i]];
            var material = mesh->Material < scene->MaterialCount ? (int)mesh->Material : -1;
            if (!byMaterial.TryGetValue(material, out var gathered))
            {
                byMaterial[material] = gathered = new();
                order.Add(material);
            }
            Gather(mesh, gathered);
        }
        order.RemoveAll(m => byMaterial[m].Count == 0);
        foreach (var material in order)
        {
            var called = material < 0 ? null : NameOf(material);
            var own = called ?? "without material";
            parts.Add(
                order.Count > 1
                    ? byMaterial[material].Part(paths.Of(here, own), own, called, place)
                    : byMaterial[material].Part(here, name, called, place)
            );
        }
    }

    private void Gather(Assimp.Mesh* mesh, GatheredTriangles to)
    {
        var corners = new List<(int, int, int)>((int)Math.Min(mesh->FaceCount, 1 << 20));
        for (var i = 0; i < mesh->FaceCount; i++)
        {
            var face = mesh->Faces[i];
            if (face.Count == 3)
                corners.Add(((int)face.Corners[0], (int)face.Corners[1], (int)face.Corners[2]));
            else
                withoutFaces++;
        }
        triangles += corners.Count;
        if (triangles > ModelFiles.MostTriangles)
            throw ModelFiles.TooMany(path);
        if (corners.Count == 0)
            return;
        var count = (int)mesh->VertexCount;
        var uvs = new List<(string, float[])>();
        for (var set = 0; set < Assimp.MostUvSets; set++)
            if (mesh->Uvs[set] != 0 && mesh->UvComponents[set] >= 2)
            {
                var from = (Vector3*)mesh->Uvs[set];
                var places = new float[2 * count];
                for (var i = 0; i < count; i++)
                    // Gathered as glTF counts them, downwards.
                    (places[2 * i], places[2 * i + 1]) = (from[i].X, 1 - from[i].Y);
                uvs.Add((set == 0 ? "st" : string.Create(CultureInfo.InvariantCulture, $"st{set}"), places));
            }
        broken += to.Add(Floats(mesh->Positions, count), uvs, corners, mesh->Normals is null ? null : Floats(mesh->Normals, count));
    }

    private static float[] Floats(Vector3* from, int count) => new ReadOnlySpan<float>(from, 3 * count).ToArray();

    /// <summary>What the library calls the material of what has none.</summary>
    private const string NoMaterial = "DefaultMaterial";

    /// <summary>Null for what the library made up.</summary>
    private string? NameOf(int material) =>
        Assimp.TextOf(scene->Materials[material], "?mat.name") is { Length: > 0 } name && name != NoMaterial ? name : null;

    /// <summary>Those that a part has.</summary>
    private List<ModelMaterial> Materials()
    {
        var used = parts.Select(p => p.Material).ToHashSet();
        var found = new List<ModelMaterial>();
        for (var i = 0; i < scene->MaterialCount; i++)
        {
            if (NameOf(i) is { } name && used.Contains(name) && found.All(f => f.Name != name))
                found.Add(new(name, Textures(scene->Materials[i]), Values(scene->Materials[i])));
        }
        return found;
    }

    private List<ModelTexture> Textures(void* material)
    {
        var textures = new List<ModelTexture>();
        foreach (var (kind, role) in Kinds)
            if (textures.All(t => t.Role != role) && Assimp.TextOf(material, "$tex.file", kind) is { Length: > 0 } written)
                textures.Add(new(role, written, null) { Within = Within(written) });
        return textures;
    }

    /// <summary>The bytes of a picture that the file holds.</summary>
    private ReadOnlyMemory<byte>? Within(string written)
    {
        for (var i = 0; i < scene->TextureCount; i++)
        {
            var picture = scene->Textures[i];
            if (written != $"*{i}" && picture->Name.ToString() != written)
                continue;
            return picture->Height == 0
                ? new ReadOnlySpan<byte>(picture->Data, (int)Math.Min(picture->Width, int.MaxValue)).ToArray()
                : null;
        }
        return null;
    }

    private static Dictionary<string, float[]> Values(void* material)
    {
        var values = new Dictionary<string, float[]>();
        if ((Assimp.NumbersOf(material, "$clr.base") ?? Assimp.NumbersOf(material, "$clr.diffuse")) is [_, _, _, ..] colour)
            values["base_color"] = colour[..3];
        if (Assimp.NumbersOf(material, "$clr.emissive") is [_, _, _, ..] light)
            values["emission_color"] = light[..3];
        foreach (
            var (key, input) in new[]
            {
                ("$mat.opacity", "geometry_opacity"),
                ("$mat.refracti", "specular_ior"),
                ("$mat.metallicFactor", "base_metalness"),
                ("$mat.roughnessFactor", "specular_roughness"),
            }
        )
            // Shares that are none say nothing.
            if (Assimp.NumbersOf(material, key) is [>= 0 and var number, ..] && (number <= 1 || input == "specular_ior"))
                values[input] = [number];
        if (!values.ContainsKey("specular_roughness") && Assimp.NumbersOf(material, "$mat.shininess") is [> 0 and var exponent, ..])
            // A Blinn lobe of that exponent as a width; common practice, no source.
            values["specular_roughness"] = [MathF.Sqrt(MathF.Sqrt(2 / (exponent + 2)))];
        return values;
    }
}
