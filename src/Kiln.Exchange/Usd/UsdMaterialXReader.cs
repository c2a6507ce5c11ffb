using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.MaterialX;
using Kiln.Looks.Maps;
using Kiln.Usd;

namespace Kiln.Exchange.Usd;

/// <summary>
/// Reads the MaterialX network of a USD layer: the materials that have one of the dialect's kind, beside another network or alone.
/// </summary>
public static class UsdMaterialXReader
{
    private const int MostSteps = 500;

    /// <summary>Whether networks of the dialect can be in a layer: it has the standard library's nodes only.</summary>
    public static bool Knows(DialectProfile profile) =>
        profile is { Document: DocumentKind.MaterialX, Definitions: NodeDefinitionSource.Standard };

    /// <summary>What the dialect's surface is called there, in quotes.</summary>
    public static string SurfaceOf(DialectProfile profile) => $"\"ND_{profile.Surface}_surfaceshader\"";

    /// <param name="texture">Finds the file behind a path as written.</param>
    /// <exception cref="ExchangeException">It has no such material.</exception>
    public static IReadOnlyList<Network> Read(Stream layer, DialectProfile profile, Func<string, MapFile> texture)
    {
        var prims = UsdLayer.Read(layer).All.Where(p => p.Path.Length > 0).GroupBy(p => p.Path).ToDictionary(g => g.Key, g => g.First());
        var visit = new Visit(prims);
        var found = new List<Network>();
        foreach (var material in prims.Values.Where(p => p.Type == "Material"))
            if (
                visit.Shader(material, UsdMaterialX.SurfaceOutput, "outputs:surface") is { } surface
                && visit.Find(surface)?.Category == profile.Surface
            )
            {
                var nodes = prims
                    .Values.Where(p => p.Type == "Shader")
                    .Select(p => visit.Find(p.Path))
                    .Where(n => n is not null)
                    .Select(n => n!)
                    .ToList();
                // The layer has no space of its own: that of its first plain colour is the network's, and one in another says so. Where
                // none is plain, ours, in which defaults are defaults.
                var plain = nodes.SelectMany(n => n.Ports).Where(p => p.Type is "color3" or "color4" && p.Value is not null).ToList();
                var space = plain.Count == 0 ? "acescg" : plain.Select(p => p.Space).FirstOrDefault(s => s is not null) ?? "lin_rec709";
                var displacement = visit.Shader(material, UsdMaterialX.DisplacementOutput, "outputs:displacement");
                found.Add(
                    MaterialXReader.Of(
                        nodes,
                        material.Path[(material.Path.LastIndexOf('/') + 1)..],
                        visit.NameOf(surface),
                        displacement is null ? null : visit.NameOf(displacement),
                        profile.Id,
                        space,
                        texture
                    )
                );
            }
        return found.Count > 0 ? found : throw new ExchangeException($"The layer has no material with a surface of {profile.Title}.");
    }

    private sealed class Visit(Dictionary<string, UsdPrim> prims)
    {
        private readonly HashSet<string> alone =
        [
            .. prims.Values.Where(p => p.Type == "Shader").GroupBy(p => Last(p.Path)).Where(g => g.Count() == 1).Select(g => g.Key),
        ];

        /// <summary>A shader's own name where no other shader of the layer has it, else its whole path.</summary>
        public string NameOf(string path) => alone.Contains(Last(path)) ? Last(path) : path.TrimStart('/');

        private static string Last(string path) => path[(path.LastIndexOf('/') + 1)..];

        /// <summary>Path of the shader that the first of the material's outputs leads to; null where none does.</summary>
        public string? Shader(UsdPrim material, params string[] outputs) =>
            outputs
                .Select(material.Find)
                .Where(p => p?.Connection is not null)
                .Select(p => Behind(p!))
                .Where(p => p.Connection is not null && Find(Split(p.Connection).Prim) is not null)
                .Select(p => Split(p.Connection!).Prim)
                .FirstOrDefault();

        /// <summary>The node that a shader of a MaterialX definition stands for; null for another shader.</summary>
        public NetworkNode? Find(string path)
        {
            if (
                prims.GetValueOrDefault(path) is not { Type: "Shader" } prim
                || prim.Find("info:id")?.Text is not { } id
                || DefinitionNames.CategoryIn(id) is not { } category
            )
                return null;
            var inputs = prim.Properties.Values.Where(p => p.Name.StartsWith("inputs:", StringComparison.Ordinal));
            return new(
                NameOf(path),
                category,
                TypeOf(
                    prim.Properties.Values.FirstOrDefault(p => p.Name.StartsWith("outputs:", StringComparison.Ordinal))?.Type ?? "float",
                    id
                ),
                [.. inputs.Select(Port).Where(p => p is not null).Select(p => p!)]
            );
        }

        private static NetworkPort? Valued(string name, UsdProperty property) =>
            property switch
            {
                { Type: "asset", Text: { Length: > 0 } file } => new(
                    name,
                    "filename",
                    file.StartsWith("./", StringComparison.Ordinal) ? file[2..] : file,
                    Space: property.Space
                ),
                { Type: "asset" } => null,
                { Text: { } text } => new(name, "string", text),
                { Numbers: { Length: > 0 } numbers } => new(
                    name,
                    TypeOf(property.Type),
                    property.Type == "bool"
                        ? numbers[0] != 0
                            ? "true"
                            : "false"
                        : string.Join(", ", numbers.Select(n => ((float)n).ToString("R"))),
                    Space: property.Space
                ),
                _ => null,
            };

        private NetworkPort? Port(UsdProperty property)
        {
            var name = property.Name["inputs:".Length..];
            var end = Behind(property);
            if (end.Connection is not { } connection)
                return Valued(name, end with { Type = property.Type });
            var (prim, output) = Split(connection);
            return new(
                name,
                TypeOf(property.Type),
                Node: NameOf(prim),
                Output: output["outputs:".Length..] is "out" or "surface" or "displacement" ? null : output["outputs:".Length..]
            );
        }

        /// <summary>
        /// What a property is connected to, past the inputs and outputs of materials and graphs: a shader's output, or a value.
        /// </summary>
        private UsdProperty Behind(UsdProperty property)
        {
            for (var steps = 0; property.Connection is { } connection; steps++)
            {
                if (steps > MostSteps)
                    throw new ExchangeException($"The connection '{connection}' leads back to itself.");
                var (path, name) = Split(connection);
                if (prims.GetValueOrDefault(path) is not { } prim)
                    throw new ExchangeException($"A connection leads to '{path}', which is not in the layer.");
                if (prim.Type == "Shader" && name.StartsWith("outputs:", StringComparison.Ordinal))
                    return property;
                property = prim.Find(name)
                    ?? throw new ExchangeException($"A connection leads to '{connection}', which is not in the layer.");
            }
            return property;
        }

        private static (string Prim, string Property) Split(string connection) =>
            connection.LastIndexOf('.') is > 0 and var dot ? (connection[..dot], connection[(dot + 1)..]) : (connection, "");

        private static string TypeOf(string type, string definition) =>
            type != "token" ? TypeOf(type)
            : definition.EndsWith("_surfaceshader", StringComparison.Ordinal) ? "surfaceshader"
            : definition.Contains("_displacement_", StringComparison.Ordinal) ? Network.DisplacementType
            : "string";

        private static string TypeOf(string type) =>
            type switch
            {
                "color3f" => "color3",
                "color4f" => "color4",
                "float2" or "texCoord2f" => "vector2",
                "float3" or "vector3f" or "normal3f" => "vector3",
                "float4" => "vector4",
                "int" => "integer",
                "bool" => "boolean",
                "matrix3d" => "matrix33",
                "matrix4d" => "matrix44",
                "asset" => "filename",
                "token" => "string",
                _ => type,
            };
    }
}
