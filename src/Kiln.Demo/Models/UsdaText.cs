using System.Globalization;
using System.Numerics;
using System.Text;

namespace Kiln.Demo.Models;

/// <summary>A demo model as a layer of USD in text: parts of a mesh as subsets that are bound to materials.</summary>
internal static class UsdaText
{
    public static byte[] Of(string root, IEnumerable<(string Mesh, DemoPart[] Parts)> meshes, IEnumerable<DemoMaterial> materials)
    {
        var text = new StringBuilder(
            $"#usda 1.0\n(\n    defaultPrim = \"{root}\"\n    metersPerUnit = 1\n    upAxis = \"Y\"\n)\n\ndef Xform \"{root}\"\n{{\n"
        );
        foreach (var (mesh, parts) in meshes)
            Mesh(text, root, mesh, parts);
        text.Append("    def Scope \"materials\"\n    {\n");
        foreach (var material in materials)
            Material(text, root, material);
        text.Append("    }\n}\n");
        return Encoding.ASCII.GetBytes(text.ToString());
    }

    private static void Mesh(StringBuilder text, string root, string name, DemoPart[] parts)
    {
        string List<T>(IEnumerable<T> all, Func<T, string> one) => $"[{string.Join(", ", all.Select(one))}]";
        string Number(int n) => n.ToString(CultureInfo.InvariantCulture);
        string Place(Vector3 v) => FormattableString.Invariant($"({v.X:0.######}, {v.Y:0.######}, {v.Z:0.######})");
        string Uv(Vector2 v) => FormattableString.Invariant($"({v.X:0.#####}, {v.Y:0.#####})");
        var (positions, places) = (new List<int>(), new List<int>());
        foreach (var part in parts)
        {
            positions.Add(positions.Count == 0 ? 0 : positions[^1] + parts[positions.Count - 1].Positions.Count);
            places.Add(places.Count == 0 ? 0 : places[^1] + parts[places.Count - 1].Uvs.Count);
        }
        var faces = parts.SelectMany((p, n) => p.Faces.Select(f => (Part: n, Face: f))).ToList();
        text.Append($"    def Mesh \"{name}\"{(parts.Length == 1 ? Api : "")}\n    {{\n");
        text.Append("        uniform token subdivisionScheme = \"none\"\n");
        text.Append($"        point3f[] points = {List(parts.SelectMany(p => p.Positions), Place)}\n");
        text.Append($"        int[] faceVertexCounts = {List(faces, f => Number(f.Face.Count))}\n");
        text.Append(
            $"        int[] faceVertexIndices = {List(faces.SelectMany(f => f.Face.Select(c => positions[f.Part] + c.Position)), Number)}\n"
        );
        text.Append($"        texCoord2f[] primvars:st = {List(parts.SelectMany(p => p.Uvs), Uv)} (\n");
        text.Append("            interpolation = \"faceVarying\"\n        )\n");
        text.Append(
            $"        int[] primvars:st:indices = {List(faces.SelectMany(f => f.Face.Select(c => places[f.Part] + c.Place)), Number)}\n"
        );
        if (parts.Length == 1)
            text.Append($"        rel material:binding = </{root}/materials/{parts[0].Material}>\n");
        else
            for (var n = 0; n < parts.Length; n++)
            {
                var own = faces.Index().Where(f => f.Item.Part == n).Select(f => f.Index);
                text.Append($"\n        def GeomSubset \"{parts[n].Name}\"{Api}\n        {{\n");
                text.Append("            uniform token elementType = \"face\"\n            uniform token familyName = \"materialBind\"\n");
                text.Append($"            int[] indices = {List(own, Number)}\n");
                text.Append($"            rel material:binding = </{root}/materials/{parts[n].Material}>\n        }}\n");
            }
        text.Append("    }\n\n");
    }

    private const string Api = " (\n    prepend apiSchemas = [\"MaterialBindingAPI\"]\n)";

    /// <summary>A preview surface; of the roles baseColor and roughness.</summary>
    private static void Material(StringBuilder text, string root, DemoMaterial material)
    {
        var path = $"/{root}/materials/{material.Name}";
        text.Append($"        def Material \"{material.Name}\"\n        {{\n");
        text.Append($"            token outputs:surface.connect = <{path}/surface.outputs:surface>\n");
        text.Append("            def Shader \"surface\"\n            {\n                uniform token info:id = \"UsdPreviewSurface\"\n");
        foreach (var (role, _) in material.Pictures)
            text.Append(
                role == "baseColor"
                    ? $"                color3f inputs:diffuseColor.connect = <{path}/{role}.outputs:rgb>\n"
                    : $"                float inputs:roughness.connect = <{path}/{role}.outputs:r>\n"
            );
        text.Append("                token outputs:surface\n            }\n");
        foreach (var (role, file) in material.Pictures)
        {
            text.Append($"            def Shader \"{role}\"\n            {{\n                uniform token info:id = \"UsdUVTexture\"\n");
            text.Append($"                asset inputs:file = @{file}@\n");
            text.Append($"                token inputs:sourceColorSpace = \"{(role == "baseColor" ? "sRGB" : "raw")}\"\n");
            text.Append(role == "baseColor" ? "                float3 outputs:rgb\n" : "                float outputs:r\n");
            text.Append("            }\n");
        }
        text.Append("        }\n");
    }
}
