using System.Globalization;
using System.Text;
using Kiln.Looks.Graph;

namespace Kiln.Viewport.Graphs;

/// <summary>A curve as a function of its own: its points are numbers, how many there are is structure.</summary>
internal static class CurveText
{
    public static string Of(CurveNode node, string input, ShaderNumbers numbers, StringBuilder functions, int at)
    {
        var points = numbers.Put(node);
        functions.Append(CultureInfo.InvariantCulture, $"float curve{at}(float x) {{\n  if (!(x > {points[0]}.x)) return {points[0]}.y;\n");
        for (var i = 1; i < points.Count; i++)
            functions.Append(
                CultureInfo.InvariantCulture,
                $"  if (x < {points[i]}.x) return kilnCurvePiece({points[i - 1]}, {points[i]}, x);\n"
            );
        functions.Append(CultureInfo.InvariantCulture, $"  return {points[^1]}.y;\n}}\n");
        return node.Type == ShadeType.Scalar
            ? $"curve{at}({input})"
            : $"vec3(curve{at}({input}.x), curve{at}({input}.y), curve{at}({input}.z))";
    }
}
