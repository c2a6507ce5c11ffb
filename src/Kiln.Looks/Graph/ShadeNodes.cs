using System.Collections.Immutable;
using System.Numerics;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Graph;

/// <summary>
/// One operation. Scalars are held in all three components. Colours are linear, in the graph's working space. An operation with settings
/// of its own has a record of its own; all others are <see cref="ArithmeticNode"/>.
/// </summary>
/// <param name="Inputs">Numbers of the nodes that go in.</param>
public abstract record ShadeNode(ShadeOp Op, ShadeType Type, ImmutableArray<int> Inputs)
{
    /// <summary>The first input.</summary>
    public int Input => Inputs[0];

    /// <summary>Of a lookup; null of all others.</summary>
    public ImageLookup? Image => (this as ImageNode)?.Lookup;

    /// <summary>Of noise; null of all others.</summary>
    public PlacedNoise? Noise => (this as NoiseNode)?.Placed;

    /// <summary>The node's own settings as text; two nodes with the same text, type and inputs give the same.</summary>
    internal virtual string Settings => "";

    public virtual bool Equals(ShadeNode? other) =>
        other is not null
        && EqualityContract == other.EqualityContract
        && Op == other.Op
        && Type == other.Type
        && Inputs.SequenceEqual(other.Inputs);

    public override int GetHashCode()
    {
        var hash = new HashCode();
        hash.Add(Op);
        foreach (var i in Inputs)
            hash.Add(i);
        return hash.ToHashCode();
    }
}

/// <summary>An operation that its inputs say all of.</summary>
/// <exception cref="ArgumentException">The operation has settings, and a record of its own.</exception>
public sealed record ArithmeticNode(ShadeOp Op, ShadeType Type, ImmutableArray<int> Inputs) : ShadeNode(Plain(Op), Type, Inputs)
{
    private static ShadeOp Plain(ShadeOp op) =>
        op
            is ShadeOp.Constant
                or ShadeOp.Parameter
                or ShadeOp.Image
                or ShadeOp.Noise
                or ShadeOp.Luminance
                or ShadeOp.Channel
                or ShadeOp.DecodeNormal
                or ShadeOp.RotateDirection
                or ShadeOp.HeightToNormal
                or ShadeOp.Curve
                or ShadeOp.ConvertSpace
                or ShadeOp.Blur
            ? throw new ArgumentException($"{op} has settings of its own.", nameof(op))
            : op;
}

public sealed record ConstantNode(ShadeType Type, Vector3 Value) : ShadeNode(ShadeOp.Constant, Type, [])
{
    internal override string Settings => Value.ToString("R", null);
}

/// <summary>A number of the document that somebody is about to change: nothing is folded into it.</summary>
/// <param name="Name">As <see cref="LiveValues"/> has it.</param>
public sealed record ParameterNode(ShadeType Type, string Name, Vector3 Value) : ShadeNode(ShadeOp.Parameter, Type, [])
{
    internal override string Settings => $"{Name} {Value.ToString("R", null)}";
}

/// <summary>A lookup: which file, how it is read, where it lies.</summary>
public sealed record ImageLookup(MapFile File, Reading Reading, Placement Placement)
{
    public bool Equals(ImageLookup? other) =>
        other is not null
        && File.Equals(other.File)
        && Placement == other.Placement
        && Reading with { Reason = "", Authority = default } == other.Reading with { Reason = "", Authority = default };

    public override int GetHashCode() => HashCode.Combine(File, Placement);
}

public sealed record ImageNode(ImageLookup Lookup) : ShadeNode(ShadeOp.Image, ShadeGraph.TypeOf(Lookup.Reading.Kind), [])
{
    internal override string Settings =>
        string.Join(',', Lookup.File.Contents)
        + System.Text.Json.JsonSerializer.Serialize(Lookup.Reading with { Reason = "", Authority = default })
        + System.Text.Json.JsonSerializer.Serialize(Lookup.Placement);
}

/// <summary>Noise and where it lies.</summary>
public sealed record PlacedNoise(Document.NoiseField Field, Placement Placement);

public sealed record NoiseNode(PlacedNoise Placed) : ShadeNode(ShadeOp.Noise, ShadeType.Scalar, [])
{
    internal override string Settings => Placed.Field + System.Text.Json.JsonSerializer.Serialize(Placed.Placement);
}

/// <summary>The sum of the three components, each times its weight.</summary>
public sealed record LuminanceNode(int Input, Vector3 Weights) : ShadeNode(ShadeOp.Luminance, ShadeType.Scalar, [Input])
{
    internal override string Settings => Weights.ToString("R", null);
}

/// <summary>One component as a scalar.</summary>
/// <param name="Channel">r, g or b.</param>
public sealed record ChannelNode(int Input, MapChannel Channel) : ShadeNode(ShadeOp.Channel, ShadeType.Scalar, [Input])
{
    internal override string Settings => Channel.Word();
}

/// <summary>A stored direction t as a unit vector: 2t − 1, slopes times the strength.</summary>
/// <param name="YDown">Whether the stored green points down.</param>
public sealed record DecodeNormalNode(int Input, int Strength, bool YDown)
    : ShadeNode(ShadeOp.DecodeNormal, ShadeType.Direction, [Input, Strength])
{
    public int Strength => Inputs[1];

    internal override string Settings => YDown ? "down" : "up";
}

/// <summary>A direction whose x and y go through a matrix, at unit length again.</summary>
/// <param name="Matrix">The 2 × 2 matrix as (xx, xy, yx, yy).</param>
public sealed record RotateDirectionNode(int Input, Vector4 Matrix) : ShadeNode(ShadeOp.RotateDirection, ShadeType.Direction, [Input])
{
    /// <summary>Leaves the direction as it is and brings it to unit length.</summary>
    public static Vector4 Identity => new(1, 0, 0, 1);

    internal override string Settings => Matrix.ToString("R", null);
}

/// <summary>A height field's direction.</summary>
/// <param name="Range">The range of heights over the size of a UV unit, along u and v.</param>
public sealed record HeightToNormalNode(int Input, int Strength, Vector2 Range)
    : ShadeNode(ShadeOp.HeightToNormal, ShadeType.Direction, [Input, Strength])
{
    public int Strength => Inputs[1];

    internal override string Settings => Range.ToString("R", null);
}

/// <param name="Curve">x, y and tangent of every point (<see cref="Steps.Arithmetic.MonotoneCurve"/>).</param>
public sealed record CurveNode(int Input, ShadeType Type, ImmutableArray<float> Curve) : ShadeNode(ShadeOp.Curve, Type, [Input])
{
    /// <summary>What its numbers are called that somebody is about to change, as <see cref="LiveValues"/> has it; null for none.</summary>
    public string? Name { get; init; }

    internal override string Settings => string.Join(',', Curve) + Name;

    public bool Equals(CurveNode? other) =>
        other is not null && base.Equals(other) && Name == other.Name && Curve.SequenceEqual(other.Curve);

    public override int GetHashCode() => HashCode.Combine(base.GetHashCode(), Curve.Length);
}

/// <summary>Numbers of one space given in another; identifiers of colour.md.</summary>
public sealed record ConvertSpaceNode(int Input, string From, string To) : ShadeNode(ShadeOp.ConvertSpace, ShadeType.Colour, [Input])
{
    internal override string Settings => $"{From}>{To}";
}

/// <param name="Deviation">Of the Gaussian, in UV.</param>
public sealed record BlurNode(int Input, ShadeType Type, float Deviation) : ShadeNode(ShadeOp.Blur, Type, [Input])
{
    internal override string Settings => Deviation.ToString("R");
}
