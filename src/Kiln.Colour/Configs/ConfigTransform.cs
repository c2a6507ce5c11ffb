using System.Collections.Immutable;

namespace Kiln.Colour.Configs;

/// <summary>A transform as a config states it. <see cref="Inverse"/> is its own direction, before any that the place of use adds.</summary>
public abstract record ConfigTransform
{
    public bool Inverse { get; init; }
}

public sealed record GroupTransform(ImmutableArray<ConfigTransform> Children) : ConfigTransform;

public sealed record MatrixTransform(double[] Matrix, double[] Offset) : ConfigTransform;

public sealed record ExponentTransform(double[] Value, string? Style) : ConfigTransform;

public sealed record ExponentWithLinearTransform(double[] Gamma, double[] Offset, string? Style) : ConfigTransform;

public sealed record LogTransform(double Lead) : ConfigTransform;

/// <summary>An affine log, or with a break a camera log.</summary>
public sealed record LogAffineTransform(
    double Lead,
    double[] LogSlope,
    double[] LogOffset,
    double[] LinSlope,
    double[] LinOffset,
    double[]? Break,
    double[]? LineSlope
) : ConfigTransform;

public sealed record CdlTransform(double[] Slope, double[] Offset, double[] Power, double Saturation, string? Style) : ConfigTransform;

public sealed record RangeTransform(double? LowIn, double? HighIn, double? LowOut, double? HighOut, string? Style) : ConfigTransform;

public sealed record SpaceTransform(string From, string To) : ConfigTransform;

public sealed record LookTransform(string From, string To, string Looks) : ConfigTransform;

public sealed record DisplayTransform(string From, string Display, string View) : ConfigTransform;

public sealed record BuiltinTransform(string Style) : ConfigTransform;

public sealed record FileTransform(string Path, string? Interpolation) : ConfigTransform;

public sealed record AllocationTransform(string Kind, double[] Variables) : ConfigTransform;

public sealed record FixedFunctionTransform(string Style, double[] Parameters) : ConfigTransform;

/// <summary>A kind that is not supported; what uses it is named, the rest of the config stays usable.</summary>
public sealed record UnknownTransform(string Kind, int Line) : ConfigTransform;
