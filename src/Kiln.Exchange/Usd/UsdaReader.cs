using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Maps;
using Kiln.Usd;

namespace Kiln.Exchange.Usd;

/// <summary>Reads the materials of a USD layer whose surface is of the dialect's kind, in the layer's order.</summary>
public static class UsdaReader
{
    private const int MaximumDepth = 200;

    /// <param name="texture">Finds the file behind a path as written.</param>
    /// <exception cref="ExchangeException">It has no such material.</exception>
    public static IReadOnlyList<Network> Read(Stream layer, DialectProfile profile, Func<string, MapFile> texture)
    {
        var prims = UsdLayer.Read(layer).All.Where(p => p.Path.Length > 0).GroupBy(p => p.Path).ToDictionary(g => g.Key, g => g.First());
        var surfaces = Surfaces(prims).ToList();
        var own = surfaces.Where(s => s.Shader.Find("info:id")!.Text == profile.Surface).ToList();
        if (own.Count == 0)
        {
            var others = surfaces.Select(s => s.Shader.Find("info:id")!.Text).Distinct().Take(4).ToList();
            var found = others.Count == 0 ? "" : $"; it has {string.Join(" and ", others)}";
            throw new ExchangeException($"The layer has no material with a surface of {profile.Title}{found}.");
        }
        return [.. own.Select(s => new NetworkVisit(profile, prims, texture).Network(s.Material, s.Shader))];
    }

    private static IEnumerable<(UsdPrim Material, UsdPrim Shader)> Surfaces(Dictionary<string, UsdPrim> prims) =>
        from material in prims.Values
        where material.Type == "Material"
        let surface = material.Find("outputs:surface")?.Connection
        where surface is not null
        let shader = prims.GetValueOrDefault(Split(surface).Prim)
        where shader?.Find("info:id")?.Text is not null
        select (material, shader);

    private static (string Prim, string Property) Split(string connection) =>
        connection.LastIndexOf('.') is > 0 and var dot ? (connection[..dot], connection[(dot + 1)..]) : (connection, "");

    private sealed class NetworkVisit(DialectProfile profile, Dictionary<string, UsdPrim> prims, Func<string, MapFile> texture)
    {
        private readonly List<NetworkNode> nodes = [];
        private readonly Dictionary<string, string> names = [];
        private readonly HashSet<string> open = [];
        private readonly Dictionary<string, NetworkTexture> textures = [];

        public Network Network(UsdPrim material, UsdPrim shader)
        {
            Node(shader, 0);
            // A specular workflow is converted by a published formula, in the primaries it was written for.
            return new(
                profile.Id,
                material.Path[(material.Path.LastIndexOf('/') + 1)..],
                shader.Find("inputs:useSpecularWorkflow")?.Numbers is [not 0, ..] ? "lin_rec709" : "acescg",
                [.. nodes],
                [.. textures.Values]
            );
        }

        private string Node(UsdPrim prim, int depth)
        {
            if (names.TryGetValue(prim.Path, out var known))
                return known;
            if (!open.Add(prim.Path))
                throw new ExchangeException($"The shader '{prim.Path}' feeds itself.");
            if (depth > MaximumDepth)
                throw new ExchangeException("The network is deeper than 200 shaders.");
            var category = prim.Find("info:id")?.Text ?? throw new ExchangeException($"The shader '{prim.Path}' has no info:id.");
            var ports = prim
                .Properties.Values.Where(p => p.Name.StartsWith("inputs:", StringComparison.Ordinal))
                .Select(p => Port(category, p, depth))
                .Where(p => p is not null)
                .Select(p => p!)
                .ToList();
            var name = prim.Path[(prim.Path.LastIndexOf('/') + 1)..];
            for (var i = 2; nodes.Any(n => n.Name == name); i++)
                name = $"{prim.Path[(prim.Path.LastIndexOf('/') + 1)..]}_{i}";
            nodes.Add(
                new(
                    name,
                    category,
                    category == profile.Surface ? "surfaceshader"
                        : category == profile.Image!.Node ? "color3"
                        : "vector2",
                    [.. ports]
                )
            );
            return names[prim.Path] = name;
        }

        private NetworkPort? Port(string category, UsdProperty property, int depth)
        {
            var name = property.Name["inputs:".Length..];
            // The coordinates' own port is called otherwise on the transform than on the picture.
            if (category == profile.Placement!.Node && name == "in")
                name = profile.Placement.TexcoordPort;
            if (category == profile.Placement.TexcoordNode)
                return null;
            if (property.Connection is { } connection)
            {
                var (path, output) = Split(connection);
                if (prims.GetValueOrDefault(path) is not { } from)
                    throw new ExchangeException($"A connection leads to '{path}', which is not in the layer.");
                // An input of the material stands for its value.
                if (output.StartsWith("inputs:", StringComparison.Ordinal))
                    return from.Find(output) is { } outer ? Valued(name, outer with { Type = property.Type }) : null;
                var of = output.StartsWith("outputs:", StringComparison.Ordinal) ? output["outputs:".Length..] : output;
                return new(name, TypeOf(property.Type), Node: Node(from, depth + 1), Output: of is "result" ? null : of);
            }
            return Valued(name, property);
        }

        private NetworkPort? Valued(string name, UsdProperty property)
        {
            if (property.Type == "asset")
            {
                if (property.Text is not { Length: > 0 } written)
                    return null;
                var path = written.StartsWith("./", StringComparison.Ordinal) ? written[2..] : written;
                textures.TryAdd(path, new(path, texture(path), false));
                return new(name, "filename", path);
            }
            if (property.Text is { } text)
                return new(name, property.Type is "token" ? "token" : "string", text);
            return property.Numbers is { Length: > 0 } numbers
                ? new(
                    name,
                    TypeOf(property.Type),
                    property.Type == "bool"
                        ? numbers[0] != 0
                            ? "true"
                            : "false"
                        : string.Join(", ", numbers.Select(n => ((float)n).ToString("R")))
                )
                : null;
        }

        private static string TypeOf(string type) =>
            type switch
            {
                "color3f" => "color3",
                "color4f" or "float4" => "color4",
                "normal3f" or "float3" or "vector3f" => "vector3",
                "float2" or "texCoord2f" => "vector2",
                "int" => "integer",
                "bool" => "boolean",
                _ => type,
            };
    }
}
