using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;

namespace Kiln.Looks.Graph;

/// <summary>Turns a look's lanes into graph nodes: the ground, covered inputs mixed through their masks, sources shared.</summary>
public sealed class LaneGraphs
{
    private readonly Look look;
    private readonly ReliefMode relief;
    private readonly Dictionary<(string Source, bool Along), int> sources = [];

    /// <summary>Whether what is decoded runs along the surface (a tangent) rather than away from it.</summary>
    private bool isAlong;

    /// <param name="displaces">Whether what renders this moves the surface where displacement is on. What does not keeps the whole relief
    /// in its shading.</param>
    public LaneGraphs(Look look, ShadeGraph graph, bool displaces = true)
    {
        this.look = look;
        Graph = graph;
        relief = look.Displacement.On && displaces ? look.Relief : ReliefMode.Shading;
    }

    public ShadeGraph Graph { get; }

    /// <summary>
    /// The node of a neutral input, covers applied, or of a number of the displacement; null for a direction that nothing turns.
    /// </summary>
    public int? Input(string name)
    {
        if (DisplacementSettings.Exists(name))
            return Graph.Constant(DisplacementSettings.Of(look, name));
        var input = NeutralInputs.Find(name);
        var node = LaneNode(look.Lanes.GetValueOrDefault(name), input);
        foreach (var layer in look.Layers)
            if (layer.Lanes.TryGetValue(name, out var lane) && LaneNode(lane, input) is { } over)
                node = Over(node, over, LaneNode(layer.Mask, NeutralInputs.Find("base_weight"))!.Value, input, layer.Relief);
        return node is { } whole ? Shared(name, whole) : null;
    }

    /// <summary>
    /// Relief where the surface moves too. By geometry alone the shading has none. Where they share it, the geometry takes what a Gaussian
    /// as wide as its edges leaves, the shading what that takes away:
    /// of heights and of slopes alike, since a blur and a derivative can change places.
    /// </summary>
    private int? Shared(string name, int node)
    {
        if (relief == ReliefMode.Shading || name is not ("displacement" or "geometry_normal"))
            return node;
        if (relief == ReliefMode.Geometry)
            return name == "geometry_normal" ? null : node;
        var width = MathF.Min(BlurStep.Widest, look.Displacement.EdgeMetres / MathF.Sqrt(look.SizeU * look.SizeV));
        int Low(int of) => Graph.Add(new ShadeNode(ShadeOp.Blur, Graph[of].Type, [of], new Vector3(width, 0, 0)));
        if (name == "displacement")
            return Low(node);
        var slopes = Slopes(node);
        var rest = Graph.Add(new ShadeNode(ShadeOp.Subtract, ShadeType.Direction, [slopes, Low(slopes)]));
        return Graph.Add(
            new ShadeNode(
                ShadeOp.RotateDirection,
                ShadeType.Direction,
                [
                    Graph.Add(
                        new ShadeNode(
                            ShadeOp.Pack,
                            ShadeType.Direction,
                            [Graph.Channel(rest, "r"), Graph.Channel(rest, "g"), Graph.Constant(1)]
                        )
                    ),
                ],
                Rotation: new(1, 0, 0, 1)
            )
        );
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

    public int Value(LookValue value) =>
        value switch
        {
            TintValue tint => Graph.Constant(tint.Colour.In(Graph.Working.Space)),
            ScalarValue scalar => Graph.Constant(scalar.Number),
            _ => throw new LookException("A value of an unknown kind."),
        };

    private int? LaneNode(Lane? lane, NeutralInput input)
    {
        if (input.IsTangent)
            return lane is null ? null : Tangent(lane);
        if (lane?.Chain is { } chain)
            return Graph.As(
                Chain(chain),
                input.IsScalar ? ShadeType.Scalar
                    : input.IsColour ? ShadeType.Colour
                    : ShadeType.Direction
            );
        if (input.IsDirection)
            return null;
        return Graph.As(Value(lane?.Value ?? input.DefaultValue!), input.IsScalar ? ShadeType.Scalar : ShadeType.Colour);
    }

    /// <summary>
    /// A direction along the surface: a number of whole turns from u, or a chain of such numbers, or one of directions. What a map says
    /// turns with the map.
    /// </summary>
    private int? Tangent(Lane lane)
    {
        if (lane.Chain is not { } chain)
            return lane.Value is { } value ? Graph.Add(ShadeOp.Heading, Graph.As(Value(value), ShadeType.Scalar)) : null;
        isAlong = true;
        var node = Chain(chain);
        isAlong = false;
        if (Graph[node].Type == ShadeType.Direction)
            return node;
        var heading = Graph.Add(ShadeOp.Heading, Graph.As(node, ShadeType.Scalar));
        var placement = chain.Steps.OfType<PlaceStep>().LastOrDefault(s => !s.Bypassed)?.Placement ?? look.Placement;
        var (xx, xy, yx, yy) = placement.TangentRotation;
        return placement.RotatesDirections && chain.Origin is SlotOrigin
            ? Graph.Add(new ShadeNode(ShadeOp.RotateDirection, ShadeType.Direction, [heading], Rotation: new(xx, xy, yx, yy)))
            : heading;
    }

    private int? Over(int? baseLayer, int layer, int mask, NeutralInput input, ReliefRule rule)
    {
        if (!input.IsDirection)
            return Graph.Add(ShadeOp.Mix, baseLayer!.Value, layer, mask);
        if (input.IsTangent)
            return Graph.Add(
                new ShadeNode(
                    ShadeOp.RotateDirection,
                    ShadeType.Direction,
                    [Graph.Add(ShadeOp.Mix, baseLayer ?? Graph.Constant(Vector3.UnitX, ShadeType.Direction), layer, mask)],
                    Rotation: new(1, 0, 0, 1)
                )
            );
        var flat = Graph.Constant(Vector3.UnitZ, ShadeType.Direction);
        if (rule == ReliefRule.FollowBaseLayer)
            return baseLayer;
        // Of relief the slopes are mixed; added ones are there as a whole where the mask is 1.
        return Graph.Add(
            ShadeOp.AddReliefs,
            baseLayer ?? flat,
            rule == ReliefRule.Add ? Graph.Constant(1) : Graph.Add(ShadeOp.Invert, mask),
            layer,
            mask
        );
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
                if (!sources.TryGetValue((source.Source, isAlong), out var node))
                {
                    var lane = look.Sources[source.Source];
                    sources[(source.Source, isAlong)] = node = lane.Chain is { } chain
                        ? Chain(chain)
                        : Value(lane.Value ?? LookValue.Of(0f));
                }
                return node;
            case ConstantOrigin constant:
                return Value(constant.Value);
            case NoiseOrigin noise:
                return Graph.Noise(new(noise.Noise, placement));
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
                return r.Clamp
                    ? Graph.Add(ShadeOp.Clamp, mapped, C(MathF.Min(r.OutLow, r.OutHigh)), C(MathF.Max(r.OutLow, r.OutHigh)))
                    : mapped;
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
                var decoded = Graph.Add(
                    new ShadeNode(ShadeOp.DecodeNormal, ShadeType.Direction, [x, Amount(d.Strength)], new Vector3(down ? 1 : 0, 0, 0))
                );
                var (xx, xy, yx, yy) = isAlong ? placement.TangentRotation : placement.DirectionRotation;
                return placement.RotatesDirections && !d.OnSurface
                    ? Graph.Add(new ShadeNode(ShadeOp.RotateDirection, ShadeType.Direction, [decoded], Rotation: new(xx, xy, yx, yy)))
                    : decoded;
            case HeightToNormalStep h:
                return Graph.Add(
                    new ShadeNode(
                        ShadeOp.HeightToNormal,
                        ShadeType.Direction,
                        [Graph.As(x, ShadeType.Scalar), Amount(h.Strength)],
                        new Vector3(h.HeightMetres / look.SizeU, h.HeightMetres / look.SizeV, 0)
                    )
                );
            case OcclusionStep o:
                return Graph.Add(
                    ShadeOp.Multiply,
                    x,
                    Graph.Add(ShadeOp.Mix, C(1), Graph.As(Chain(o.Occlusion), ShadeType.Scalar), Amount(o.Amount))
                );
            case PowerStep p:
                return Graph.Add(ShadeOp.Power, x, C(p.Exponent));
            case CurveStep c:
                return Graph.Add(new ShadeNode(ShadeOp.Curve, Graph[x].Type, [x]) { Curve = MonotoneCurve.Prepare(c.Points) });
            case GradeStep g:
                return Graded(x, g);
            case BlurStep b:
                return Graph.Add(new ShadeNode(ShadeOp.Blur, Graph[x].Type, [x], new Vector3(b.Radius, 0, 0)));
            case PackStep p:
                return Graph.Add(
                    new ShadeNode(
                        ShadeOp.Pack,
                        ShadeType.Colour,
                        [Graph.As(x, ShadeType.Scalar), Side(p.Green, ShadeType.Scalar), Side(p.Blue, ShadeType.Scalar)]
                    )
                );
            case CombineStep c:
                return Combined(x, c);
            case ConvertStep c:
                return Graph.Add(
                    new ShadeNode(
                        ShadeOp.ConvertSpace,
                        ShadeType.Colour,
                        [Graph.As(x, ShadeType.Colour)],
                        Channel: SpaceConversions.Name(c.From, c.To)
                    )
                );
            default:
                return x;
        }
    }

    private int Side(Lane lane, ShadeType type) =>
        Graph.As(lane.Chain is { } chain ? Chain(chain) : Value(lane.Value ?? LookValue.Of(0f)), type);

    private int Graded(int x, GradeStep g)
    {
        int C(float v) => Graph.Constant(v);
        // A value alone is a product of all three components, and much quicker as one.
        if (Graph[x].Type == ShadeType.Colour && (g.HueDegrees != 0 || g.Saturation != 1))
            x = Graph.Add(
                new ShadeNode(
                    ShadeOp.HsvAdjust,
                    ShadeType.Colour,
                    [x, Graph.Constant(new Vector3(g.HueDegrees / 360, g.Saturation, g.Value), ShadeType.Direction)]
                )
            );
        else
            x = Graph.Add(ShadeOp.Multiply, x, C(g.Value));
        return g.Contrast == 1
            ? x
            : Graph.Add(ShadeOp.Add, Graph.Add(ShadeOp.Multiply, Graph.Add(ShadeOp.Subtract, x, C(g.Pivot)), C(g.Contrast)), C(g.Pivot));
    }

    /// <summary>Two reliefs, weighed.</summary>
    private int Combined(int x, CombineStep c)
    {
        var other = Chain(c.Other);
        if (Graph[x].Type != ShadeType.Direction || Graph[other].Type != ShadeType.Direction)
            throw new LookException(
                "Reliefs are combined as directions: decode a normal map, or turn a height into a normal, before they meet."
            );
        int own = Amount(c.OwnWeight),
            weight = Amount(c.OtherWeight);
        int Steep(int direction, int by) =>
            Graph.Add(
                new ShadeNode(
                    ShadeOp.Multiply,
                    ShadeType.Direction,
                    [Slopes(direction), Graph.Add(new ShadeNode(ShadeOp.Pack, ShadeType.Direction, [by, by, Graph.Constant(1)]))]
                )
            );
        int Unit(int direction) =>
            Graph.Add(new ShadeNode(ShadeOp.RotateDirection, ShadeType.Direction, [direction], Rotation: new(1, 0, 0, 1)));
        if (c.Mode == CombineMode.Detail)
            return Graph.Add(ShadeOp.Reorient, Unit(Steep(x, own)), Unit(Steep(other, weight)));
        if (c.Mode == CombineMode.Additive)
            return Graph.Add(ShadeOp.AddReliefs, x, own, other, weight);
        var both = Graph.Add(ShadeOp.Maximum, Graph.Add(ShadeOp.Add, own, weight), Graph.Constant(1e-6f));
        return Graph.Add(ShadeOp.AddReliefs, x, Graph.Add(ShadeOp.Divide, own, both), other, Graph.Add(ShadeOp.Divide, weight, both));
    }

    private int Amount(Feed feed) =>
        feed.Chain is { } chain
            ? Graph.Add(ShadeOp.Multiply, Graph.As(Chain(chain), ShadeType.Scalar), Graph.Constant(feed.Value))
            : Graph.Constant(feed.Value);

    /// <summary>W3C Compositing and Blending Level 1, section 9.1, a = backdrop, b = source, in linear values.</summary>
    private int Blend(MixMode mode, int a, int b)
    {
        int Op(ShadeOp op, int p, int q) => Graph.Add(op, p, q);
        switch (mode)
        {
            case MixMode.Multiply:
                return Op(ShadeOp.Multiply, a, b);
            case MixMode.Screen:
                return Op(ShadeOp.Subtract, Op(ShadeOp.Add, a, b), Op(ShadeOp.Multiply, a, b));
            case MixMode.Add:
                return Op(ShadeOp.Add, a, b);
            case MixMode.Subtract:
                return Op(ShadeOp.Subtract, a, b);
            case MixMode.Minimum:
                return Op(ShadeOp.Minimum, a, b);
            case MixMode.Maximum:
                return Op(ShadeOp.Maximum, a, b);
            case MixMode.Overlay:
                // Per component: a ≤ ½ multiplies by 2a, else screens with 2a − 1. The halves are told apart by clamping, so no branch is
                // needed.
                var low = Op(ShadeOp.Minimum, Op(ShadeOp.Multiply, a, Graph.Constant(2)), Graph.Constant(1));
                var high = Op(
                    ShadeOp.Maximum,
                    Op(ShadeOp.Subtract, Op(ShadeOp.Multiply, a, Graph.Constant(2)), Graph.Constant(1)),
                    Graph.Constant(0)
                );
                var product = Op(ShadeOp.Multiply, low, b);
                return Op(ShadeOp.Subtract, Op(ShadeOp.Add, product, high), Op(ShadeOp.Multiply, high, b));
            case MixMode.HardLight:
                return Blend(MixMode.Overlay, b, a);
            case MixMode.Difference:
                return Op(ShadeOp.Maximum, Op(ShadeOp.Subtract, a, b), Op(ShadeOp.Subtract, b, a));
            case MixMode.Exclusion:
                return Op(ShadeOp.Subtract, Op(ShadeOp.Add, a, b), Op(ShadeOp.Multiply, Op(ShadeOp.Multiply, a, b), Graph.Constant(2)));
            case MixMode.SoftLight:
                return SoftLight(a, b);
            default:
                return b;
        }
    }

    /// <summary>
    /// Per component: b ≤ ½: a − (1 − 2b)·a·(1 − a), else a + (2b − 1)·(D(a) − a) with D(a) = ((16a − 12)·a + 4)·a for a ≤ ¼ and √a above.
    /// The halves are told apart by clamping.
    /// </summary>
    private int SoftLight(int a, int b)
    {
        int Op(ShadeOp op, int p, int q) => Graph.Add(op, p, q);
        int C(float v) => Graph.Constant(v);
        var twice = Op(ShadeOp.Subtract, Op(ShadeOp.Multiply, b, C(2)), C(1));
        int under = Op(ShadeOp.Minimum, twice, C(0)),
            over = Op(ShadeOp.Maximum, twice, C(0));
        var darker = Op(ShadeOp.Multiply, under, Op(ShadeOp.Multiply, a, Op(ShadeOp.Subtract, C(1), a)));
        // √a and the polynomial meet at ¼: each on its own side, minus what both have there.
        var quarter = Op(ShadeOp.Minimum, a, C(0.25f));
        var polynomial = Op(
            ShadeOp.Multiply,
            Op(ShadeOp.Add, Op(ShadeOp.Multiply, Op(ShadeOp.Subtract, Op(ShadeOp.Multiply, quarter, C(16)), C(12)), quarter), C(4)),
            quarter
        );
        var root = Graph.Add(ShadeOp.SquareRoot, Op(ShadeOp.Maximum, a, C(0.25f)));
        var d = Op(ShadeOp.Subtract, Op(ShadeOp.Add, polynomial, root), C(0.5f));
        return Op(ShadeOp.Add, Op(ShadeOp.Add, a, darker), Op(ShadeOp.Multiply, over, Op(ShadeOp.Subtract, d, a)));
    }
}
