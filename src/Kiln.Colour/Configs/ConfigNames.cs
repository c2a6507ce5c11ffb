using Kiln.Colour.Spaces;

namespace Kiln.Colour.Configs;

/// <summary>The config in force and its names for our spaces.</summary>
public sealed class ConfigNames(OpenedConfig config)
{
    private readonly Lazy<SpaceMatching> matching = new(() => SpaceMatching.Measure(config));

    public OpenedConfig Config { get; } = config;

    public SpaceMatching Matching => matching.Value;

    /// <summary>The config that a path or, without one, the environment variable OCIO names; null where neither does.</summary>
    /// <exception cref="ConfigException">It cannot be used.</exception>
    public static ConfigNames? Open(string? path) =>
        (path ?? Environment.GetEnvironmentVariable("OCIO")) is { Length: > 0 } file ? new(OpenedConfig.Open(file)) : null;

    /// <summary>The config's name for one of our spaces; where it has none, our identifier.</summary>
    public string NameOf(SpaceId space) => Matching.NameFor(Config, space) ?? space.Text;

    /// <summary>Our space behind a name, alias or role of the config; null where it is none of ours.</summary>
    public SpaceId? OursFor(string name) =>
        Config.Find(name) is { } space
            ? space.IsData
                ? "raw"
                : Matching.OursFor(space.Name)
            : null;
}
