using System.Collections.Immutable;
using Kiln.Intake.Sets;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Intake;

/// <summary>A file placed in a set for one role; a packed file is placed once per property.</summary>
/// <param name="Confidence">Of role and set, 0..1; 0.9 and above is placed unasked.</param>
/// <param name="Evidence">Why, in plain words, the strongest first.</param>
public sealed record PlacedMap(
    string Path,
    MapRole Role,
    MapChannel Channel,
    Reading Reading,
    NormalY? NormalY,
    float? NormalYConfidence,
    int Width,
    int Height,
    int Bits,
    bool Float,
    int? Udim,
    float Confidence,
    ImmutableArray<string> Evidence,
    MapFile File,
    int? Level = null
)
{
    public const float Unasked = 0.9f;

    public bool Asks => Confidence < Unasked;

    /// <summary>The words of the name that mean several things in the trade, where they do.</summary>
    public string? AmbiguousPhrase { get; init; }

    /// <summary>What they may mean, the proposed one first.</summary>
    public ImmutableArray<MapRole> AmbiguousRoles { get; init; } = [];

    /// <summary>A version number that stood after the role in the name.</summary>
    public int? Version { get; init; }

    /// <summary>A variant that stood after the role in the name.</summary>
    public string? Variant { get; init; }

    /// <summary>The word for the reflection that its name uses, where its role is one of it.</summary>
    public ReflectionWord? ReflectionWord { get; init; }

    /// <summary>The path of the surface's other statement about the reflection, while nobody has said what each is.</summary>
    public string? BesideReflection { get; init; }
}

/// <summary>A file that could stand in for another of its set.</summary>
public sealed record Alternate(PlacedMap Map, string InsteadOf, string Reason);

/// <summary>The maps that describe one surface, exactly one per role (and tile); what else there is stands beside them.</summary>
public sealed record MapSet(
    string Name,
    ImmutableArray<PlacedMap> Maps,
    ImmutableArray<Alternate> Alternates,
    ImmutableArray<string> Previews
)
{
    public bool Ready => Maps.All(m => !m.Asks);

    /// <summary>Tags proposed from the surface's name.</summary>
    public ImmutableArray<string> Tags { get; init; } = [];
}

/// <summary>Something the program does not decide: one phrase in the names of several files, asked once for all of them.</summary>
/// <param name="Phrase">The words in the names, as a studio rule would hold them.</param>
/// <param name="Roles">What they may be, the proposed one first.</param>
public sealed record IntakeQuestion(string Phrase, ImmutableArray<MapRole> Roles, ImmutableArray<string> Paths);

/// <summary>A file that fits nowhere, or is no map; with its facts where they could be read.</summary>
public sealed record LooseFile(string Path, string Reason, MapFile? File = null);

public sealed record RejectedFile(string Path, string Error);

/// <summary>What an intake found. Every file of the delivery appears somewhere.</summary>
public sealed record IntakeResult(
    ImmutableArray<MapSet> Sets,
    ImmutableArray<LooseFile> Unsorted,
    ImmutableArray<LooseFile> SetAside,
    ImmutableArray<RejectedFile> Rejected
)
{
    /// <summary>Ambiguous words, each asked about once.</summary>
    public ImmutableArray<IntakeQuestion> Questions { get; init; } = [];

    /// <summary>Surfaces with a picture named reflection and one named specular: asked about together, once.</summary>
    public ImmutableArray<ReflectionPair> ReflectionPairs { get; init; } = [];

    /// <summary>Model files that came with the delivery; they are set aside too.</summary>
    public ImmutableArray<string> Models { get; init; } = [];
}

/// <summary>How far an intake is, for the person who waits.</summary>
public sealed record IntakeProgress(string Stage, int Done, int Total);
