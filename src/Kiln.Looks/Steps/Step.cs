using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Steps;

/// <summary>One operation in a lane. <see cref="Id"/> is unique within its chain; a bypassed step passes its input on.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(PlaceStep), "place")]
[JsonDerivedType(typeof(InvertStep), "invert")]
[JsonDerivedType(typeof(RemapStep), "remap")]
[JsonDerivedType(typeof(GainStep), "gain")]
[JsonDerivedType(typeof(ClampStep), "clamp")]
[JsonDerivedType(typeof(MixStep), "mix")]
[JsonDerivedType(typeof(PickStep), "pick")]
[JsonDerivedType(typeof(DecodeNormalStep), "decodeNormal")]
[JsonDerivedType(typeof(HeightToNormalStep), "heightToNormal")]
[JsonDerivedType(typeof(OcclusionStep), "occlusion")]
[JsonDerivedType(typeof(PowerStep), "power")]
[JsonDerivedType(typeof(CurveStep), "curve")]
[JsonDerivedType(typeof(GradeStep), "grade")]
[JsonDerivedType(typeof(BlurStep), "blur")]
[JsonDerivedType(typeof(PackStep), "pack")]
[JsonDerivedType(typeof(CombineStep), "combine")]
[JsonDerivedType(typeof(ConvertStep), "convert")]
public abstract record Step
{
    public string Id { get; init; } = "";

    public bool Bypassed { get; init; }
}

/// <summary>A placement of this map's own instead of the look's shared one. Acts on all before it.</summary>
public sealed record PlaceStep(Placement Placement) : Step;

/// <summary>1 − x.</summary>
public sealed record InvertStep : Step;

/// <summary>outLow + (x − inLow) / (inHigh − inLow) · (outHigh − outLow); clamped to the out range when asked.</summary>
public sealed record RemapStep(float InLow = 0, float InHigh = 1, float OutLow = 0, float OutHigh = 1, bool Clamp = true) : Step;

/// <summary>x · gain + offset.</summary>
public sealed record GainStep(float Gain = 1, float Offset = 0) : Step;

public sealed record ClampStep(float Low = 0, float High = 1) : Step;

[JsonConverter(typeof(CamelCaseEnum<MixMode>))]
public enum MixMode
{
    Normal,
    Multiply,
    Screen,
    Add,
    Subtract,
    Overlay,
    Minimum,
    Maximum,
    HardLight,
    SoftLight,
    Difference,
    Exclusion,
}

/// <summary>lerp(x, blend(x, other), amount); blend formulas of W3C Compositing and Blending Level 1, 9.1, on linear values.</summary>
public sealed record MixStep(MixMode Mode, Lane Other, Feed Amount) : Step;

/// <summary>One channel (r, g, b or luminance) of what came before, as a scalar.</summary>
public sealed record PickStep(string Channel) : Step;

/// <summary>Encoded vector to direction: 2t − 1, slopes times strength, green turned for Y-down maps, renormalised.</summary>
/// <param name="OnSurface">The map holds directions of the surface as it lies there, so they do not turn with it: what a renderer's network
/// says without a turn of its own.</param>
public sealed record DecodeNormalStep(
    Feed Strength,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)] bool OnSurface = false
) : Step;

/// <summary>A height field to directions: slope = strength · heightMetres · ∂h/∂uv / size of the surface's UV unit in metres.</summary>
public sealed record HeightToNormalStep(Feed Strength, float HeightMetres = 0.02f) : Step;

/// <summary>x · lerp(1, occlusion, amount).</summary>
public sealed record OcclusionStep(Chain Occlusion, Feed Amount) : Step;

/// <summary>x to the power; nothing below zero.</summary>
public sealed record PowerStep(float Exponent = 1) : Step;

public sealed record CurvePoint(float X, float Y);

/// <summary>A monotone cubic through the points, each component by itself; see <see cref="Steps.MonotoneCurve"/>.</summary>
public sealed record CurveStep(ImmutableArray<CurvePoint> Points) : Step
{
    public const int MostPoints = 64;

    public bool Equals(CurveStep? other) => other is not null && base.Equals(other) && Points.SequenceEqual(other.Points);

    public override int GetHashCode() => HashCode.Combine(base.GetHashCode(), Points.Length);
}

/// <summary>
/// Hue turned by degrees, saturation and value multiplied (<see cref="Steps.HueSaturationValue"/>), then contrast about a pivot: (x −
/// pivot) · contrast + pivot. Of a scalar only value and contrast.
/// </summary>
public sealed record GradeStep(float HueDegrees = 0, float Saturation = 1, float Value = 1, float Contrast = 1, float Pivot = 0.18f) : Step;

/// <summary>A Gaussian of the given standard deviation, in units of the surface's UV.</summary>
public sealed record BlurStep(float Radius = 0.005f) : Step
{
    public const float Widest = 0.25f;
}

/// <summary>What came before becomes red; green and blue have chains or values of their own.</summary>
public sealed record PackStep(Lane Green, Lane Blue) : Step;

[JsonConverter(typeof(CamelCaseEnum<CombineMode>))]
public enum CombineMode
{
    /// <summary>Slopes times their weights, added.</summary>
    Additive,

    /// <summary>Slopes times their weights, divided by the sum of the weights.</summary>
    Blended,

    /// <summary>The other laid onto this one as a detail, slopes times their weights first.</summary>
    Detail,
}

/// <summary>Another relief joined to this one. Both are directions; of directions the slopes are weighed, never encoded vectors.</summary>
public sealed record CombineStep(CombineMode Mode, Chain Other, Feed OwnWeight, Feed OtherWeight) : Step;

/// <summary>The numbers are taken as being in one space and given in another; identifiers of colour.md.</summary>
public sealed record ConvertStep(string From, string To) : Step;
