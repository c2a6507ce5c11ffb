using System.Text.Json;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Intake;

/// <summary>The words by which files say what they are. Data: shipped as naming.json, replaceable by house rules.</summary>
public sealed class NamingTables
{
    private sealed record Document(
        Dictionary<string, string[]> Roles, Dictionary<string, string> SingleLetters, Dictionary<string, Dictionary<string, string>> Packed,
        string[] NormalUp, string[] NormalDown, string[] Previews, string[] Words, string[] ModelExtensions, string[] NoteExtensions, string[] NoteNames);

    public static readonly NamingTables Shipped = Load();

    /// <summary>Phrases of tokens to what they claim, longest phrases first.</summary>
    public required IReadOnlyList<(string[] Phrase, NameClaim Claim)> Claims { get; init; }

    public required IReadOnlySet<string> Previews { get; init; }

    public required IReadOnlySet<string> Words { get; init; }

    public required IReadOnlySet<string> ModelExtensions { get; init; }

    public required IReadOnlySet<string> NoteExtensions { get; init; }

    public required IReadOnlySet<string> NoteNames { get; init; }

    public required IReadOnlyDictionary<string, NormalY> Directions { get; init; }

    private static NamingTables Load()
    {
        using var stream = typeof(NamingTables).Assembly.GetManifestResourceStream("Kiln.Looks.Intake.naming.json")!;
        var d = JsonSerializer.Deserialize<Document>(stream, JsonSerializerOptions.Web)!;
        var claims = new List<(string[] Phrase, NameClaim Claim)>();
        foreach (var (role, phrases) in d.Roles)
            claims.AddRange(phrases.Select(p => (p.Split(' '), new NameClaim(MapRoles.Parse(role), null, p.Length <= 3 ? 0.9f : 1f))));
        foreach (var (letter, role) in d.SingleLetters)
            claims.Add(([letter], new NameClaim(MapRoles.Parse(role), null, 0.7f)));
        foreach (var (phrase, channels) in d.Packed)
            claims.Add((phrase.Split(' '), new NameClaim(null, channels.ToDictionary(c => c.Key, c => MapRoles.Parse(c.Value)), 1f)));
        return new()
        {
            Claims = [.. claims.OrderByDescending(c => c.Phrase.Length)],
            Previews = d.Previews.ToHashSet(),
            Words = d.Words.ToHashSet(),
            ModelExtensions = d.ModelExtensions.ToHashSet(StringComparer.OrdinalIgnoreCase),
            NoteExtensions = d.NoteExtensions.ToHashSet(StringComparer.OrdinalIgnoreCase),
            NoteNames = d.NoteNames.ToHashSet(),
            Directions = d.NormalUp.Select(t => (t, NormalY.Up)).Concat(d.NormalDown.Select(t => (t, NormalY.Down))).ToDictionary(p => p.t.Replace(" ", ""), p => p.Item2),
        };
    }
}

/// <summary>What a phrase in a name claims: one role, or a role per channel of a packed file; with how sure such a phrase is in itself.</summary>
public sealed record NameClaim(MapRole? Role, IReadOnlyDictionary<string, MapRole>? Packed, float Strength)
{
    public bool Is(MapRole role) => Role == role || Packed?.Values.Contains(role) == true;
}
