using System.Collections.Immutable;

namespace Kiln.Dialects.Profiles;

/// <summary>
/// The profiles of a folder by identifier, and over them those that a studio has of its own. Safe to read while one is put in.
/// </summary>
public sealed class DialectProfiles
{
    private readonly ImmutableDictionary<string, DialectProfile> shipped;
    private volatile ImmutableDictionary<string, DialectProfile> profiles;

    private DialectProfiles(IEnumerable<DialectProfile> profiles, string? folder)
    {
        this.profiles = shipped = profiles.ToImmutableDictionary(p => p.Id);
        Folder = folder;
    }

    public bool IsShipped(string id) => shipped.ContainsKey(id);

    /// <summary>From now on this one stands for its dialect.</summary>
    public void Put(DialectProfile profile) => profiles = profiles.SetItem(profile.Id, profile);

    /// <summary>Back to the shipped one, or none.</summary>
    public void TakeBack(string id) => profiles = shipped.TryGetValue(id, out var own) ? profiles.SetItem(id, own) : profiles.Remove(id);

    /// <summary>Where the shipped profiles lie, and beside them the node definitions made from them.</summary>
    public string? Folder { get; }

    /// <summary>Open standards first, then those with nodes of their own.</summary>
    public IReadOnlyCollection<DialectProfile> All =>
        [.. profiles.Values.OrderBy(p => p.Definitions == NodeDefinitionSource.Own).ThenBy(p => p.Title, StringComparer.OrdinalIgnoreCase)];

    /// <exception cref="ProfileException">A file of the folder is no valid profile.</exception>
    public static DialectProfiles Load(string folder, string? extra = null)
    {
        var files = Directory
            .GetFiles(folder, "*.json")
            .Where(f => !f.EndsWith(".schema.json", StringComparison.Ordinal))
            .Order(StringComparer.Ordinal)
            .ToList();
        if (extra is not null)
            files.Add(extra);
        return new(
            files.Select(f => DialectProfile.Read(File.ReadAllText(f), Path.GetFileName(f))).GroupBy(p => p.Id).Select(g => g.Last()),
            folder
        );
    }

    /// <summary>Walks up from the program's folder to the shipped <c>profiles</c>.</summary>
    public static string ShippedFolder(string? from = null)
    {
        for (var folder = from ?? AppContext.BaseDirectory; folder is not null; folder = Path.GetDirectoryName(folder))
            if (File.Exists(Path.Combine(folder, "profiles", "openpbr.json")))
                return Path.Combine(folder, "profiles");
        throw new ProfileException("The folder 'profiles' was not found beside the program.");
    }

    public bool Has(string id) => profiles.ContainsKey(id);

    /// <exception cref="ProfileException">There is no such dialect.</exception>
    public DialectProfile Find(string id) =>
        profiles.TryGetValue(id, out var profile)
            ? profile
            : throw new ProfileException(
                $"There is no dialect '{id}' here. Known: {string.Join(", ", profiles.Keys.Order(StringComparer.Ordinal))}."
            );
}
