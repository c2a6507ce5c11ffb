using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Arithmetic;

namespace Kiln.Viewport.Graphs;

/// <summary>From one colour space to another: decode, matrix, encode.</summary>
internal static class ConversionText
{
    public static string Of(ConvertSpaceNode node, string colour, ShaderNumbers numbers)
    {
        var transform = SpaceConversions.Between(node);
        if (transform.IsIdentity)
            return colour;
        var linear = Curve(transform.From.Encoding, colour, numbers, "Decode");
        var m = transform.Matrix;
        string Row(double a, double b, double c) => $"dot({linear}, {numbers.Put(new Vector3((float)a, (float)b, (float)c))})";
        var moved = m.IsIdentity() ? linear : $"vec3({Row(m.M11, m.M12, m.M13)}, {Row(m.M21, m.M22, m.M23)}, {Row(m.M31, m.M32, m.M33)})";
        return Curve(transform.To.Encoding, moved, numbers, "Encode");
    }

    private static string Curve(ColourEncoding encoding, string colour, ShaderNumbers numbers, string way)
    {
        if (encoding == ColourEncoding.Linear)
            return colour;
        if (encoding.Exponent is { } exponent)
            return $"kilnPower({colour}, vec3({numbers.Put((float)(way == "Decode" ? exponent : 1 / exponent))}))";
        var name =
            encoding == ColourEncoding.Srgb ? "Srgb"
            : encoding == ColourEncoding.AcesCct ? "AcesCct"
            : encoding == ColourEncoding.AcesCc ? "AcesCc"
            : throw new InvalidOperationException($"The curve {encoding} has no shader.");
        return $"kiln{name}{way}({colour})";
    }
}
