using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Document;

/// <summary>The place in a look that holds the file for one role, and what else could stand there.</summary>
public sealed record Slot(MapRole Role, MapFile File, ImmutableArray<MapFile> Candidates)
{
    public bool Equals(Slot? other) =>
        other is not null && Role == other.Role && File.Equals(other.File) && Candidates.SequenceEqual(other.Candidates);

    public override int GetHashCode() => HashCode.Combine(Role, File);
}

[JsonConverter(typeof(CamelCaseEnum<ReliefRule>))]
public enum ReliefRule
{
    Replace,
    Add,

    [JsonStringEnumMemberName("followGround")]
    FollowBaseLayer,
}

/// <summary>How relief is rendered: by shading only, by geometry only, or both with the frequencies shared out.</summary>
[JsonConverter(typeof(CamelCaseEnum<ReliefMode>))]
public enum ReliefMode
{
    Shading,
    Geometry,
    Both,
}

/// <summary>What lies over the ground through a mask: sparse lanes of its own, or a pinned version of another look.</summary>
public sealed record Layer(
    string Name,
    ImmutableSortedDictionary<string, Lane> Lanes,
    Lane Mask,
    ReliefRule Relief = ReliefRule.Replace,
    string? PinnedVersion = null
)
{
    public bool Equals(Layer? other) =>
        other is not null
        && Name == other.Name
        && Relief == other.Relief
        && PinnedVersion == other.PinnedVersion
        && Mask.Equals(other.Mask)
        && Lanes.SequenceEqual(other.Lanes);

    public override int GetHashCode() => HashCode.Combine(Name, Lanes.Count);
}

/// <summary>Under which colour config a look was wired, or last taken over.</summary>
/// <param name="ConfigHash">SHA-256 of the config, 64 hex digits; null where none was in force.</param>
public sealed record LookColour(string ConfigTitle, string? ConfigHash);

/// <summary>A correction that holds in one dialect only: a gain, offset or power on one neutral input.</summary>
public sealed record Trim(string Input, string Operation, float Value);

/// <summary>
/// One surface, described without any renderer. Immutable: an edit yields a new look and the edit that leads back.
/// Lanes are keyed by neutral input (<see cref="Inputs.NeutralInputs"/>); inputs without a lane have their defaults.
/// </summary>
public sealed record Look
{
    public const int CurrentSchema = 1;

    public int Schema { get; init; } = CurrentSchema;

    public required string Name { get; init; }

    public ImmutableArray<string> Tags { get; init; } = [];

    public ImmutableSortedDictionary<string, Slot> Slots { get; init; } = ImmutableSortedDictionary<string, Slot>.Empty;

    public ImmutableSortedDictionary<string, Lane> Sources { get; init; } = ImmutableSortedDictionary<string, Lane>.Empty;

    public ImmutableSortedDictionary<string, Lane> Lanes { get; init; } = ImmutableSortedDictionary<string, Lane>.Empty;

    [JsonPropertyName("covers")]
    public ImmutableArray<Layer> Layers { get; init; } = [];

    public Placement Placement { get; init; } = Placement.Identity;

    /// <summary>Metres of surface that one unit of UV spans, per axis.</summary>
    public float SizeU { get; init; } = 1;

    public float SizeV { get; init; } = 1;

    public ReliefMode Relief { get; init; } = ReliefMode.Shading;

    public Displacement Displacement { get; init; } = new();

    /// <summary>Null where nothing is remembered.</summary>
    public LookColour? Colour { get; init; }

    public ImmutableSortedDictionary<string, ImmutableArray<Trim>> Trims { get; init; } =
        ImmutableSortedDictionary<string, ImmutableArray<Trim>>.Empty;

    /// <summary>What could not be understood when the look was read from elsewhere, in sentences.</summary>
    public ImmutableArray<string> Remarks { get; init; } = [];

    /// <summary>Its colourways, in their order.</summary>
    [JsonIgnore]
    public ImmutableArray<Variant> Variants { get; init; } = [];

    /// <summary>Nothing is written of a look without variants: its document is what it was before there were any.</summary>
    [JsonInclude, JsonPropertyName("variants")]
    internal IReadOnlyList<Variant>? WrittenVariants
    {
        get => Variants.IsEmpty ? null : Variants;
        init => Variants = value is null ? [] : [.. value];
    }
}
