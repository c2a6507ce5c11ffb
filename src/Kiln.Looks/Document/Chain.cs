using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;

namespace Kiln.Looks.Document;

/// <summary>Where a chain begins: a slot's file with a reading, a source, or a constant.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(SlotOrigin), "slot")]
[JsonDerivedType(typeof(SourceOrigin), "source")]
[JsonDerivedType(typeof(ConstantOrigin), "constant")]
[JsonDerivedType(typeof(NoiseOrigin), "noise")]
public abstract record Origin;

public sealed record SlotOrigin(string Slot, Reading Reading) : Origin;

public sealed record SourceOrigin(string Source) : Origin;

public sealed record ConstantOrigin(LookValue Value) : Origin;

/// <summary>Noise made on the spot, 0..1, repeating with the placement.</summary>
public sealed record NoiseOrigin(NoiseField Noise) : Origin;

[JsonConverter(typeof(CamelCaseEnum<NoiseKind>))]
public enum NoiseKind
{
    Gradient,
    Fractal,
    Cell,
}

/// <param name="Cells">Cells along one repeat, 1..512.</param>
/// <param name="Octaves">Of fractal noise, 1..10; each has twice the cells of the one before.</param>
/// <param name="Gain">How much each octave weighs against the one before.</param>
public sealed record NoiseField(NoiseKind Kind = NoiseKind.Fractal, int Cells = 8, int Octaves = 5, float Gain = 0.5f, int Seed = 1);

/// <summary>An origin followed by steps, left to right.</summary>
[method: JsonConstructor]
public sealed record Chain(Origin Origin, ImmutableArray<Step> Steps)
{
    public Chain(Origin origin)
        : this(origin, []) { }

    public bool Equals(Chain? other) => other is not null && Origin.Equals(other.Origin) && Steps.SequenceEqual(other.Steps);

    public override int GetHashCode() => HashCode.Combine(Origin, Steps.Length);
}

/// <summary>A strength, amount or mask: a plain value, or a chain that gives one per point (multiplied by the value).</summary>
public sealed record Feed(float Value, Chain? Chain = null);

/// <summary>What feeds one surface input or source: its value while nothing is connected, and a chain.</summary>
public sealed record Lane(LookValue? Value = null, Chain? Chain = null);
