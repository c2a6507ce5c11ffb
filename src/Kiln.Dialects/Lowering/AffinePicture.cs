using System.Numerics;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;

namespace Kiln.Dialects.Lowering;

/// <summary>
/// What a graph node is when it is one picture times a number plus a number, channel by channel: a dialect whose pictures do that by
/// themselves needs no nodes for it.
/// </summary>
/// <param name="Image">The node of the lookup.</param>
internal readonly record struct AffinePicture(int Image, Vector3 Scale, Vector3 Bias)
{
    /// <summary>Null where the node is more than that.</summary>
    public static AffinePicture? Of(ShadeGraph graph, int node)
    {
        var n = graph[node];
        Vector3? Constant(int input) => graph.IsConstant(n.Inputs[input]) ? graph.ValueOf(n.Inputs[input]) : null;
        AffinePicture? Inner(int input) => Of(graph, n.Inputs[input]);
        AffinePicture? found = n.Op switch
        {
            ShadeOp.Image when n.Type != ShadeType.Direction => new AffinePicture(node, Vector3.One, Vector3.Zero),
            ShadeOp.Invert when Inner(0) is { } a => new AffinePicture(a.Image, -a.Scale, Vector3.One - a.Bias),
            ShadeOp.Multiply when Constant(1) is { } c && Inner(0) is { } a => new AffinePicture(a.Image, a.Scale * c, a.Bias * c),
            ShadeOp.Multiply when Constant(0) is { } c && Inner(1) is { } a => new AffinePicture(a.Image, a.Scale * c, a.Bias * c),
            ShadeOp.Add when Constant(1) is { } c && Inner(0) is { } a => a with { Bias = a.Bias + c },
            ShadeOp.Add when Constant(0) is { } c && Inner(1) is { } a => a with { Bias = a.Bias + c },
            ShadeOp.Subtract when Constant(1) is { } c && Inner(0) is { } a => a with { Bias = a.Bias - c },
            ShadeOp.Subtract when Constant(0) is { } c && Inner(1) is { } a => new AffinePicture(a.Image, -a.Scale, c - a.Bias),
            ShadeOp.Divide when Constant(1) is { } c && c.X * c.Y * c.Z != 0 && Inner(0) is { } a => new AffinePicture(
                a.Image,
                a.Scale / c,
                a.Bias / c
            ),
            ShadeOp.Remap
                when Constant(1) is { } low
                    && Constant(2) is { } high
                    && Constant(3) is { } to
                    && Constant(4) is { } end
                    && low.X != high.X
                    && low.Y != high.Y
                    && low.Z != high.Z
                    && Inner(0) is { } a
                    && (end - to) / (high - low) is var gain => new AffinePicture(a.Image, a.Scale * gain, (a.Bias - low) * gain + to),
            _ => null,
        };
        // A grey picture spread over three channels is another output of it, which the picture's own numbers cannot say.
        return found is { } f && graph[f.Image].Type == n.Type ? found : null;
    }

    /// <summary>
    /// A stored direction decoded at a fixed strength, green and axes mirrored as asked; null where it is turned otherwise.
    /// </summary>
    /// <param name="down">Whether the dialect's own green points down.</param>
    public static AffinePicture? OfDirection(ShadeGraph graph, int node, bool down)
    {
        var rotation = RotateDirectionNode.Identity;
        if (graph[node] is RotateDirectionNode rotated)
            (rotation, node) = (rotated.Matrix, rotated.Input);
        if (
            graph[node] is not DecodeNormalNode n
            || !graph.IsConstant(n.Inputs[1])
            || graph[n.Inputs[0]] is not { Op: ShadeOp.Image, Image.Reading.Channel: MapChannel.Rgb }
            || rotation.Y != 0
            || rotation.Z != 0
        )
            return null;
        var strength = graph.ValueOf(n.Inputs[1]).X;
        var scale = 2 * strength * new Vector2(rotation.X, rotation.W * (n.YDown != down ? -1 : 1));
        return new(n.Inputs[0], new(scale, 2), new(-scale / 2, -1));
    }

    /// <summary>The channel that a number is taken from, or null where it is a mixture of several.</summary>
    public static string? Channel(ImageLookup lookup) =>
        lookup.Reading switch
        {
            { Channel: >= MapChannel.R and <= MapChannel.A } r => r.Channel.Word(),
            { Kind: ReadingKind.Scalar } when lookup.File.Channels.Count == 1 || lookup.File.EqualChannels => "r",
            _ => null,
        };
}
