using Kiln.Dialects.Networks;

namespace Kiln.Exchange.MaterialX;

/// <summary>
/// Names of the node definitions in MaterialX 1.39's standard library: "ND_", the node's category, and the types that tell its forms apart.
/// USD calls a MaterialX shader by this name. Held against the library itself in the tests.
/// </summary>
internal static class DefinitionNames
{
    private const string Prefix = "ND_";

    /// <summary>Ends the names of forms that take plain numbers beside a colour or a vector.</summary>
    private const string ByNumbers = "FA";

    /// <summary>Types as they are written in names; of two of which one begins the other, the longer first.</summary>
    private static readonly string[] Types =
    [
        "surfaceshader",
        "displacementshader",
        "color3",
        "color4",
        "vector2",
        "vector3",
        "vector4",
        "matrix33",
        "matrix44",
        "integer",
        "boolean",
        "string",
        "float",
    ];

    /// <summary>The standard definition that the node is of.</summary>
    public static string Of(NetworkNode node) =>
        Prefix
        + node.Category
        + "_"
        + node.Category switch
        {
            // Told apart by what goes in, not by what comes out.
            "extract" or "dotproduct" or "magnitude" or "displacement" => node.Ports[0].Type,
            "normalmap" => node.Port("scale")?.Type ?? "float",
            "convert" => $"{node.Ports[0].Type}_{node.Type}",
            "mix" when node.Port("mix")?.Type == node.Type && node.Type != "float" => $"{node.Type}_{node.Type}",
            "transformmatrix" => node.Type
                + (node.Type, node.Port("mat")?.Type) switch
                {
                    ("vector3", "matrix44") => "M4",
                    ("vector2", _) => "M3",
                    _ => "",
                },
            "mix"
            or "ifgreater"
            or "ifgreatereq"
            or "ifequal"
            or "switch"
            or "hsvadjust"
            or "image"
            or "rotate3d"
            or "rotate2d"
            or "place2d" => node.Type,
            _ => node.Type + (IsShader(node.Type) || node.Type == "float" || node.Ports.All(p => p.Type != "float") ? "" : ByNumbers),
        };

    /// <summary>The category in a definition's name; null where the name is built otherwise.</summary>
    public static string? CategoryIn(string definition)
    {
        if (!definition.StartsWith(Prefix, StringComparison.Ordinal))
            return null;
        var ends = Types
            .Select(t => definition.IndexOf("_" + t, Prefix.Length, StringComparison.Ordinal))
            .Where(i => i > Prefix.Length)
            .ToList();
        return ends.Count == 0 ? null : definition[Prefix.Length..ends.Min()];
    }

    private static bool IsShader(string type) => type.EndsWith("shader", StringComparison.Ordinal);
}
