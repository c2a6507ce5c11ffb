using System.Globalization;
using System.Numerics;
using System.Security.Cryptography;
using System.Text;
using Kiln.Looks.Graph;
using Kiln.Scattering;
using Kiln.Viewport.Graphs;
using Kiln.Viewport.Surfaces;

namespace Kiln.Viewport;

/// <summary>
/// A surface as a shader: its parameters by its graph, and the lobes that it has. Looks of one structure have one text; what tells them
/// apart are numbers and maps.
/// </summary>
public sealed class LookShader
{
    /// <summary>Directions among the nodes of a surface, and what stands for one that nothing turns.</summary>
    private static readonly (string Name, string Otherwise)[] Directions =
    [
        ("normal", "vec3(0.0, 0.0, 1.0)"),
        ("coatNormal", "vec3(0.0, 0.0, 1.0)"),
        ("tangent", "vec3(1.0, 0.0, 0.0)"),
        ("coatTangent", "vec3(1.0, 0.0, 0.0)"),
    ];

    private LookShader(GraphShader graph, SurfaceModel model, string source, bool isOpaque, bool letsLightIn, IReadOnlyList<int> tiles)
    {
        Parameters = graph.Numbers.Parameters;
        (Numbers, Maps, Model, Source, IsOpaque, LetsLightIn, Tiles) = (
            graph.Numbers.Entries,
            graph.Maps.Arrays,
            model,
            source,
            isOpaque,
            letsLightIn,
            tiles
        );
        Structure = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(source)));
    }

    /// <summary>
    /// GLSL ES 3.0 without a version line: <see cref="SurfaceText"/>, and <c>void kilnLook(vec2 uv, float footprint, out KilnParameters p,
    /// out KilnDirections d)</c>.
    /// </summary>
    public string Source { get; }

    /// <summary>The same for the same text: SHA-256, 64 hex digits.</summary>
    public string Structure { get; }

    public IReadOnlyList<Vector4> Numbers { get; private set; }

    /// <summary>Numbers that may be changed by name.</summary>
    public IReadOnlyList<ShaderParameter> Parameters { get; }

    public IReadOnlyList<MapArray> Maps { get; }

    public SurfaceModel Model { get; }

    /// <summary>Whether the surface is there everywhere.</summary>
    public bool IsOpaque { get; }

    /// <summary>Whether light may pass through the body.</summary>
    public bool LetsLightIn { get; }

    /// <summary>The UDIM tiles of its maps, in order; none where no map has tiles.</summary>
    public IReadOnlyList<int> Tiles { get; }

    /// <summary>The same text with other numbers.</summary>
    public LookShader With(IReadOnlyList<Vector4> numbers)
    {
        var other = (LookShader)MemberwiseClone();
        other.Numbers = numbers;
        return other;
    }

    /// <param name="nodes">Of the surface's parameters and directions, by name.</param>
    public static LookShader Of(ShadeGraph graph, IReadOnlyDictionary<string, int> nodes, SurfaceModel model, MapPlan maps)
    {
        var parameters = nodes.Where(n => ParameterNames.ContainsKey(n.Key)).ToDictionary(n => "p." + n.Key, n => n.Value);
        var directions = nodes.Where(n => Directions.Any(d => d.Name == n.Key)).ToDictionary(n => "d." + n.Key, n => n.Value);
        var shader = GraphShader.Of(
            graph,
            parameters.Concat(directions).ToDictionary(n => n.Key, n => n.Value),
            name => name.StartsWith("p.", StringComparison.Ordinal) ? ParameterNames[name[2..]] : ShadeType.Direction,
            "void kilnNodes(vec2 uv, float footprint, inout KilnParameters p, inout KilnDirections d)",
            maps
        );
        var tiles = MapPlan.Tiles(graph, nodes.Values);
        bool Always(string name, float value) =>
            !nodes.TryGetValue(name, out var node) || graph.IsConstant(node) && graph.ValueOf(node).X == value;
        bool May(string name) => !Always(name, 0);
        var lobes = new SurfaceLobes(
            Metal: May("metalness"),
            Coat: May("coatWeight"),
            Fuzz: May("fuzzWeight"),
            Film: May("filmWeight"),
            Through: May("transmission"),
            Sheet: May("subsurface")
        );
        var source = new StringBuilder()
            .Append(SurfaceText.Of(model, lobes))
            .Append(Definition("HAS_NORMAL", nodes.ContainsKey("normal")))
            .Append(Definition("HAS_COAT_NORMAL", nodes.ContainsKey("coatNormal")))
            .Append(Definition("IS_OPAQUE", Always("opacity", 1)))
            .Append(Definition("GLOWS", May("emission")))
            .Append("struct KilnDirections {\n")
            .AppendJoin("", Directions.Select(d => $"  vec3 {d.Name};\n"))
            .Append("};\n")
            .Append(shader.Source)
            .Append(Plain())
            .Append(Tiled(tiles))
            .ToString();
        return new(shader, model, source, Always("opacity", 1), May("transmission"), tiles);
    }

    private static string Definition(string name, bool on) => $"#define KILN_{name} {(on ? 1 : 0)}\n";

    /// <summary>Parameters that no node gives are those of a plain surface.</summary>
    private static string Plain()
    {
        var text = new StringBuilder("void kilnLook(vec2 uv, float footprint, out KilnParameters p, out KilnDirections d) {\n");
        foreach (var (name, value) in PlainValues)
            text.Append(CultureInfo.InvariantCulture, $"  p.{name} = {value};\n");
        foreach (var (name, otherwise) in Directions)
            text.Append(CultureInfo.InvariantCulture, $"  d.{name} = {otherwise};\n");
        return text.Append("  kilnNodes(uv, footprint, p, d);\n  p.emission = max(p.emission, vec3(0.0));\n}\n").ToString();
    }

    /// <summary>
    /// Where the form shows which UDIM tile: each unit square of its UV takes one in turn, or the one that is shown everywhere
    /// (<c>uShownTile</c> above 0), or is the tile itself, as on a model (below 0).
    /// </summary>
    private static string Tiled(IReadOnlyList<int> tiles)
    {
        if (tiles.Count == 0)
            return "vec2 kilnTiled(vec2 uv) { return uv; }\n";
        var text = new StringBuilder(
            "uniform int uShownTile;\nvec2 kilnTiled(vec2 uv) {\n  vec2 square = floor(uv);\n  int number = uShownTile;\n"
        );
        text.Append(
            CultureInfo.InvariantCulture,
            $"  int turn = int(square.x) + 2 * int(square.y);\n  turn -= {tiles.Count} * int(floor(float(turn) / {tiles.Count}.0));\n"
        );
        text.Append("  if (number < 0) return uv;\n  if (number == 0) {\n");
        for (var i = 0; i < tiles.Count; i++)
            text.Append(CultureInfo.InvariantCulture, $"    if (turn == {i}) number = {tiles[i]};\n");
        return text.Append(
                "  }\n  number -= 1001;\n  return vec2(float(number % 10), float(number / 10)) + min(uv - square, vec2(0.999999));\n}\n"
            )
            .ToString();
    }

    /// <summary>The surface's parameters as GLSL calls them, which is as profiles do, and what they hold.</summary>
    private static readonly Dictionary<string, ShadeType> ParameterNames = typeof(SurfaceParameters)
        .GetFields()
        .Where(f => !f.IsStatic)
        .ToDictionary(f => Lower(f.Name), f => f.FieldType == typeof(Vector3) ? ShadeType.Colour : ShadeType.Scalar);

    private static readonly Dictionary<string, string> PlainValues = typeof(SurfaceParameters)
        .GetFields()
        .Where(f => !f.IsStatic)
        .ToDictionary(f => Lower(f.Name), f => Literal(f.GetValue(SurfaceParameters.Plain)!));

    private static string Lower(string name) => char.ToLowerInvariant(name[0]) + name[1..];

    private static string Literal(object value) =>
        value is Vector3 v
            ? string.Create(CultureInfo.InvariantCulture, $"vec3({v.X:0.0######}, {v.Y:0.0######}, {v.Z:0.0######})")
            : string.Create(CultureInfo.InvariantCulture, $"{(float)value:0.0######}");
}
