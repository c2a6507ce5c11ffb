using System.Globalization;
using System.Text;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;

namespace Kiln.Viewport.Graphs;

/// <summary>
/// A part of a shade graph as GLSL ES 3.0: the third thing that runs one, beside <see cref="ShadeProgram"/> and the rasteriser, and held
/// against the first. Every number in it is a uniform, so that a change of value needs no new shader; only a change of structure does.
/// </summary>
public sealed class GraphShader
{
    private readonly ShadeGraph graph;
    private readonly MapPlan maps;
    private readonly StringBuilder around = new();
    private readonly HashSet<string> pieces = [];
    private readonly Dictionary<int, string> aroundNames = [];
    private readonly HashSet<int> precise;

    private GraphShader(ShadeGraph graph, IEnumerable<int> roots, MapPlan maps)
    {
        (this.graph, this.maps) = (graph, maps);
        precise = [.. graph.Needed(roots).Where(n => graph[n].Op == ShadeOp.HeightToNormal).SelectMany(n => graph.Needed(graph[n].Input))];
    }

    public ShaderNumbers Numbers { get; } = new();

    public ShaderMaps Maps { get; } = new();

    /// <summary>Declarations and functions, without a version line.</summary>
    public string Source { get; private set; } = "";

    /// <param name="roots">Nodes to compute, by the GLSL variable that takes each: a float or a vec3 as <paramref name="typeOf"/>
    /// says.</param>
    /// <param name="signature">The function's head, whose parameters hold <c>vec2 uv</c> and <c>float footprint</c>.</param>
    /// <param name="maps">How large the pictures of its lookups are.</param>
    public static GraphShader Of(
        ShadeGraph graph,
        IReadOnlyDictionary<string, int> roots,
        Func<string, ShadeType> typeOf,
        string signature,
        MapPlan maps
    )
    {
        var shader = new GraphShader(graph, roots.Values, maps);
        var body = shader.Body(roots.Values);
        foreach (var (name, node) in roots)
            body.Append(CultureInfo.InvariantCulture, $"  {name} = {shader.Value(node, typeOf(name))};\n");
        shader.Source =
            shader.Numbers.Declaration
            + shader.Maps.Declarations
            + string.Concat(shader.pieces.Select(ShaderText.Of))
            + shader.around
            + $"{signature} {{\n{body}}}\n";
        return shader;
    }

    /// <summary>Statements for all nodes that the roots need, in order.</summary>
    private StringBuilder Body(IEnumerable<int> roots)
    {
        pieces.Add("graph");
        var body = new StringBuilder();
        foreach (var node in graph.Needed(roots).Where(n => !IsNumber(n)))
            body.Append(CultureInfo.InvariantCulture, $"  {Word(graph[node].Type)} n{Id(node)} = {Expression(node)};\n");
        return body;
    }

    private static string Word(ShadeType type) => type == ShadeType.Scalar ? "float" : "vec3";

    private readonly Dictionary<int, string> parameters = [];
    private readonly Dictionary<int, int> ids = [];

    /// <summary>
    /// What a node is called: numbered as they are met, since their numbers in the graph depend on which constants happen to be equal.
    /// </summary>
    private int Id(int node)
    {
        if (!ids.TryGetValue(node, out var id))
            ids[node] = id = ids.Count;
        return id;
    }

    /// <summary>A node as the type asked for: a scalar holds the same in all components.</summary>
    private string Value(int node, ShadeType type)
    {
        var own = graph[node].Type;
        var text = IsNumber(node) ? Number(node) : $"n{Id(node)}";
        return (own == ShadeType.Scalar, type == ShadeType.Scalar) switch
        {
            (true, false) => $"vec3({text})",
            (false, true) => $"{text}.x",
            _ => text,
        };
    }

    private bool IsNumber(int node) => graph[node].Op is ShadeOp.Constant or ShadeOp.Parameter;

    /// <summary>
    /// Each use of a constant is a number of its own: two that happen to be equal are one node, and would tell the shader apart from one
    /// where they are not.
    /// </summary>
    private string Number(int node)
    {
        if (graph[node] is ParameterNode parameter)
        {
            if (!parameters.TryGetValue(node, out var text))
                parameters[node] = text = Numbers.Put(parameter);
            return text;
        }
        var constant = (ConstantNode)graph[node];
        return constant.Type == ShadeType.Scalar ? Numbers.Put(constant.Value.X) : Numbers.Put(constant.Value);
    }

    private readonly Dictionary<int, string> expressions = [];

    /// <summary>What a node is, by the variables of its inputs; the functions it needs are written once.</summary>
    private string Expression(int at)
    {
        if (!expressions.TryGetValue(at, out var text))
            expressions[at] = text = Written(at);
        return text;
    }

    private static string Component(ChannelNode node) =>
        node.Channel switch
        {
            MapChannel.G => ".y",
            MapChannel.B => ".z",
            _ => ".x",
        };

    private string Written(int at)
    {
        var node = graph[at];
        // What is componentwise is worked in the node's own type; the rest says what it takes.
        string In(int i) => Value(node.Inputs[i], node.Type);
        string Scalar(int i) => Value(node.Inputs[i], ShadeType.Scalar);
        string Three(int i) => Value(node.Inputs[i], ShadeType.Colour);
        string Made(string three) => node.Type == ShadeType.Scalar ? $"({three}).x" : three;
        string Spread(string one) => node.Type == ShadeType.Scalar ? one : $"vec3({one})";
        var one = Word(node.Type) + "(1.0)";
        var zero = Word(node.Type) + "(0.0)";
        return node.Op switch
        {
            ShadeOp.Invert => $"{one} - {In(0)}",
            ShadeOp.Add => $"{In(0)} + {In(1)}",
            ShadeOp.Subtract => $"{In(0)} - {In(1)}",
            ShadeOp.Multiply => $"{In(0)} * {In(1)}",
            ShadeOp.Divide => $"kilnQuotient({In(0)}, {In(1)})",
            ShadeOp.Minimum => $"min({In(0)}, {In(1)})",
            ShadeOp.Maximum => $"max({In(0)}, {In(1)})",
            ShadeOp.Clamp => $"min(max({In(0)}, {In(1)}), {In(2)})",
            ShadeOp.Power => $"kilnPower({In(0)}, {In(1)})",
            ShadeOp.SquareRoot => $"sqrt(max({In(0)}, {zero}))",
            ShadeOp.Mix => $"{In(0)} + ({In(1)} - {In(0)}) * {In(2)}",
            ShadeOp.Remap => $"{In(3)} + ({In(0)} - {In(1)}) / ({In(2)} - {In(1)}) * ({In(4)} - {In(3)})",
            ShadeOp.IfGreater => $"{Scalar(0)} > {Scalar(1)} ? {In(2)} : {In(3)}",
            ShadeOp.Channel => Spread(Three(0) + Component((ChannelNode)node)),
            ShadeOp.Luminance => Spread($"dot({Three(0)}, {Numbers.Put(((LuminanceNode)node).Weights)})"),
            ShadeOp.Splat => In(0),
            ShadeOp.Pack => Made($"vec3({Scalar(0)}, {Scalar(1)}, {Scalar(2)})"),
            ShadeOp.DecodeNormal => $"kilnDecodeNormal({Three(0)}, {Scalar(1)}, {Numbers.Put(((DecodeNormalNode)node).YDown ? -1f : 1f)})",
            ShadeOp.RotateDirection => $"kilnRotate({Numbers.Put(((RotateDirectionNode)node).Matrix)}, {Three(0)})",
            ShadeOp.Heading => $"kilnHeading({Scalar(0)})",
            ShadeOp.Revolutions => Spread($"kilnRevolutions({Three(0)})"),
            ShadeOp.HsvAdjust => Made($"kilnHsvAdjust({Three(0)}, {Three(1)})"),
            ShadeOp.Reorient => $"kilnReorient({Three(0)}, {Three(1)})",
            ShadeOp.AddReliefs => $"kilnAddReliefs({Three(0)}, {Scalar(1)}, {Three(2)}, {Scalar(3)})",
            ShadeOp.Curve => CurveText.Of((CurveNode)node, In(0), Numbers, around, Id(at)),
            ShadeOp.ConvertSpace => ConversionText.Of((ConvertSpaceNode)node, Three(0), Numbers),
            ShadeOp.Image => Made(Lookup(at, (ImageNode)node)),
            ShadeOp.Noise => Noise((NoiseNode)node),
            ShadeOp.HeightToNormal => FromHeight(at, (HeightToNormalNode)node, Scalar(1)),
            ShadeOp.Blur => Made(Blurred(at, (BlurNode)node)),
            _ => throw new InvalidOperationException($"{node.Op} has no shader."),
        };
    }

    private string Lookup(int at, ImageNode node)
    {
        pieces.Add("maps");
        var lookup = new LookupText(node.Lookup, maps, precise.Contains(at), Numbers, Maps);
        if (lookup.IsScattered)
        {
            pieces.Add("noise");
            pieces.Add("scatter");
        }
        around.Append(lookup.Function(Id(at)));
        return $"look{Id(at)}(uv, footprint)";
    }

    private string Noise(NoiseNode node)
    {
        pieces.Add("maps");
        pieces.Add("noise");
        var field = node.Placed.Field;
        var (lie, scale) = LookupText.Lie(node.Placed.Placement, Numbers);
        var (place, size) = ($"kilnPlace({lie}, uv)", $"footprint * {scale}");
        if (field.Kind == Looks.Document.NoiseKind.Cell)
            return $"kilnCells({place} * {Numbers.Put(field.Cells)}, int({Numbers.Put(field.Cells)}), uint({Numbers.Put(field.Seed)}))";
        var octaves = field.Kind == Looks.Document.NoiseKind.Fractal ? field.Octaves : 1;
        return $"kilnNoise({place}, {size}, int({Numbers.Put(field.Cells)}), int({Numbers.Put(octaves)}), {Numbers.Put(field.Gain)}, "
            + $"int({Numbers.Put(field.Seed)}))";
    }

    /// <summary>Central differences over the footprint, at least over one texel of the finest map below.</summary>
    private string FromHeight(int at, HeightToNormalNode node, string strength)
    {
        var height = Around(node.Input);
        var texel = Numbers.Put(maps.FinestTexel(graph, node.Input));
        var range = Numbers.Put(new System.Numerics.Vector4(node.Range.X, node.Range.Y, 0, 0));
        around.Append(
            CultureInfo.InvariantCulture,
            $$"""
            vec3 slopes{{Id(at)}}(vec2 uv, float footprint, float strength) {
              float h = max(footprint, {{texel}}) * 0.5;
              float du = {{height}}(uv + vec2(h, 0.0), footprint).x - {{height}}(uv - vec2(h, 0.0), footprint).x;
              float dv = {{height}}(uv + vec2(0.0, h), footprint).x - {{height}}(uv - vec2(0.0, h), footprint).x;
              return normalize(vec3(-vec2(du, dv) / (2.0 * h) * strength * {{range}}.xy, 1.0));
            }

            """
        );
        return $"slopes{Id(at)}(uv, footprint, {strength})";
    }

    /// <summary>A Gaussian by 7 × 7 taps, as <see cref="ShadeProgram"/> has it.</summary>
    private string Blurred(int at, BlurNode node)
    {
        var value = Around(node.Input);
        var deviation = Numbers.Put(node.Deviation);
        around.Append(
            CultureInfo.InvariantCulture,
            $$"""
            vec3 blurred{{Id(at)}}(vec2 uv, float footprint) {
              float spacing = 0.75 * {{deviation}};
              float size = max(footprint, spacing);
              vec3 sum = vec3(0.0);
              float total = 0.0;
              for (int dy = -3; dy <= 3; dy++)
                for (int dx = -3; dx <= 3; dx++) {
                  float weight = exp(-0.28125 * float(dx * dx + dy * dy));
                  sum += weight * {{value}}(uv + vec2(float(dx), float(dy)) * spacing, size);
                  total += weight;
                }
              return sum / total;
            }

            """
        );
        return $"blurred{Id(at)}(uv, footprint)";
    }

    /// <summary>A function that gives a node elsewhere on the surface.</summary>
    private string Around(int node)
    {
        if (aroundNames.TryGetValue(node, out var known))
            return known;
        var name = aroundNames[node] = $"around{Id(node)}";
        var body = Body([node]);
        around.Append(
            CultureInfo.InvariantCulture,
            $"vec3 {name}(vec2 uv, float footprint) {{\n{body}  return {Value(node, ShadeType.Colour)};\n}}\n"
        );
        return name;
    }
}
