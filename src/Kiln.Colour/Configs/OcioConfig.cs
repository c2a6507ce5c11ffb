using System.Collections.Immutable;

namespace Kiln.Colour.Configs;

/// <summary>A colour space as a config states it. Of the two transforms one may be missing; the other is then used backwards.</summary>
public sealed record ConfigSpace(string Name)
{
    public ImmutableArray<string> Aliases { get; init; } = [];

    public string Family { get; init; } = "";

    public string EqualityGroup { get; init; } = "";

    public string BitDepth { get; init; } = "";

    public string Encoding { get; init; } = "";

    public string Description { get; init; } = "";

    public bool IsData { get; init; }

    /// <summary>Referred to the display instead of the scene.</summary>
    public bool IsDisplay { get; init; }

    public ConfigTransform? ToReference { get; init; }

    public ConfigTransform? FromReference { get; init; }

    public int Line { get; init; }
}

/// <summary>A transform that stands under a name of its own; of the two directions one may be missing.</summary>
public sealed record NamedTransform(string Name, ImmutableArray<string> Aliases, ConfigTransform? Forward, ConfigTransform? Backward);

public sealed record ConfigLook(string Name, string ProcessSpace, ConfigTransform? Transform, ConfigTransform? InverseTransform);

/// <summary>How scene light becomes display light.</summary>
public sealed record ViewTransform(
    string Name,
    ConfigTransform? FromScene,
    ConfigTransform? ToScene,
    ConfigTransform? FromDisplay,
    ConfigTransform? ToDisplay
);

/// <summary>A view of a display: either a colour space, or a view transform and a display space.</summary>
public sealed record ConfigView(
    string Name,
    string? Space,
    string? ViewTransform,
    string? DisplaySpace,
    string Looks,
    string Description,
    string? Rule = null
);

public sealed record ConfigDisplay(string Name, ImmutableArray<ConfigView> Views);

/// <summary>For which spaces a view that names the rule is offered: by name or role, or by their encoding.</summary>
public sealed record ViewingRule(string Name, ImmutableArray<string> Spaces, ImmutableArray<string> Encodings);

/// <summary>Which space a file is in by its name: a pattern and an extension, a regular expression, or (the last rule) always.</summary>
public sealed record FileRule(string Name, string? Space, string? Pattern, string? Extension, string? Regex);

/// <summary>An OpenColorIO config, version 1 or 2, as it is written; nothing is resolved yet.</summary>
public sealed record OcioConfig
{
    public int Version { get; init; } = 1;

    public int MinorVersion { get; init; }

    public string Name { get; init; } = "";

    public string Description { get; init; } = "";

    public ImmutableArray<string> SearchPath { get; init; } = [];

    public ImmutableSortedDictionary<string, string> Environment { get; init; } =
        ImmutableSortedDictionary.Create<string, string>(StringComparer.Ordinal);

    public ImmutableSortedDictionary<string, string> Roles { get; init; } =
        ImmutableSortedDictionary.Create<string, string>(StringComparer.OrdinalIgnoreCase);

    public ImmutableArray<ConfigSpace> Spaces { get; init; } = [];

    public ImmutableArray<NamedTransform> NamedTransforms { get; init; } = [];

    public ImmutableArray<ConfigLook> Looks { get; init; } = [];

    public ImmutableArray<ViewTransform> ViewTransforms { get; init; } = [];

    public string? DefaultViewTransform { get; init; }

    public ImmutableArray<ConfigDisplay> Displays { get; init; } = [];

    public ImmutableArray<FileRule> FileRules { get; init; } = [];

    public ImmutableArray<ViewingRule> ViewingRules { get; init; } = [];

    public ImmutableArray<string> ActiveDisplays { get; init; } = [];

    public ImmutableArray<string> ActiveViews { get; init; } = [];

    public ImmutableHashSet<string> Inactive { get; init; } = [];

    /// <summary>What is odd without being in the way: one clear line each.</summary>
    public ImmutableArray<string> Remarks { get; init; } = [];
}
