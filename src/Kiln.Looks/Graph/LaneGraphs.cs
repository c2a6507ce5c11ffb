using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Inputs;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Graph;

/// <summary>Turns a look's lanes into graph nodes: the ground, covered inputs mixed through their masks, sources shared.</summary>
public sealed class LaneGraphs
{
    private readonly Look look;
    private readonly Dictionary<string, int> sources = [];

    public LaneGraphs(Look look, ShadeGraph graph)
    {
        this.look = look;
        Graph = graph;
    }

    public ShadeGraph Graph { get; }

    /// <summary>The node of a neutral input, covers applied; null for a direction that nothing turns.</summary>
    public int? Input(string name)
    {
        var input = NeutralInputs.Find(name);
        var node = LaneNode(look.Lanes.GetValueOrDefault(name), input);
        foreach (var cover in look.Covers)
            if (cover.Lanes.TryGetValue(name, out var lane) && LaneNode(lane, input) is { } over)
                node = Over(node, over, LaneNode(cover.Mask, NeutralInputs.Find("base_weight"))!.Value, input, cover.Relief);
        return node;
    }

    /// <summary>The node of a chain up to and including the given number of steps; used for tiles, solo and previews.</summary>
    public int Chain(Chain chain, int? steps = null)
    {
        var count = steps ?? chain.Steps.Length;
        var placement = look.Placement;
        foreach (var place in chain.Steps.Take(count).OfType<PlaceStep>().Where(s => !s.Bypassed))
            placement = place.Placement;
        var node = OriginNode(chain.Origin, placement);
        foreach (var step in chain.Steps.Take(count).Where(s => !s.Bypassed))
            node = StepNode(node, step, placement);
        return node;
    }

    public int Value(LookValue value) => value switch
    {
        TintValue tint => Graph.Constant(tint.Colour.In(Graph.Working.Space)),
        ScalarValue scalar => Graph.Constant(scalar.Number),
        _ => throw new LookException("A value of an unknown kind."),
    };

    private int? LaneNode(Lane? lane, NeutralInput input)
    {
        if (lane?.Chain is { } chain)
            return Graph.As(Chain(chain), input.IsScalar ? ShadeType.Scalar : input.IsColour ? ShadeType.Colour : ShadeType.Direction);
        if (input.IsDirection)
            return null;
        return Graph.As(Value(lane?.Value ?? input.DefaultValue!), input.IsScalar ? ShadeType.Scalar : ShadeType.Colour);
    }

    private int? Over(int? ground, int cover, int mask, NeutralInput input, ReliefRule rule)
    {
        if (!input.IsDirection)
            return Graph.Add(ShadeOp.Mix, ground!.Value, cover, mask);
        var flat = Graph.Constant(Vector3.UnitZ, ShadeType.Direction);
        return rule == ReliefRule.FollowGround ? ground : Graph.Add(ShadeOp.Mix, Slopes(ground ?? flat), Slopes(cover), mask);
    }

    /// <summary>(−p, −q, 1): of relief the slopes are mixed, never unit vectors or encoded ones.</summary>
    private int Slopes(int direction) => Graph.Add(ShadeOp.Divide, direction, Graph.Channel(direction, "b"));

    private int OriginNode(Origin origin, Placement placement)
    {
        switch (origin)
        {
            case SlotOrigin slot:
                return Graph.Image(new(look.Slots[slot.Slot].File, slot.Reading, placement));
            case SourceOrigin source:
                if (!sources.TryGetValue(source.Source, out var node))
                {
                    var lane = look.Sources[source.Source];
                    sources[source.Source] = node = lane.Chain is { } chain ? Chain(chain) : Value(lane.Value ?? LookValue.Of(0f));
                }
                return node;
            case ConstantOrigin constant:
                return Value(constant.Value);
            default:
                throw new LookException("A chain with an unknown origin.");
        }
    }

    private int StepNode(int x, Step step, Placement placement)
    {
        int C(float v) => Graph.Constant(v);
        switch (step)
        {
            case InvertStep:
                return Graph.Add(ShadeOp.Invert, x);
            case RemapStep r:
                var mapped = Graph.Add(ShadeOp.Remap, x, C(r.InLow), C(r.InHigh), C(r.OutLow), C(r.OutHigh));
                return r.Clamp ? Graph.Add(ShadeOp.Clamp, mapped, C(MathF.Min(r.OutLow, r.OutHigh)), C(MathF.Max(r.OutLow, r.OutHigh))) : mapped;
            case GainStep g:
                return Graph.Add(ShadeOp.Add, Graph.Add(ShadeOp.Multiply, x, C(g.Gain)), C(g.Offset));
            case ClampStep c:
                return Graph.Add(ShadeOp.Clamp, x, C(c.Low), C(c.High));
            case MixStep m:
                var other = m.Other.Chain is { } side ? Chain(side) : Value(m.Other.Value ?? LookValue.Of(0f));
                return Graph.Add(ShadeOp.Mix, x, Blend(m.Mode, x, other), Amount(m.Amount));
            case PickStep p:
                return Graph.Channel(x, p.Channel);
            case DecodeNormalStep d:
                var down = Graph[x].Image?.Reading.NormalY == NormalY.Down;
                var decoded = Graph.Add(new ShadeNode(ShadeOp.DecodeNormal, ShadeType.Direction, [x, Amount(d.Strength)], new Vector3(down ? 1 : 0, 0, 0)));
                var (xx, xy, yx, yy) = placement.DirectionTurn;
                return placement.TurnsDirections
                    ? Graph.Add(new ShadeNode(ShadeOp.TurnDirection, ShadeType.Direction, [decoded], Turn: new(xx, xy, yx, yy)))
                    : decoded;
            case HeightToNormalStep h:
                return Graph.Add(new ShadeNode(ShadeOp.HeightToNormal, ShadeType.Direction, [Graph.As(x, ShadeType.Scalar), Amount(h.Strength)],
                    new Vector3(h.HeightMetres / look.SizeU, h.HeightMetres / look.SizeV, 0)));
            case OcclusionStep o:
                return Graph.Add(ShadeOp.Multiply, x, Graph.Add(ShadeOp.Mix, C(1), Graph.As(Chain(o.Occlusion), ShadeType.Scalar), Amount(o.Amount)));
            default:
                return x;
        }
    }

    private int Amount(Feed feed) => feed.Chain is { } chain
        ? Graph.Add(ShadeOp.Multiply, Graph.As(Chain(chain), ShadeType.Scalar), Graph.Constant(feed.Value))
        : Graph.Constant(feed.Value);

    /// <summary>W3C Compositing and Blending Level 1, section 9.1, a = backdrop, b = source, in linear values.</summary>
    private int Blend(MixMode mode, int a, int b)
    {
        int Op(ShadeOp op, int p, int q) => Graph.Add(op, p, q);
        switch (mode)
        {
            case MixMode.Multiply: return Op(ShadeOp.Multiply, a, b);
            case MixMode.Screen: return Op(ShadeOp.Subtract, Op(ShadeOp.Add, a, b), Op(ShadeOp.Multiply, a, b));
            case MixMode.Add: return Op(ShadeOp.Add, a, b);
            case MixMode.Subtract: return Op(ShadeOp.Subtract, a, b);
            case MixMode.Minimum: return Op(ShadeOp.Minimum, a, b);
            case MixMode.Maximum: return Op(ShadeOp.Maximum, a, b);
            case MixMode.Overlay:
                // Per component: a ≤ ½ multiplies by 2a, else screens with 2a − 1. The halves are told apart by clamping, so no branch is needed.
                var low = Op(ShadeOp.Minimum, Op(ShadeOp.Multiply, a, Graph.Constant(2)), Graph.Constant(1));
                var high = Op(ShadeOp.Maximum, Op(ShadeOp.Subtract, Op(ShadeOp.Multiply, a, Graph.Constant(2)), Graph.Constant(1)), Graph.Constant(0));
                var product = Op(ShadeOp.Multiply, low, b);
                return Op(ShadeOp.Subtract, Op(ShadeOp.Add, product, high), Op(ShadeOp.Multiply, high, b));
            default: return b;
        }
    }
}
