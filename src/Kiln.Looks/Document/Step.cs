using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Document;

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
}

/// <summary>lerp(x, blend(x, other), amount); blend formulas of W3C Compositing and Blending Level 1, 9.1, on linear values.</summary>
public sealed record MixStep(MixMode Mode, Lane Other, Feed Amount) : Step;

/// <summary>One channel (r, g, b or luminance) of what came before, as a scalar.</summary>
public sealed record PickStep(string Channel) : Step;

/// <summary>Encoded vector to direction: 2t − 1, slopes times strength, green turned for Y-down maps, renormalised.</summary>
public sealed record DecodeNormalStep(Feed Strength) : Step;

/// <summary>A height field to directions: slope = strength · heightMetres · ∂h/∂uv / size of the surface's UV unit in metres.</summary>
public sealed record HeightToNormalStep(Feed Strength, float HeightMetres = 0.02f) : Step;

/// <summary>x · lerp(1, occlusion, amount).</summary>
public sealed record OcclusionStep(Chain Occlusion, Feed Amount) : Step;
