using System.Numerics;
using Kiln.Usd;

namespace Kiln.Models.Files.Usd;

/// <summary>
/// Meshes and materials of one USD layer: text, binary, or in a .usdz. Nothing is composed: what stands in other layers, or is made by
/// instancers, is left out with a remark.
/// </summary>
internal sealed class UsdModelReader
{
    /// <summary>What a prim has from those above it.</summary>
    private sealed record Above(string Path, Matrix4x4 Place, string? Material, bool IsAnimated);

    private readonly string file;
    private readonly string format;
    private readonly UsdPrim layer;
    private readonly Func<string, byte[]?> within;
    private readonly Dictionary<string, UsdPrim> prims;
    private readonly PartPaths paths = new();
    private readonly List<ModelPart> parts = [];
    private readonly List<ModelMaterial> materials = [];
    private readonly Dictionary<string, int> numbers = [];
    private readonly UsdRemarks remarks = new();
    private readonly float scale;
    private long triangles;

    private UsdModelReader(string file, string format, UsdPrim layer, Func<string, byte[]?> within)
    {
        (this.file, this.format, this.layer, this.within) = (file, format, layer, within);
        prims = layer.All.Where(p => p.Path.Length > 0).GroupBy(p => p.Path).ToDictionary(g => g.Key, g => g.First());
        // A layer that says nothing is in centimetres (UsdGeom, "Stage metrics").
        MetersPerUnit = layer.Metadata.GetValueOrDefault("metersPerUnit")?.Numbers is [> 0 and < 1e6 and var unit] ? unit : 0.01;
        scale = (float)MetersPerUnit;
    }

    private double MetersPerUnit { get; }

    /// <exception cref="ModelException">It is no layer that is read, or has no meshes.</exception>
    public static Model Read(string path)
    {
        var name = Path.GetFileName(path);
        try
        {
            using var stream = File.OpenRead(path);
            Span<byte> head = stackalloc byte[8];
            var length = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
            stream.Position = 0;
            if (!head[..length].StartsWith("PK"u8))
                return new UsdModelReader(path, UsdLayer.IsBinary(head) ? "usdc" : "usda", UsdLayer.Read(stream, UsdLimits.Models), _ =>
                    null
                ).Read();
            var (layer, beside) = UsdzFiles.Read(stream);
            return new UsdModelReader(path, "usdz", UsdLayer.Read(new MemoryStream(layer), UsdLimits.Models), beside).Read();
        }
        catch (UsdException e)
        {
            throw new ModelException($"'{name}': {e.Message}", e);
        }
    }

    private Model Read()
    {
        var search = new TextureSearch(Path.GetDirectoryName(Path.GetFullPath(file))!);
        var told = new List<string>();
        var read = new UsdMaterials(prims, search, within, told);
        foreach (var prim in prims.Values.Where(p => p is { Type: "Material", Specifier: "def" }))
        {
            numbers[prim.Path] = materials.Count;
            materials.Add(read.Read(prim));
        }
        remarks.Layer(layer);
        foreach (var prim in layer.Children)
            Visit(prim, new("", Matrix4x4.Identity, null, false));
        if (parts.Count == 0)
            throw new ModelException(
                $"'{Path.GetFileName(file)}' has no meshes.{remarks.Said().FirstOrDefault() switch
            {
                { } first => " " + first,
                null => "",
            }}"
            );
        var up = layer.Metadata.GetValueOrDefault("upAxis")?.Text is "Z" ? 'Z' : 'Y';
        return new(format, MetersPerUnit, up, parts, materials, [.. remarks.Said(), .. told.Distinct()]);
    }

    private void Visit(UsdPrim prim, Above above)
    {
        if (prim.Specifier != "def" || prim.Metadata.GetValueOrDefault("active")?.Numbers is [0] || prim.Type is "Material" or "Shader")
            return;
        if (prim.Find("purpose")?.Text is "guide" or "proxy")
        {
            remarks.StandIns++;
            return;
        }
        remarks.Prim(prim);
        if (prim.Type == "PointInstancer")
            return;
        var place = UsdPlacement.Of(prim, out var stands, o => remarks.Operation(prim, o));
        var isSubset = prim.Type == "GeomSubset";
        var here = new Above(
            prim.Type is "Mesh" || isSubset ? above.Path : paths.Of(above.Path, prim.Name),
            stands ? place : place * above.Place,
            Bound(prim) ?? above.Material,
            above.IsAnimated || prim.Properties.Any(p => p.Value.IsAnimated && p.Key.StartsWith("xformOp:", StringComparison.Ordinal))
        );
        if (prim.Type == "Mesh")
            here = here with { Path = Mesh(prim, here) };
        foreach (var child in prim.Children)
            if (child.Type != "GeomSubset")
                Visit(child, here);
    }

    private static string? Bound(UsdPrim prim) =>
        ((string[])["material:binding", "material:binding:full", "material:binding:preview"])
            .Select(n => prim.Find(n))
            .Select(p => p?.Text ?? p?.Texts?[0])
            .FirstOrDefault(t => t is not null);

    /// <summary>A part for each subset that is bound, and for the faces that are in none.</summary>
    /// <returns>The path of what stands below it.</returns>
    private string Mesh(UsdPrim prim, Above here)
    {
        var path = paths.Of(here.Path, prim.Name);
        var mesh = new UsdMesh(prim, here.Place, scale);
        triangles += mesh.Most;
        if (triangles > ModelFiles.MostTriangles)
            throw ModelFiles.TooMany(file);
        var subsets = prim.Children.Where(c => c is { Type: "GeomSubset", Specifier: "def" } && IsOfMaterials(c)).ToList();
        var left = subsets.Count == 0 ? [] : Enumerable.Range(0, mesh.Faces).ToHashSet();
        foreach (var subset in subsets)
        {
            // A face that two subsets have is of the first.
            var faces = (UsdMesh.Wholes(subset, "indices") ?? []).Where(left.Remove).ToList();
            Add(mesh.Part(paths.Of(path, subset.Name), subset.Name, null, faces), Bound(subset) ?? here.Material);
        }
        Add(mesh.Part(path, prim.Name, null, subsets.Count == 0 ? null : left.Order()), here.Material);
        remarks.Mesh(prim, mesh.Broken, here.IsAnimated);
        return path;
    }

    private static bool IsOfMaterials(UsdPrim subset) =>
        subset.Find("elementType")?.Text is null or "face"
        && (subset.Find("familyName")?.Text == "materialBind" || Bound(subset) is not null);

    private void Add(ModelPart? part, string? bound)
    {
        if (part is null)
            return;
        if (bound is not null && !numbers.ContainsKey(bound))
        {
            remarks.MissingMaterials.Add(bound);
            numbers[bound] = materials.Count;
            materials.Add(new(bound[(bound.LastIndexOf('/') + 1)..], [], new Dictionary<string, float[]>()));
        }
        parts.Add(bound is null ? part : part with { Material = materials[numbers[bound]].Name, MaterialAt = numbers[bound] });
    }
}
