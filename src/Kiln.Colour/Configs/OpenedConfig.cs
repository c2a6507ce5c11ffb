using System.Collections.Concurrent;
using System.Collections.Immutable;
using Kiln.Colour.Operations;

namespace Kiln.Colour.Configs;

/// <summary>
/// A config with its files at hand: finds spaces by name, alias or role and makes the steps between them. Safe to share between threads.
/// </summary>
public sealed class OpenedConfig
{
    private readonly ConcurrentDictionary<(string, string), ColourChain> chains = new();
    private readonly ConfigCompiler compiler;
    private readonly Lazy<ImmutableArray<SpaceState>> states;

    private OpenedConfig(OcioConfig config, string path, string hash)
    {
        (Config, Path, Hash) = (config, path, hash);
        compiler = new(this, System.IO.Path.GetDirectoryName(System.IO.Path.GetFullPath(path))!);
        states = new(() => [.. Config.Spaces.Select(StateOf)]);
    }

    public OcioConfig Config { get; }

    public string Path { get; }

    /// <summary>SHA-256 of the config file's bytes, lower-case hexadecimal.</summary>
    public string Hash { get; }

    /// <summary>What can be used of each space, in the config's order.</summary>
    public ImmutableArray<SpaceState> Spaces => states.Value;

    /// <exception cref="ConfigException">The file cannot be used; the message is a sentence.</exception>
    public static OpenedConfig Open(string path)
    {
        byte[] hash;
        OcioConfig config;
        try
        {
            using var file = File.OpenRead(path);
            config = ConfigReader.Read(file);
            file.Position = 0;
            hash = System.Security.Cryptography.SHA256.HashData(file);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new ConfigException($"The config '{path}' cannot be read: {e.Message}", e);
        }
        return new(config, path, Convert.ToHexStringLower(hash));
    }

    /// <summary>By name, alias or role, without regard to case; null where the config has none.</summary>
    public ConfigSpace? Find(string name)
    {
        if (Config.Roles.TryGetValue(name, out var target))
            name = target;
        return Config.Spaces.FirstOrDefault(s => ConfigReader.Named(s, name));
    }

    /// <exception cref="ConfigException">There is no such space, or one of the two cannot be used.</exception>
    public ColourChain Between(string from, string to) =>
        chains.GetOrAdd((from, to), pair => new(compiler.Between(Known(pair.Item1), Known(pair.Item2), ConfigCompiler.Trail.Begin())));

    /// <summary>From a space to the code values of a display under a view.</summary>
    /// <exception cref="ConfigException">There is no such display or view, or it cannot be used.</exception>
    public ColourChain View(string from, string display, string view) =>
        chains.GetOrAdd((from, display + "\n" + view), _ => new(compiler.View(Known(from), display, view, ConfigCompiler.Trail.Begin())));

    /// <summary>
    /// The views that a display offers for pictures in a space: those without a viewing rule, and those whose rule names the space or its
    /// encoding.
    /// </summary>
    /// <exception cref="ConfigException">There is no such display or space.</exception>
    public IReadOnlyList<string> ViewsFor(string display, string space)
    {
        var known = Known(space);
        var found = Config.Displays.FirstOrDefault(d => d.Name.Equals(display, StringComparison.OrdinalIgnoreCase))
            ?? throw new ConfigException($"The config has no display '{display}'.");
        bool Offered(ConfigView view) =>
            view.Rule is not { } name
            || Config.ViewingRules.FirstOrDefault(r => r.Name.Equals(name, StringComparison.OrdinalIgnoreCase)) is not { } rule
            || rule.Spaces.Any(s => Find(s) == known)
            || rule.Encodings.Contains(known.Encoding, StringComparer.OrdinalIgnoreCase);
        bool Active(ConfigView view) =>
            Config.ActiveViews.IsEmpty || Config.ActiveViews.Contains(view.Name, StringComparer.OrdinalIgnoreCase);
        return [.. found.Views.Where(v => Active(v) && Offered(v)).Select(v => v.Name)];
    }

    /// <summary>The displays that the config wants shown, all of them where it names none.</summary>
    public IEnumerable<ConfigDisplay> ShownDisplays =>
        Config.Displays.Where(d =>
            Config.ActiveDisplays.IsEmpty || Config.ActiveDisplays.Contains(d.Name, StringComparer.OrdinalIgnoreCase)
        );

    public ConfigSpace Known(string name) =>
        Find(name) ?? throw new ConfigException($"The config has no colour space, alias or role '{name}'.");

    private SpaceState StateOf(ConfigSpace space)
    {
        string? Fault(Func<IEnumerable<ColourOp>> make)
        {
            try
            {
                _ = new ColourChain(make());
                return null;
            }
            catch (ConfigException e)
            {
                return e.Message;
            }
        }
        return new(
            space,
            Fault(() => compiler.ToReference(space, ConfigCompiler.Trail.Begin())),
            Fault(() => compiler.FromReference(space, ConfigCompiler.Trail.Begin()))
        );
    }
}

/// <summary>Whether a space can be read from and written to, and why not.</summary>
public sealed record SpaceState(ConfigSpace Space, string? ReadFault, string? WriteFault)
{
    public bool CanRead => ReadFault is null;

    public bool CanWrite => WriteFault is null;
}
