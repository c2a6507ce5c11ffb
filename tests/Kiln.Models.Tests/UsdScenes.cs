using System.Globalization;
using System.Text;

namespace Kiln.Models.Tests;

/// <summary>
/// Invented layers of meshes as text: nested places of every kind, polygons, UVs spread in every way; every mesh with a name of its own.
/// </summary>
internal sealed class UsdScenes
{
    private readonly Random random;
    private readonly StringBuilder text = new();
    private int meshes;

    private UsdScenes(int seed) => random = new(seed);

    public static string Of(int seed)
    {
        var scene = new UsdScenes(seed);
        var unit = scene.One("0.01", "1", "0.0254");
        scene.text.Append(
            $"#usda 1.0\n(\n    \"made up (in {seed})\"\n    defaultPrim = \"Root\"\n    metersPerUnit = {unit}\n"
                + $"    upAxis = \"{scene.One("Y", "Z")}\"\n)\n"
        );
        scene.Xform("Root", 0);
        return scene.text.ToString();
    }

    private string One(params string[] of) => of[random.Next(of.Length)];

    private double Any(double from, double to) => from + random.NextDouble() * (to - from);

    private static string Said(params double[] numbers) =>
        string.Join(", ", numbers.Select(n => ((float)n).ToString("R", CultureInfo.InvariantCulture)));

    private string Triple(double from, double to) => $"({Said(Any(from, to), Any(from, to), Any(from, to))})";

    private void Xform(string name, int depth)
    {
        text.Append($"def Xform \"{name}\"\n{{\n");
        Operations();
        for (var i = 0; i < random.Next(1, 3); i++)
            Mesh();
        if (depth < 3)
            for (var i = 0; i < random.Next(0, 3); i++)
                Xform($"{name}_{i}", depth + 1);
        text.Append("}\n");
    }

    /// <summary>Up to four operations in any order, a pivot among them with its inverse.</summary>
    private void Operations()
    {
        var order = new List<string>();
        void Add(string type, string name, string value)
        {
            if (order.Contains(name))
                return;
            text.Append($"    {type} {name} = {value}\n");
            order.Add(name);
        }
        for (var i = 0; i < random.Next(0, 5); i++)
            switch (random.Next(6))
            {
                case 0:
                    Add("double3", "xformOp:translate", Triple(-50, 50));
                    break;
                case 1:
                    Add("float3", "xformOp:scale", Triple(0.3, 3));
                    break;
                case 2:
                    Add("float", "xformOp:rotate" + One("X", "Y", "Z"), Said(Any(-180, 180)));
                    break;
                case 3:
                    Add("float3", "xformOp:rotate" + One("XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX"), Triple(-180, 180));
                    break;
                case 4:
                    double[] q = [Any(-1, 1), Any(-1, 1), Any(-1, 1), Any(0.1, 1)];
                    var length = Math.Sqrt(q.Sum(n => n * n));
                    Add("quatf", "xformOp:orient", $"({Said([.. q.Select(n => n / length)])})");
                    break;
                default:
                    Add(
                        "matrix4d",
                        "xformOp:transform",
                        $"( ({Said(Any(0.5, 2), Any(-1, 1), 0, 0)}), ({Said(Any(-1, 1), Any(0.5, 2), 0, 0)}), (0, 0, 1, 0), "
                            + $"({Said(Any(-9, 9), Any(-9, 9), Any(-9, 9), 1)}) )"
                    );
                    break;
            }
        if (order.Count > 0)
            text.Append($"    uniform token[] xformOpOrder = [{string.Join(", ", order.Select(o => $"\"{o}\""))}]\n");
    }

    /// <summary>A strip of convex polygons of three to six corners.</summary>
    private void Mesh()
    {
        var faces = random.Next(1, 6);
        var (points, uvs, counts, indices) = (new List<string>(), new List<string>(), new List<int>(), new List<int>());
        for (var f = 0; f < faces; f++)
        {
            var corners = random.Next(3, 7);
            counts.Add(corners);
            for (var i = 0; i < corners; i++)
            {
                var angle = 2 * Math.PI * i / corners;
                indices.Add(points.Count);
                points.Add($"({Said(3 * f + Math.Cos(angle), Math.Sin(angle), 0.3 * f)})");
                uvs.Add($"({Said(0.5 + 0.4 * Math.Cos(angle + f), 0.5 + 0.2 * Math.Sin(angle + f))})");
            }
        }
        text.Append($"    def Mesh \"Mesh_{meshes++}\"\n    {{\n");
        text.Append("        uniform token subdivisionScheme = \"none\"\n");
        text.Append($"        int[] faceVertexCounts = [{string.Join(", ", counts)}]\n");
        text.Append($"        int[] faceVertexIndices = [{string.Join(", ", indices)}]\n");
        text.Append($"        point3f[] points = [{string.Join(", ", points)}]\n");
        switch (random.Next(4))
        {
            case 0:
                Uvs("vertex", uvs, null);
                break;
            case 1:
                Uvs("faceVarying", uvs, null);
                break;
            case 2:
                // Each value once, backwards, and numbers that lead to them.
                uvs.Reverse();
                Uvs("faceVarying", uvs, [.. Enumerable.Range(0, uvs.Count).Reverse()]);
                break;
        }
        text.Append("    }\n");
    }

    private void Uvs(string interpolation, List<string> values, int[]? by)
    {
        text.Append($"        texCoord2f[] primvars:st = [{string.Join(", ", values)}] (\n");
        text.Append($"            interpolation = \"{interpolation}\"\n        )\n");
        if (by is not null)
            text.Append($"        int[] primvars:st:indices = [{string.Join(", ", by)}]\n");
    }
}
