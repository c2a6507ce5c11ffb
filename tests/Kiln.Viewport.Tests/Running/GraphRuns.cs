using System.Globalization;
using System.Numerics;
using System.Runtime.Intrinsics;
using System.Text;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Simd;
using Kiln.Viewport.Graphs;

namespace Kiln.Viewport.Tests.Running;

/// <summary>The same nodes at the same points by the shader in a browser and by <see cref="ShadeProgram"/>.</summary>
internal static class GraphRuns
{
    /// <summary>u, v, footprint; strewn by the additive recurrence of the plastic number, beyond one repeat on all sides.</summary>
    public static Vector4[] Points(int count, float footprint) =>
        [
            .. Enumerable
                .Range(0, count)
                .Select(i => new Vector4((0.37f + 0.7548777f * i) % 1 * 3 - 1, (0.61f + 0.5698403f * i) % 1 * 3 - 1, footprint, 0)),
        ];

    /// <summary>The same nodes at the same points, eight at once, as the proof asks for them.</summary>
    public static async Task<Vector3[][]> EightAsync(ShadeGraph graph, IReadOnlyList<int> roots, MapTextures textures, Vector4[] points)
    {
        var program = await ShadeProgram.LoadAsync(graph, roots, textures, null);
        var eight = new WideProgram(program);
        var registers = eight.NewRegisters();
        var found = roots.Select(_ => new Vector3[points.Length]).ToArray();
        Vector256<float> Of(int from, Func<Vector4, float> number) =>
            Vector256.Create([.. points[from..(from + WideMath.Lanes)].Select(number)]);
        for (var i = 0; i < points.Length; i += WideMath.Lanes)
        {
            eight.Run(Of(i, p => p.X), Of(i, p => p.Y), Of(i, p => p.Z), registers);
            for (var r = 0; r < roots.Count; r++)
            for (var lane = 0; lane < WideMath.Lanes; lane++)
                found[r][i + lane] = registers[program.Register(roots[r])][lane];
        }
        return found;
    }

    public static async Task<(Vector3[][] Shader, Vector3[][] Program)> BothAsync(
        ShaderBrowser browser,
        ShadeGraph graph,
        IReadOnlyList<int> roots,
        MapTextures textures,
        Vector4[] points
    )
    {
        var names = roots.Select((node, i) => ($"r[{i}]", node)).ToDictionary(r => r.Item1, r => r.node);
        var shader = GraphShader.Of(
            graph,
            names,
            _ => ShadeType.Colour,
            string.Create(CultureInfo.InvariantCulture, $"void values(vec2 uv, float footprint, out vec3 r[{roots.Count}])"),
            new MapPlan(null)
        );
        var arrays = new List<ShaderBrowser.MapPictures>();
        foreach (var array in shader.Maps.Arrays)
            arrays.Add(
                new(
                    array,
                    await Task.WhenAll(
                        array.Layers.Select(l => textures.GetAsync(new(l.File, l.Reading, Placement.Identity), graph.Working, null))
                    )
                )
            );
        var written = browser.Run(
            Fragment(shader, roots.Count),
            roots.Count,
            [new("uPoints", points)],
            new Dictionary<string, IReadOnlyList<Vector4>> { [ShaderNumbers.Name] = shader.Numbers.Entries },
            arrays
        );
        var program = await ShadeProgram.LoadAsync(graph, roots, textures, null);
        var registers = program.NewRegisters();
        var expected = roots.Select(_ => new Vector3[points.Length]).ToArray();
        for (var i = 0; i < points.Length; i++)
        {
            program.Run(new(points[i].X, points[i].Y), points[i].Z, registers);
            for (var r = 0; r < roots.Count; r++)
                expected[r][i] = registers[program.Register(roots[r])];
        }
        return ([.. written.Select(w => w.Select(v => v.AsVector3()).ToArray())], expected);
    }

    private static string Fragment(GraphShader shader, int roots)
    {
        var choose = new StringBuilder();
        for (var i = 0; i < roots; i++)
            choose.Append(CultureInfo.InvariantCulture, $"  if (uRoot == {i}) written = vec4(r[{i}], 1.0);\n");
        return $$"""
            #version 300 es
            precision highp float;
            precision highp int;
            uniform highp sampler2D uPoints;
            uniform int uRoot;
            out vec4 written;
            {{shader.Source}}
            void main() {
              vec4 point = texelFetch(uPoints, ivec2(gl_FragCoord.xy), 0);
              vec3 r[{{roots}}];
              values(point.xy, point.z, r);
            {{choose}}}
            """;
    }

    /// <summary>The greatest difference, and where; beside the size of the number where that is above 1.</summary>
    public static (float Most, string Where) Most(Vector3[] shader, Vector3[] program, Vector4[] points)
    {
        var (most, where) = (0f, "");
        for (var i = 0; i < program.Length; i++)
        {
            var away = (shader[i] - program[i]).Length() / MathF.Max(1, program[i].Length());
            if (away > most || float.IsNaN(away))
                (most, where) = (
                    float.IsNaN(away) ? float.PositiveInfinity : away,
                    $"at {points[i]}: {shader[i]} by the shader, {program[i]} by the program"
                );
        }
        return (most, where);
    }
}
