using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Graph;

/// <summary>Turns a look's lanes into graph nodes: the ground, covered inputs mixed through their masks, sources shared.</summary>
public sealed class LaneGraphs
{
    private readonly Look look;
    private readonly ReliefMode relief;
    private readonly Dictionary<(string Source, bool Along), int> sources = [];

    /// <summary>Whether what is decoded runs along the surface (a tangent) rather than away from it.</summary>
    internal bool IsAlong { get; private set; }

    internal float SizeU => look.SizeU;

    internal float SizeV => look.SizeV;

    /// <summary>Numbers that stay numbers of their own; null for none.</summary>
    internal LiveValues? Live { get; }

    /// <param name="displaces">Whether what renders this moves the surface where displacement is on. What does not keeps the whole relief
    /// in its shading.</param>
    public LaneGraphs(Look look, ShadeGraph graph, bool displaces = true, LiveValues? live = null)
    {
        this.look = look;
        Live = live;
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
        var node = LaneNode(look.Lanes.GetValueOrDefault(name) ?? Live?.Absent(name), input);
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
        int Low(int of) => Graph.Add(new BlurNode(of, Graph[of].Type, width));
        if (name == "displacement")
            return Low(node);
        var slopes = Slopes(node);
        var rest = Graph.Add(new ArithmeticNode(ShadeOp.Subtract, ShadeType.Direction, [slopes, Low(slopes)]));
        return Graph.Add(
            new RotateDirectionNode(
                Graph.Add(
                    new ArithmeticNode(
                        ShadeOp.Pack,
                        ShadeType.Direction,
                        [Graph.Channel(rest, MapChannel.R), Graph.Channel(rest, MapChannel.G), Graph.Constant(1)]
                    )
                ),
                RotateDirectionNode.Identity
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
        var lowering = new StepLowering(this, placement);
        foreach (var step in chain.Steps.Take(count).Where(s => !s.Bypassed))
            node = step.Entry.Lower(step, node, lowering);
        return node;
    }

    public int Value(LookValue value) =>
        value switch
        {
            TintValue tint => Graph.Constant(tint.Colour.In(Graph.Working.Space)),
            ScalarValue scalar => Graph.Constant(scalar.Number),
            _ => throw new LookException("A value of an unknown kind."),
        };

    /// <summary>The value of a lane without a chain.</summary>
    internal int ValueOf(Lane? lane, LookValue otherwise)
    {
        var value = lane?.Value ?? otherwise;
        if (Live?.NameOf(lane) is not { } name)
            return Value(value);
        return value switch
        {
            TintValue tint => Graph.Add(
                new ConvertSpaceNode(
                    Graph.Parameter(name, new(tint.R, tint.G, tint.B), ShadeType.Colour),
                    tint.Space.ToString(),
                    Graph.Working.Space.Id.ToString()
                )
            ),
            ScalarValue scalar => Graph.Parameter(name, new(scalar.Number), ShadeType.Scalar),
            _ => Value(value),
        };
    }

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
        return Graph.As(ValueOf(lane, input.DefaultValue!), input.IsScalar ? ShadeType.Scalar : ShadeType.Colour);
    }

    /// <summary>
    /// A direction along the surface: a number of whole turns from u, or a chain of such numbers, or one of directions. What a map says
    /// turns with the map.
    /// </summary>
    private int? Tangent(Lane lane)
    {
        if (lane.Chain is not { } chain)
            return lane.Value is { } value ? Graph.Add(ShadeOp.Heading, Graph.As(ValueOf(lane, value), ShadeType.Scalar)) : null;
        IsAlong = true;
        var node = Chain(chain);
        IsAlong = false;
        if (Graph[node].Type == ShadeType.Direction)
            return node;
        var heading = Graph.Add(ShadeOp.Heading, Graph.As(node, ShadeType.Scalar));
        var placement = chain.Steps.OfType<PlaceStep>().LastOrDefault(s => !s.Bypassed)?.Placement ?? look.Placement;
        var (xx, xy, yx, yy) = placement.TangentRotation;
        return placement.RotatesDirections && chain.Origin is SlotOrigin
            ? Graph.Add(new RotateDirectionNode(heading, new(xx, xy, yx, yy)))
            : heading;
    }

    private int? Over(int? baseLayer, int layer, int mask, NeutralInput input, ReliefRule rule)
    {
        if (!input.IsDirection)
            return Graph.Add(ShadeOp.Mix, baseLayer!.Value, layer, mask);
        if (input.IsTangent)
            return Graph.Add(
                new RotateDirectionNode(
                    Graph.Add(ShadeOp.Mix, baseLayer ?? Graph.Constant(Vector3.UnitX, ShadeType.Direction), layer, mask),
                    RotateDirectionNode.Identity
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
    internal int Slopes(int direction) => Graph.Add(ShadeOp.Divide, direction, Graph.Channel(direction, MapChannel.B));

    private int OriginNode(Origin origin, Placement placement)
    {
        switch (origin)
        {
            case SlotOrigin slot:
                return Graph.Image(new(look.Slots[slot.Slot].File, slot.Reading, placement));
            case SourceOrigin source:
                if (!sources.TryGetValue((source.Source, IsAlong), out var node))
                {
                    var lane = look.Sources[source.Source];
                    sources[(source.Source, IsAlong)] = node = lane.Chain is { } chain ? Chain(chain) : ValueOf(lane, LookValue.Of(0f));
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
}
