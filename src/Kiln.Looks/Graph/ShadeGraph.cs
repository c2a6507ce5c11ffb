using System.Collections.Immutable;
using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Graph;

/// <summary>
/// The operations every lane and every dialect's network come down to. One evaluator runs them: for tiles, solo, proofs and bakes.
/// </summary>
public enum ShadeOp
{
    Constant,
    Parameter,
    Image,
    Invert,
    Add,
    Subtract,
    Multiply,
    Divide,
    Minimum,
    Maximum,
    Clamp,
    Power,
    SquareRoot,
    Mix,
    Remap,
    IfGreater,
    Channel,
    Luminance,
    Splat,
    DecodeNormal,
    RotateDirection,
    HeightToNormal,
    Heading,
    Revolutions,
    Curve,
    HsvAdjust,
    Pack,
    Reorient,
    AddReliefs,
    ConvertSpace,
    Noise,
    Blur,
}

public enum ShadeType
{
    Scalar,
    Colour,
    Direction,
}

/// <summary>Nodes in an order in which inputs come first. Equal nodes are one; what is constant is folded as it is added.</summary>
public sealed class ShadeGraph(WorkingSpace? working = null)
{
    private readonly List<ShadeNode> nodes = [];
    private readonly Dictionary<ShadeNode, int> index = [];

    /// <summary>What colours are linear in, from the maps on.</summary>
    public WorkingSpace Working { get; } = working ?? WorkingSpace.AcesCg;

    public IReadOnlyList<ShadeNode> Nodes => nodes;

    public ShadeNode this[int node] => nodes[node];

    public int Constant(float value) => Put(new ConstantNode(ShadeType.Scalar, new Vector3(value)));

    public int Constant(Vector3 value, ShadeType type = ShadeType.Colour) => Put(new ConstantNode(type, value));

    /// <summary>A constant that stays a number of its own, so that it can be changed where the graph runs.</summary>
    public int Parameter(string name, Vector3 value, ShadeType type) => Put(new ParameterNode(type, name, value));

    public int Image(ImageLookup image) => Put(new ImageNode(image));

    public int Noise(PlacedNoise noise) => Put(new NoiseNode(noise));

    /// <summary>The value of a constant.</summary>
    /// <exception cref="InvalidCastException">The node is none.</exception>
    public Vector3 ValueOf(int node) => ((ConstantNode)nodes[node]).Value;

    public bool IsConstant(int node) => nodes[node].Op == ShadeOp.Constant;

    public static ShadeType TypeOf(ReadingKind kind) =>
        kind switch
        {
            ReadingKind.Colour => ShadeType.Colour,
            ReadingKind.Direction => ShadeType.Direction,
            _ => ShadeType.Scalar,
        };

    /// <summary>Adds an operation, or gives the node that already stands for it.</summary>
    public int Add(ShadeOp op, params ReadOnlySpan<int> inputs) => Add(new ArithmeticNode(op, ResultType(op, inputs), [.. inputs]));

    public int Add(ShadeNode node)
    {
        if (Simplified(node) is { } same)
            return same;
        if (
            node.Op is not ShadeOp.Image and not ShadeOp.HeightToNormal and not ShadeOp.Blur
            && node.Inputs.Length > 0
            && node.Inputs.All(IsConstant)
        )
        {
            var values = node.Inputs.Select(i => ValueOf(i)).ToArray();
            return Constant(ShadeArithmetic.Apply(node, values), node.Type);
        }
        return Put(node);
    }

    public int Channel(int input, MapChannel channel) =>
        nodes[input].Type == ShadeType.Scalar ? input
        : channel == MapChannel.Luminance ? Add(new LuminanceNode(input, Working.LuminanceWeights))
        : Add(new ChannelNode(input, channel));

    /// <summary>The node as the type asked for: a scalar becomes grey, a colour its luminance.</summary>
    public int As(int node, ShadeType type)
    {
        var own = nodes[node].Type;
        if (own == type || own == ShadeType.Direction)
            return node;
        if (type == ShadeType.Scalar)
            return Channel(node, MapChannel.Luminance);
        return Add(new ArithmeticNode(ShadeOp.Splat, type, [node]));
    }

    /// <summary>The same for nodes that give the same everywhere, whatever graph they are in: SHA-256, 64 hex digits.</summary>
    public string Fingerprint(int root)
    {
        var needed = Needed([root]);
        var place = needed.Select((node, at) => (node, at)).ToDictionary(p => p.node, p => p.at);
        var text = new System.Text.StringBuilder(Working.Id);
        foreach (var n in needed.Select(i => nodes[i]))
            text.Append('\n')
                .Append(n.Op)
                .Append(' ')
                .Append(n.Type)
                .Append(' ')
                .AppendJoin(',', n.Inputs.Select(i => place[i]))
                .Append(' ')
                .Append(n.Settings);
        return Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(text.ToString())));
    }

    /// <summary>All nodes that the given ones need, themselves included, in order.</summary>
    public IReadOnlyList<int> Needed(params IEnumerable<int> roots)
    {
        var needed = new SortedSet<int>();
        var open = new Stack<int>(roots);
        while (open.TryPop(out var node))
            if (needed.Add(node))
                foreach (var input in nodes[node].Inputs)
                    open.Push(input);
        return [.. needed];
    }

    /// <summary>Four plain numbers, or null where one is not plain or not the same in all components.</summary>
    private float[]? Numbers(ImmutableArray<int> inputs, int first)
    {
        var found = inputs
            .Skip(first)
            .Take(4)
            .Where(i => IsConstant(i) && ValueOf(i) == new Vector3(ValueOf(i).X))
            .Select(i => ValueOf(i).X)
            .ToArray();
        return found.Length == 4 ? found : null;
    }

    private static float Remapped(float x, float[] to) => to[2] + (x - to[0]) / (to[1] - to[0]) * (to[3] - to[2]);

    private int? Simplified(ShadeNode node)
    {
        bool Is(int i, float v) => IsConstant(i) && ValueOf(i) == new Vector3(v);
        var i = node.Inputs;
        int? Same(int kept) => As(kept, node.Type);
        return node.Op switch
        {
            ShadeOp.Invert when nodes[i[0]].Op == ShadeOp.Invert => nodes[i[0]].Inputs[0],
            ShadeOp.Multiply when Is(i[1], 1) => Same(i[0]),
            ShadeOp.Multiply when Is(i[0], 1) => Same(i[1]),
            ShadeOp.Multiply when Is(i[0], 0) || Is(i[1], 0) => Constant(Vector3.Zero, node.Type),
            ShadeOp.Add when Is(i[1], 0) => Same(i[0]),
            ShadeOp.Add when Is(i[0], 0) => Same(i[1]),
            ShadeOp.Add => SumOfDifference(node),
            ShadeOp.Remap when Numbers(i, 1) is { } to && to[0] == to[2] && to[1] == to[3] => Same(i[0]),
            ShadeOp.Remap => RemapOfRemap(node),
            ShadeOp.Subtract when Is(i[1], 0) => Same(i[0]),
            ShadeOp.Subtract when Is(i[0], 1) => Add(new ArithmeticNode(ShadeOp.Invert, node.Type, [i[1]])),
            ShadeOp.Divide when Is(i[1], 1) => Same(i[0]),
            ShadeOp.Power when Is(i[1], 1) => Same(i[0]),
            ShadeOp.Power => PowerOfPower(node),
            ShadeOp.SquareRoot when nodes[i[0]] is { Op: ShadeOp.Power } => Add(ShadeOp.Power, i[0], Constant(0.5f)),
            ShadeOp.AddReliefs when Is(i[1], 1) && Is(i[3], 0) => i[0],
            ShadeOp.AddReliefs when Is(i[1], 0) && Is(i[3], 1) => i[2],
            ShadeOp.Blur when node is BlurNode { Deviation: <= 0 } || IsConstant(i[0]) => i[0],
            ShadeOp.Mix when i[0] == i[1] || IsConstant(i[0]) && IsConstant(i[1]) && ValueOf(i[0]) == ValueOf(i[1]) => Same(i[0]),
            ShadeOp.Mix when Is(i[2], 0) => Same(i[0]),
            ShadeOp.Mix when Is(i[2], 1) => Same(i[1]),
            _ => null,
        };
    }

    /// <summary>What is taken away and given back is one number, or nothing.</summary>
    private int? SumOfDifference(ShadeNode sum)
    {
        var i = sum.Inputs;
        if (!IsConstant(i[1]) || nodes[i[0]] is not { Op: ShadeOp.Subtract } less || less.Type != sum.Type || !IsConstant(less.Inputs[1]))
            return null;
        var left = Constant(ValueOf(i[1]) - ValueOf(less.Inputs[1]), nodes[i[1]].Type);
        return Add(new ArithmeticNode(ShadeOp.Add, sum.Type, [less.Inputs[0], left]));
    }

    /// <summary>A remap of a remap is one remap.</summary>
    private int? RemapOfRemap(ShadeNode remap)
    {
        if (Numbers(remap.Inputs, 1) is not { } to || to[0] == to[1])
            return null;
        if (nodes[remap.Inputs[0]] is not { Op: ShadeOp.Remap } first || first.Type != remap.Type)
            return null;
        if (Numbers(first.Inputs, 1) is not { } from || from[0] == from[1])
            return null;
        float[] numbers = [from[0], from[1], Remapped(from[2], to), Remapped(from[3], to)];
        return Add(new ArithmeticNode(ShadeOp.Remap, remap.Type, [first.Inputs[0], .. numbers.Select(n => Constant(n))]));
    }

    /// <summary>A power of a power is one power; where the exponents undo each other, nothing is left of them.</summary>
    private int? PowerOfPower(ShadeNode power)
    {
        var i = power.Inputs;
        if (!IsConstant(i[1]) || nodes[i[0]] is not { Op: ShadeOp.Power } inner || !IsConstant(inner.Inputs[1]))
            return null;
        var e = ValueOf(i[1]) * ValueOf(inner.Inputs[1]);
        if (e.X != e.Y || e.Y != e.Z)
            return null;
        return MathF.Abs(e.X - 1) < 1e-5f ? As(inner.Inputs[0], power.Type) : Add(ShadeOp.Power, inner.Inputs[0], Constant(e.X));
    }

    private ShadeType ResultType(ShadeOp op, ReadOnlySpan<int> inputs)
    {
        if (op is ShadeOp.Channel or ShadeOp.Luminance or ShadeOp.Revolutions)
            return ShadeType.Scalar;
        if (
            op
            is ShadeOp.DecodeNormal
                or ShadeOp.RotateDirection
                or ShadeOp.HeightToNormal
                or ShadeOp.Heading
                or ShadeOp.Reorient
                or ShadeOp.AddReliefs
        )
            return ShadeType.Direction;
        var type = ShadeType.Scalar;
        foreach (var i in inputs)
            if (nodes[i].Type != ShadeType.Scalar)
                type = nodes[i].Type;
        return type;
    }

    private int Put(ShadeNode node)
    {
        if (index.TryGetValue(node, out var known))
            return known;
        nodes.Add(node);
        return index[node] = nodes.Count - 1;
    }
}
