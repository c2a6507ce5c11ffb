using System.Numerics;
using System.Text.Json;

namespace Kiln.Models.Files.Gltf;

/// <summary>
/// Meshes of a glTF 2.0 file at the places of its nodes, with materials. Animation, skins, morphs, cameras and lights are left out; what
/// is compressed is not read, but its materials are. V is turned, so that it counts upwards.
/// </summary>
internal sealed class GltfModelReader
{
    private const int MostNodes = 1_000_000,
        MostDepth = 1000;

    private readonly string path;
    private readonly GltfContainer container;
    private readonly GltfAccessors accessors;
    private readonly List<string> remarks = [];
    private readonly List<ModelPart> parts = [];
    private readonly PartPaths paths = new();
    private readonly HashSet<int> visited = [];
    private bool isCompressed,
        isMoving;
    private int withoutTriangles,
        broken;
    private long triangles;

    private GltfModelReader(string path)
    {
        this.path = path;
        container = GltfContainer.Open(path);
        accessors = new(container, path);
    }

    /// <exception cref="ModelException">It is damaged, or has no triangles.</exception>
    public static Model Read(string path) => new GltfModelReader(path).Read();

    private Model Read()
    {
        var root = container.Root;
        foreach (var node in Roots(root))
            Visit(node, "", Matrix4x4.Identity, 0);
        if (root.List("animations") is { } moves && moves.GetArrayLength() > 0 || isMoving)
            remarks.Add("Animation, skins and morphs are left out; the model is as it lies in the file.");
        if (isCompressed)
            remarks.Add("Meshes that are compressed are not read; their materials are.");
        if (withoutTriangles > 0)
            remarks.Add($"Meshes of points and lines are left out: {withoutTriangles}.");
        if (broken > 0)
            remarks.Add($"Triangles that point at nothing, or at what is no number, are left out: {broken}.");
        var materials = GltfMaterials.Read(container, new(Path.GetDirectoryName(Path.GetFullPath(path))!));
        if (parts.Count == 0 && !(isCompressed && materials.Count > 0))
            throw new ModelException(
                withoutTriangles > 0 ? $"'{Path.GetFileName(path)}' has points or lines only; a model needs faces."
                : broken > 0 ? $"'{Path.GetFileName(path)}' has no triangle that points at numbers: {broken} are broken."
                : $"'{Path.GetFileName(path)}' has no meshes."
            );
        var format = Path.GetExtension(path).Equals(".glb", StringComparison.OrdinalIgnoreCase) ? "glb" : "gltf";
        return new(format, 1, 'Y', parts, materials, remarks);
    }

    /// <summary>The nodes of the scene to be shown; without scenes those that no other has.</summary>
    private static List<int> Roots(JsonElement root)
    {
        if (root.Item("scenes", root.Number("scene") ?? 0) is { } scene)
            return Wholes(scene.List("nodes"));
        var count = root.List("nodes")?.GetArrayLength() ?? 0;
        var owned = Enumerable.Range(0, count).SelectMany(i => Wholes(root.Item("nodes", i)?.List("children"))).ToHashSet();
        return [.. Enumerable.Range(0, count).Where(i => !owned.Contains(i))];
    }

    private static List<int> Wholes(JsonElement? list) => list is { } l ? [.. l.EnumerateArray().Select(v => v.Whole() ?? -1)] : [];

    private void Visit(int index, string above, Matrix4x4 placed, int depth)
    {
        if (container.Root.Item("nodes", index) is not { } node)
        {
            remarks.Add($"There is no node {index}.");
            return;
        }
        if (!visited.Add(index) || depth > MostDepth || visited.Count > MostNodes)
        {
            remarks.Add($"Node {index} is in the tree more than once, or too deep; it is read where it comes first.");
            return;
        }
        var mesh = node.Number("mesh");
        var name =
            node.Text("name") is { Length: > 0 } own ? own
            : mesh is { } m && container.Root.Item("meshes", m)?.Text("name") is { Length: > 0 } ofMesh ? ofMesh
            : $"node {index + 1}";
        // A node without a name and without a mesh says nothing in a path.
        var here = mesh is null && string.IsNullOrEmpty(node.Text("name")) ? above : paths.Of(above, name);
        var place = Placement(node) * placed;
        isMoving |= node.Number("skin") is not null;
        if (mesh is { } meshIndex)
            Mesh(meshIndex, here, name, place);
        foreach (var child in Wholes(node.List("children")))
            Visit(child, here, place, depth + 1);
    }

    private static Matrix4x4 Placement(JsonElement node)
    {
        if (node.Reals("matrix", 16) is { } m)
            return new(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11], m[12], m[13], m[14], m[15]);
        var result = Matrix4x4.Identity;
        if (node.Reals("scale", 3) is { } s)
            result *= Matrix4x4.CreateScale(s[0], s[1], s[2]);
        if (node.Reals("rotation", 4) is { } q)
            result *= Matrix4x4.CreateFromQuaternion(Quaternion.Normalize(new(q[0], q[1], q[2], q[3])));
        if (node.Reals("translation", 3) is { } t)
            result *= Matrix4x4.CreateTranslation(t[0], t[1], t[2]);
        return result;
    }

    /// <summary>A part for each material that the mesh has.</summary>
    private void Mesh(int index, string here, string name, Matrix4x4 place)
    {
        if (container.Root.Item("meshes", index)?.List("primitives") is not { } primitives)
        {
            remarks.Add($"{here}: there is no mesh {index}.");
            return;
        }
        var byMaterial = primitives.EnumerateArray().GroupBy(p => p.Number("material")).ToList();
        foreach (var group in byMaterial)
        {
            var material = group.Key is { } m ? container.Root.Item("materials", m)?.Text("name") : null;
            var gathered = new GatheredTriangles();
            foreach (var primitive in group)
                Gather(primitive, gathered);
            if (gathered.Count == 0)
                continue;
            var own = group.Key is { } named ? GltfMaterials.NameOf(container.Root, named) : "without material";
            var part =
                byMaterial.Count > 1
                    ? gathered.Part(paths.Of(here, own), own, material, place)
                    : gathered.Part(here, name, material, place);
            parts.Add(part with { MaterialAt = group.Key });
        }
    }

    private void Gather(JsonElement primitive, GatheredTriangles to)
    {
        if (
            primitive.Object("extensions") is { } extensions
            && (extensions.Object("KHR_draco_mesh_compression") ?? extensions.Object("EXT_meshopt_compression")) is not null
        )
        {
            isCompressed = true;
            return;
        }
        if (primitive.Object("attributes") is not { } attributes || attributes.Number("POSITION") is not { } at)
            return;
        var mode = primitive.Number("mode") ?? 4;
        if (mode is < 4 or > 6)
        {
            withoutTriangles++;
            return;
        }
        isMoving |= primitive.List("targets") is not null;
        var positions = accessors.Floats(at, 3);
        var count = positions.Length / 3;
        var indices = primitive.Number("indices") is { } i ? accessors.Indices(i) : [.. Enumerable.Range(0, count)];
        triangles += indices.Length;
        if (triangles / 3 > ModelFiles.MostTriangles)
            throw ModelFiles.TooMany(path);
        var uvs = new List<(string, float[])>();
        for (var set = 0; attributes.Number($"TEXCOORD_{set}") is { } uv; set++)
            if (accessors.Floats(uv, 2) is { } places && places.Length == 2 * count)
                uvs.Add(($"TEXCOORD_{set}", places));
        var shading = attributes.Number("NORMAL") is { } normal ? accessors.Floats(normal, 3) : null;
        broken += to.Add(positions, uvs, Corners(indices, mode), shading);
    }

    /// <summary>Strips and fans as single triangles, wound alike (glTF 2.0, 3.7.2.1).</summary>
    private static IEnumerable<(int A, int B, int C)> Corners(int[] indices, int mode)
    {
        if (mode == 4)
            for (var i = 0; i + 2 < indices.Length; i += 3)
                yield return (indices[i], indices[i + 1], indices[i + 2]);
        else
            for (var i = 0; i + 2 < indices.Length; i++)
                yield return mode == 6 ? (indices[i + 1], indices[i + 2], indices[0])
                : i % 2 == 0 ? (indices[i], indices[i + 1], indices[i + 2])
                : (indices[i], indices[i + 2], indices[i + 1]);
    }
}
