using System.Numerics;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;

namespace Kiln.Dialects.Profiles;

/// <summary>Turns a formula into graph nodes: the same formula applies to a value (and folds) and to a map (and becomes nodes).</summary>
public static class ExpressionGraph
{
    /// <summary>Functions that take a direction along the surface; where nothing turns it, it lies along u.</summary>
    private static readonly string[] OfTangents = ["turns", "along", "across", "turned", "mapped"];

    /// <param name="name">The node of a name; null for a direction that nothing turns, which only a bare name or an argument of those
    /// functions may be.</param>
    public static int? Build(Expression expression, ShadeGraph graph, Func<string, int?> name) =>
        expression switch
        {
            Expression.Number n => graph.Constant(n.Value),
            Expression.Name n => name(n.Text),
            Expression.Call c => Call(
                c,
                graph,
                [
                    .. c.Arguments.Select(a =>
                        Build(a, graph, name)
                        ?? (
                            OfTangents.Contains(c.Function)
                                ? graph.Constant(Vector3.UnitX, ShadeType.Direction)
                                : throw new ProfileException("A direction cannot take part in a formula.")
                        )
                    ),
                ]
            ),
            _ => throw new ProfileException("A formula of an unknown kind."),
        };

    private static int Call(Expression.Call call, ShadeGraph graph, int[] x) =>
        call.Function switch
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
            "luminance" => graph.Channel(x[0], MapChannel.Luminance),
            // Perceived brightness, weights of Rec. 601 under a root (HSP colour model), as the published conversion of glossiness
            // materials has it.
            "brightness" => graph.Add(
                ShadeOp.SquareRoot,
                graph.Add(new LuminanceNode(graph.Add(ShadeOp.Multiply, x[0], x[0]), new(0.299f, 0.587f, 0.114f)))
            ),
            "greatest" => graph.Add(
                ShadeOp.Maximum,
                graph.Add(ShadeOp.Maximum, graph.Channel(x[0], MapChannel.R), graph.Channel(x[0], MapChannel.G)),
                graph.Channel(x[0], MapChannel.B)
            ),
            "heading" => graph.Add(ShadeOp.Heading, x[0]),
            "turns" => graph.Add(ShadeOp.Revolutions, x[0]),
            "along" => graph.Channel(x[0], MapChannel.R),
            "across" => graph.Channel(x[0], MapChannel.G),
            "turned" => Rotated(graph, x[0], x[1]),
            "aim" => Rotated(graph, Aim(graph, x[0], x[1]), x[2]),
            "mapped" => graph.Constant(graph.IsConstant(x[0]) ? 0f : 1f),
            "if" => graph.IsConstant(x[0]) && graph.IsConstant(x[1])
                ? graph.ValueOf(x[0]).X > graph.ValueOf(x[1]).X
                    ? x[2]
                    : x[3]
                : graph.Add(ShadeOp.IfGreater, x[0], x[1], x[2], x[3]),
            _ => throw new ProfileException($"There is no function '{call.Function}'."),
        };

    /// <summary>A direction turned counter-clockwise by whole turns.</summary>
    private static int Rotated(ShadeGraph graph, int direction, int turns)
    {
        if (!graph.IsConstant(turns))
            return graph.Add(ShadeOp.Heading, graph.Add(ShadeOp.Add, graph.Add(ShadeOp.Revolutions, direction), turns));
        if (graph.ValueOf(turns).X == 0)
            return direction;
        var (x, y) = (ShadeArithmetic.Heading(graph.ValueOf(turns).X).X, ShadeArithmetic.Heading(graph.ValueOf(turns).X).Y);
        return graph.Add(new RotateDirectionNode(direction, new(x, -y, y, x)));
    }

    /// <summary>
    /// The direction whose two parts from -1 to 1 are stored as 0 to 1. Two channels of one picture are that picture of directions.
    /// </summary>
    private static int Aim(ShadeGraph graph, int along, int across)
    {
        if (
            graph[along].Image is { Reading.Channel: MapChannel.R } first
            && graph[across].Image is { Reading.Channel: MapChannel.G } second
            && first.File == second.File
            && first.Placement == second.Placement
        )
            return graph.Add(
                new DecodeNormalNode(
                    graph.Image(first with { Reading = new(ReadingKind.Direction, "raw", MapChannel.Rg) }),
                    graph.Constant(1),
                    YDown: false
                )
            );
        int Part(int stored) => graph.Add(ShadeOp.Subtract, graph.Add(ShadeOp.Multiply, stored, graph.Constant(2)), graph.Constant(1));
        var both = graph.Add(new ArithmeticNode(ShadeOp.Pack, ShadeType.Direction, [Part(along), Part(across), graph.Constant(0)]));
        return graph.Add(new RotateDirectionNode(both, RotateDirectionNode.Identity));
    }
}
