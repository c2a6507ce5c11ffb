using Kiln.Looks.Graph;

namespace Kiln.Dialects.Profiles;

/// <summary>Turns a formula into graph nodes: the same formula applies to a value (and folds) and to a map (and becomes nodes).</summary>
public static class ExpressionGraph
{
    /// <param name="name">The node of a name; null for a direction that nothing turns, which only a bare name may be.</param>
    public static int? Build(Expression expression, ShadeGraph graph, Func<string, int?> name) => expression switch
    {
        Expression.Number n => graph.Constant(n.Value),
        Expression.Name n => name(n.Text),
        Expression.Call c => Call(c, graph, [.. c.Arguments.Select(a => Build(a, graph, name) ?? throw new ProfileException("A direction cannot take part in a formula."))]),
        _ => throw new ProfileException("A formula of an unknown kind."),
    };

    private static int Call(Expression.Call call, ShadeGraph graph, int[] x) => call.Function switch
    {
        "+" => graph.Add(ShadeOp.Add, x[0], x[1]),
        "-" => graph.Add(ShadeOp.Subtract, x[0], x[1]),
        "*" => graph.Add(ShadeOp.Multiply, x[0], x[1]),
        "/" => graph.Add(ShadeOp.Divide, x[0], x[1]),
        "min" => graph.Add(ShadeOp.Minimum, x[0], x[1]),
        "max" => graph.Add(ShadeOp.Maximum, x[0], x[1]),
        "clamp" => graph.Add(ShadeOp.Clamp, x[0], x[1], x[2]),
        "lerp" => graph.Add(ShadeOp.Mix, x[0], x[1], x[2]),
        "pow" => graph.Add(ShadeOp.Power, x[0], x[1]),
        "sqrt" => graph.Add(ShadeOp.SquareRoot, x[0]),
        "luminance" => graph.Channel(x[0], "luminance"),
        // Perceived brightness, weights of Rec. 601 under a root (HSP colour model), as the published conversion of glossiness materials has it.
        "brightness" => graph.Add(ShadeOp.SquareRoot, graph.Add(new ShadeNode(ShadeOp.Luminance, ShadeType.Scalar, [graph.Add(ShadeOp.Multiply, x[0], x[0])], new(0.299f, 0.587f, 0.114f)))),
        "greatest" => graph.Add(ShadeOp.Maximum, graph.Add(ShadeOp.Maximum, graph.Channel(x[0], "r"), graph.Channel(x[0], "g")), graph.Channel(x[0], "b")),
        "mapped" => graph.Constant(graph.IsConstant(x[0]) ? 0f : 1f),
        "if" => graph.IsConstant(x[0]) && graph.IsConstant(x[1])
            ? graph[x[0]].Value.X > graph[x[1]].Value.X ? x[2] : x[3]
            : graph.Add(ShadeOp.IfGreater, x[0], x[1], x[2], x[3]),
        _ => throw new ProfileException($"There is no function '{call.Function}'."),
    };
}
