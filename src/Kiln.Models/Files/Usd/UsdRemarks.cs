using Kiln.Usd;

namespace Kiln.Models.Files.Usd;

/// <summary>What a layer has that does not come in, counted on the way, as sentences.</summary>
internal sealed class UsdRemarks
{
    private const int Named = 3;

    private static readonly string[] Arcs = ["references", "payload", "inherits", "specializes"];

    private static readonly HashSet<string> Shapes =
    [
        "Cube",
        "Sphere",
        "Cylinder",
        "Cone",
        "Capsule",
        "Plane",
        "BasisCurves",
        "NurbsCurves",
        "NurbsPatch",
        "HermiteCurves",
        "Points",
        "TetMesh",
        "Volume",
    ];

    private readonly List<string> sublayers = [],
        arcs = [],
        shapes = [],
        instancers = [],
        collections = [],
        operations = [],
        hidden = [];

    private int broken,
        animated,
        subdivided;

    /// <summary>Prims that are there for handling only.</summary>
    public int StandIns { get; set; }

    /// <summary>Paths that something is bound to and nothing stands at.</summary>
    public List<string> MissingMaterials { get; } = [];

    public void Layer(UsdPrim layer) => sublayers.AddRange(layer.Metadata.GetValueOrDefault("subLayers")?.Texts ?? []);

    public void Prim(UsdPrim prim)
    {
        if (Arcs.Any(a => prim.Metadata.TryGetValue(a, out var at) && at is not { Texts.Count: 0 }))
            arcs.Add(prim.Path);
        if (Shapes.Contains(prim.Type))
            shapes.Add(prim.Path);
        if (prim.Type == "PointInstancer")
            instancers.Add(prim.Path);
        if (prim.Properties.Keys.Any(k => k.StartsWith("material:binding:collection", StringComparison.Ordinal)))
            collections.Add(prim.Path);
        if (prim.Find("visibility")?.Text == "invisible")
            hidden.Add(prim.Path);
    }

    /// <summary>Of its place, an operation that cannot be followed.</summary>
    public void Operation(UsdPrim prim, string operation) => operations.Add($"{operation} of {prim.Path}");

    public void Mesh(UsdPrim prim, int brokenFaces, bool isMoved)
    {
        broken += brokenFaces;
        if (isMoved || prim.Properties.Any(p => p.Value.IsAnimated && p.Key == "points"))
            animated++;
        // A mesh that says nothing is a subdivision surface (UsdGeom, Mesh).
        if (prim.Find("subdivisionScheme")?.Text is not "none")
            subdivided++;
    }

    public IEnumerable<string> Said()
    {
        if (sublayers.Count > 0)
            yield return $"Sublayers are not read: {List(sublayers)}.";
        if (arcs.Count > 0)
            yield return $"What stands in references, payloads or inherited prims is not read, at {List(arcs)}.";
        if (instancers.Count > 0)
            yield return $"Instances are left out, at {List(instancers)}.";
        if (shapes.Count > 0)
            yield return $"Curves, points and shapes that are no mesh are left out: {List(shapes)}.";
        if (operations.Count > 0)
            yield return $"These do not stand where the file has them, because their place cannot be followed: {List(operations)}.";
        if (StandIns > 0)
            yield return $"Guides and proxies are left out: {StandIns}.";
        if (hidden.Count > 0)
            yield return $"Marked invisible in the file, and here all the same: {List(hidden)}.";
        if (collections.Count > 0)
            yield return $"Materials that are bound by collections are not read, at {List(collections)}.";
        if (MissingMaterials.Count > 0)
            yield return $"Materials that parts name are not in the layer: {List(MissingMaterials)}.";
        if (animated > 0)
            yield return $"Animation is left out; meshes that stand as they do at its first time: {animated}.";
        if (subdivided > 0)
            yield return $"Meshes that the file wants subdivided come in as they are: {subdivided}.";
        if (broken > 0)
            yield return $"Faces that point at nothing, at what is no number, or have fewer than three corners are left out: {broken}.";
    }

    private static string List(List<string> all) =>
        string.Join(", ", all.Take(Named)) + (all.Count > Named ? $" and {all.Count - Named} more" : "");
}
