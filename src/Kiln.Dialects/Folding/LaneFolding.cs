using System.Collections.Immutable;
using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Looks.Steps.Table;

namespace Kiln.Dialects.Folding;

/// <summary>
/// Turns graph nodes back into lanes: an origin and steps, other maps as side chains. What no step says is told as a remark, and the lane
/// is left without its map.
/// </summary>
internal sealed class LaneFolding(ShadeGraph graph)
{
    private readonly ShadeGraph graph = graph;
    private readonly Dictionary<string, Slot> slots = [];

    public ImmutableSortedDictionary<string, Slot> Slots => slots.ToImmutableSortedDictionary();

    public List<string> Remarks { get; } = [];

    /// <param name="bake">Makes a picture of a node that no steps say; null where nothing may be made.</param>
    public async Task<Lane> LaneAsync(
        int node,
        ShadeType type,
        MapRole role,
        string input,
        Func<int, Task<(MapFile File, Reading Reading, Placement Placement, float Range)>>? bake
    )
    {
        if (graph.IsConstant(node))
            return new(Value(node, type));
        try
        {
            return new(Chain: Numbered(Chain(node, role)));
        }
        catch (NotSayableException e)
        {
            if (bake is null)
            {
                Remarks.Add($"{input}: {e.Message} The map behind it is left out.");
                return new();
            }
            var (file, reading, placement, range) = await bake(node);
            Remarks.Add($"{input}: {e.Message} What it gives is made into {file.Name}.");
            var chain = Placed(new(file, reading, placement), role);
            if (range != 1)
                chain = chain with { Steps = chain.Steps.Add(new GainStep(range)) };
            return new(
                Chain: Numbered(
                    type == ShadeType.Direction
                        ? chain with
                        {
                            Steps = chain.Steps.Add(new DecodeNormalStep(new Feed(1), placement.RotatesDirections)),
                        }
                        : chain
                )
            );
        }
    }

    private LookValue Value(int node, ShadeType type) =>
        type switch
        {
            ShadeType.Colour => new TintValue(graph.ValueOf(node).X, graph.ValueOf(node).Y, graph.ValueOf(node).Z, graph.Working.Id),
            // Only along the surface is a direction a plain value: how far it is turned.
            ShadeType.Direction => new ScalarValue(ShadeArithmetic.Revolutions(graph.ValueOf(node))),
            _ => new ScalarValue(graph.ValueOf(node).X),
        };

    private static Chain Numbered(Chain chain) => chain with { Steps = [.. chain.Steps.Select((s, i) => s with { Id = $"s{i + 1}" })] };

    private Chain Chain(int node, MapRole role)
    {
        var n = graph[node];
        if (n.Op == ShadeOp.Image)
            return Placed(n.Image!, role);
        if (n.Op == ShadeOp.Splat)
            return Chain(n.Inputs[0], role);
        var inputs = new NodeInputs(this, n.Inputs, role);
        foreach (var entry in StepTable.All)
            if (entry.Fold(n, inputs) is var (input, step))
            {
                // A mix may begin with a plain value.
                var before =
                    graph.IsConstant(input) && n.Type != ShadeType.Direction
                        ? new Chain(new ConstantOrigin(Value(input, n.Type)))
                        : Chain(input, role);
                return before with { Steps = before.Steps.Add(step) };
            }
        return Direction(n, inputs, role) ?? throw new NotSayableException($"'{n.Op}' of the network has no step here.");
    }

    /// <summary>A decoded normal map: its placement and which way its green points are its picture's.</summary>
    private Chain? Direction(ShadeNode n, NodeInputs inputs, MapRole role)
    {
        var x = n.Inputs;
        return n.Op switch
        {
            ShadeOp.DecodeNormal when graph[x[0]].Op == ShadeOp.Image && inputs.Number(1) is { } steep => Decoded(
                graph[x[0]].Image!,
                ((DecodeNormalNode)n).YDown,
                steep,
                role,
                onSurface: graph[x[0]].Image!.Placement.RotatesDirections
            ),
            ShadeOp.DecodeNormal
                when inputs.Number(1) is { } steep && StoredRotation(x[0], ((DecodeNormalNode)n).YDown, role) is { } stored => Decoded(
                stored.Image,
                stored.Down,
                steep,
                role,
                onSurface: false
            ),
            ShadeOp.RotateDirection
                when graph[x[0]] is DecodeNormalNode decode
                    && graph[decode.Inputs[0]].Image is { } rotated
                    && RotatedAsPlaced(((RotateDirectionNode)n).Matrix, rotated.Placement, role)
                    && graph.IsConstant(decode.Inputs[1]) => Decoded(
                rotated,
                decode.YDown,
                graph.ValueOf(decode.Inputs[1]).X,
                role,
                onSurface: false
            ),
            _ => null,
        };
    }

    /// <summary>The inputs of one node, for the steps that may stand for it.</summary>
    private sealed class NodeInputs(LaneFolding folding, ImmutableArray<int> inputs, MapRole role) : IStepFolding
    {
        public IReadOnlyList<int> Inputs => inputs;

        // The map goes first, a plain value or another map beside it.
        public int Main => inputs.Length > 0 && IsFixed(0) ? 1 : 0;

        public int Other => 1 - Main;

        public bool IsFixed(int place) => folding.graph.IsConstant(inputs[place]);

        public float? Number(int place) =>
            IsFixed(place) && folding.graph.ValueOf(inputs[place]) is var v && v.X == v.Y && v.Y == v.Z ? v.X : null;

        public Lane Lane(int place) =>
            IsFixed(place) ? new(folding.Value(inputs[place], folding.graph[inputs[place]].Type)) : new(Chain: Chain(place));

        public Chain Chain(int place) => Numbered(folding.Chain(inputs[place], role));

        public Feed Amount(int place) => Number(place) is { } c ? new(c) : new(1, Chain(place));
    }

    /// <summary>
    /// A look turns relief, and directions along the surface, with its placement by itself, so the same turn in a network is not said
    /// twice.
    /// </summary>
    private static bool RotatedAsPlaced(Vector4 turn, Placement placement, MapRole role)
    {
        var (xx, xy, yx, yy) = RotationOf(placement, role);
        return Vector4.Distance(turn, new(xx, xy, yx, yy)) < 1e-3f;
    }

    private static (float Xx, float Xy, float Yx, float Yy) RotationOf(Placement placement, MapRole role) =>
        role == MapRole.Anisotropy ? placement.TangentRotation : placement.DirectionRotation;

    /// <summary>
    /// A picture whose stored directions were turned before they are decoded: 0.5 + 0.5·turn(2t − 1). The picture, and whether its own
    /// green points down, when the turn is
    /// no more than its placement and the two greens ask for.
    /// </summary>
    private (ImageLookup Image, bool Down)? StoredRotation(int node, bool dialectDown, MapRole role)
    {
        int? Beyond(int at, ShadeOp op, float constant) =>
            graph[at] is { } n && n.Op == op && graph.IsConstant(n.Inputs[1]) && graph.ValueOf(n.Inputs[1]).X == constant
                ? n.Inputs[0]
                : null;
        if (
            Beyond(node, ShadeOp.Add, 0.5f) is not { } half
            || Beyond(half, ShadeOp.Multiply, 0.5f) is not { } unit
            || graph[unit].Op != ShadeOp.RotateDirection
        )
            return null;
        var turn = graph[graph[unit].Inputs[0]].Op == ShadeOp.RotateDirection ? graph[unit].Inputs[0] : unit;
        if (
            Beyond(graph[turn].Inputs[0], ShadeOp.Subtract, 1) is not { } doubled
            || Beyond(doubled, ShadeOp.Multiply, 2) is not { } picture
            || graph[picture].Image is not { } image
        )
            return null;
        var (xx, xy, yx, yy) = image.Placement.RotatesDirections ? RotationOf(image.Placement, role) : (1, 0, 0, 1);
        foreach (var down in new[] { false, true })
        {
            float a = down ? -1 : 1,
                b = dialectDown ? -1 : 1;
            if (Vector4.Distance(((RotateDirectionNode)graph[turn]).Matrix, new(xx, xy * a, yx * b, yy * a * b)) < 1e-3f)
                return (image, down);
        }
        return null;
    }

    /// <param name="onSurface">Whether the picture lies turned, and its directions do not turn with it.</param>
    private Chain Decoded(ImageLookup image, bool down, float steep, MapRole role, bool onSurface)
    {
        var chain = Placed(
            image with
            {
                Reading = image.Reading with { NormalY = down ? NormalY.Down : NormalY.Up },
            },
            role == MapRole.Anisotropy ? role : MapRole.Normal
        );
        return chain with { Steps = chain.Steps.Add(new DecodeNormalStep(new Feed(steep), onSurface)) };
    }

    private Chain Placed(ImageLookup image, MapRole role)
    {
        var slot = Slot(image.File, role);
        var reading = image.Reading with { Authority = ReadingAuthority.Person, Reason = "as the network says" };
        return new(new SlotOrigin(slot, reading), image.Placement.IsIdentity ? [] : [new PlaceStep(image.Placement)]);
    }

    private string Slot(MapFile file, MapRole role)
    {
        if (slots.FirstOrDefault(s => s.Value.File.Content == file.Content) is { Key: { } known })
            return known;
        var name = role.Id();
        for (var i = 2; slots.ContainsKey(name); i++)
            name = $"{role.Id()}{i}";
        slots[name] = new(role, file, [file]);
        return name;
    }

    private sealed class NotSayableException(string message) : Exception(message);
}
