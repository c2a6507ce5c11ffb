using System.Collections.Immutable;
using System.Text.Json;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Naming;

/// <summary>
/// What a phrase in a name claims: one role, several roles among which content decides, or a role per channel of a packed file.
/// </summary>
/// <param name="Roles">One role, or the possible ones of an ambiguous phrase; empty for packed claims.</param>
/// <param name="Strength">How sure such a phrase is in itself, 0..1; studio rules have more.</param>
public sealed record NameClaim(
    ImmutableArray<MapRole> Roles,
    IReadOnlyDictionary<string, MapRole>? Packed,
    float Strength,
    bool IsStudioRule = false
)
{
    public static NameClaim Of(MapRole role, float strength = 1) => new([role], null, strength);

    public MapRole? Role => Roles.Length == 1 ? Roles[0] : null;

    public bool IsAmbiguous => Roles.Length > 1;

    /// <summary>Two claims with the same key say the same.</summary>
    public string Key =>
        Packed is { } p
            ? string.Join(',', p.OrderBy(c => c.Key, StringComparer.Ordinal).Select(c => c.Key + c.Value))
            : string.Join('|', Roles);

    public string Meaning =>
        Packed is { } p
            ? "packed "
                + string.Join(
                    ", ",
                    p.OrderBy(c => c.Key == "rgb" ? -1 : "rgba".IndexOf(c.Key, StringComparison.Ordinal)).Select(c => c.Value.Label())
                )
            : string.Join(" or ", Roles.Select(r => r.Label()));
}

/// <summary>The words by which files say what they are. Data: shipped as naming.json, added to and overruled by studio rules.</summary>
public sealed class NamingTables
{
    private sealed record Document(
        Dictionary<string, string[]> Roles,
        Dictionary<string, string> SingleLetters,
        Dictionary<string, string[]> Ambiguous,
        Dictionary<string, Dictionary<string, string>> Packed,
        string[] NormalUp,
        string[] NormalDown,
        string[] Previews,
        string[] PreviewForms,
        string[] Words,
        string[] Prefixes,
        string[] Folders,
        Dictionary<string, string> Spaces,
        string[] ModelExtensions,
        string[] NoteExtensions,
        string[] NoteNames
    );

    /// <summary>Shortest role word that may be glued to another word (“woodnormal”) or misspelt by one letter.</summary>
    private const int LongWord = 6;

    public static readonly NamingTables Shipped = Load();

    private ILookup<string, (string[] Phrase, NameClaim Claim)> byFirst = null!;
    private List<(string Word, NameClaim Claim)> longRoles = null!;
    private HashSet<string> parts = null!;
    private List<string> longParts = null!;

    private IReadOnlyList<(string[] Phrase, NameClaim Claim)> Claims { get; init; } = [];

    public required IReadOnlySet<string> Previews { get; init; }

    /// <summary>Words for forms on which previews are taken (sphere, cube): previews only where nothing else is said.</summary>
    public required IReadOnlySet<string> PreviewForms { get; init; }

    public required IReadOnlySet<string> FillerWords { get; init; }

    /// <summary>Short words that mark the kind of asset in front of a name (T_, SM_).</summary>
    public required IReadOnlySet<string> Prefixes { get; init; }

    public required IReadOnlySet<string> Folders { get; init; }

    /// <summary>Words that name a colour space a colour file is already in.</summary>
    public required IReadOnlyDictionary<string, string> Spaces { get; init; }

    public required IReadOnlySet<string> ModelExtensions { get; init; }

    public required IReadOnlySet<string> NoteExtensions { get; init; }

    public required IReadOnlySet<string> NoteNames { get; init; }

    public required IReadOnlyDictionary<string, NormalY> Directions { get; init; }

    public IReadOnlyList<NamingRule> Rules { get; private init; } = [];

    /// <summary>The shipped tables with studio rules over them. Later rules win over earlier ones about the same phrase.</summary>
    public static NamingTables With(IReadOnlyList<NamingRule> rules)
    {
        if (rules.Count == 0)
            return Shipped;
        var s = Shipped;
        var last = rules.Where(r => r.Fault is null).GroupBy(r => r.Phrase).Select(g => g.Last()).ToList();
        var phrases = last.Select(r => r.Phrase).ToHashSet();
        IEnumerable<string> Kind(NamingRuleKind kind) => last.Where(r => r.Kind == kind).Select(r => r.Phrase);
        var claims = last.Where(r => r.Kind is NamingRuleKind.Role or NamingRuleKind.Packed)
            .Select(r =>
                (
                    r.Phrase.Split(' '),
                    r.Kind == NamingRuleKind.Role
                        ? new NameClaim([r.Role!.Value], null, 1.3f, true)
                        : new NameClaim([], r.Channels, 1.3f, true)
                )
            );
        var directions = s.Directions.Where(d => !phrases.Contains(d.Key)).ToDictionary();
        foreach (var up in Kind(NamingRuleKind.NormalUp))
            directions[up] = NormalY.Up;
        foreach (var down in Kind(NamingRuleKind.NormalDown))
            directions[down] = NormalY.Down;
        return new NamingTables
        {
            Claims = [.. claims, .. s.Claims.Where(c => !phrases.Contains(string.Join(' ', c.Phrase)))],
            Previews = s.Previews.Except(phrases).Union(Kind(NamingRuleKind.Preview)).ToHashSet(),
            PreviewForms = s.PreviewForms.Except(phrases).ToHashSet(),
            FillerWords = s.FillerWords.Except(phrases).Union(Kind(NamingRuleKind.Ignored)).ToHashSet(),
            Prefixes = s.Prefixes.Except(phrases).ToHashSet(),
            Folders = s.Folders,
            Spaces = s.Spaces.Where(p => !phrases.Contains(p.Key)).ToDictionary(),
            ModelExtensions = s.ModelExtensions,
            NoteExtensions = s.NoteExtensions,
            NoteNames = s.NoteNames,
            Directions = directions,
            Rules = last,
        }.Indexed();
    }

    /// <summary>The phrases of these tables by what they mean, for people to read.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>> PhrasesByMeaning() =>
        Claims
            .GroupBy(c => c.Claim.Meaning)
            .ToDictionary(g => g.Key, IReadOnlyList<string> (g) => [.. g.Select(c => string.Join(' ', c.Phrase))]);

    /// <summary>Claims of the phrases that begin at a token, with the number of tokens they take; longest first.</summary>
    public IEnumerable<(int Length, NameClaim Claim)> At(IReadOnlyList<string> tokens, int at)
    {
        foreach (var (phrase, claim) in byFirst[tokens[at]])
            if (at + phrase.Length <= tokens.Count && Same(phrase, tokens, at))
                yield return (phrase.Length, claim);
        if (!byFirst[tokens[at]].Any() && PackedLetters.Read(tokens[at]) is { } packed)
            yield return (1, new([], packed, tokens[at].Length == 3 ? 0.95f : 0.8f));
    }

    /// <summary>A long role word glued to the end of another word; what stands before it is returned too.</summary>
    public (string Before, string Word, NameClaim Claim)? Within(string token)
    {
        if (token.Length < LongWord + 3 || byFirst[token].Any() || FillerWords.Contains(token))
            return null;
        foreach (var (word, claim) in longRoles)
            if (token.Length >= word.Length + 3 && token.EndsWith(word, StringComparison.Ordinal))
                return (token[..^word.Length], word, claim with { Strength = 0.9f });
        return null;
    }

    /// <summary>The role word that a token misspells by one letter; null for words that are known, or like none.</summary>
    public string? Meant(string token) =>
        token.Length < LongWord - 1 || parts.Contains(token) || FillerWords.Contains(token) || Previews.Contains(token)
            ? null
            : longParts.FirstOrDefault(w => Math.Abs(w.Length - token.Length) <= 1 && token[0] == w[0] && OneEdit(token, w));

    /// <summary>Whether two different words differ by one letter missing, added, changed, or two neighbours swapped.</summary>
    private static bool OneEdit(string a, string b)
    {
        var start = 0;
        while (start < a.Length && start < b.Length && a[start] == b[start])
            start++;
        var end = 0;
        while (end < a.Length - start && end < b.Length - start && a[^(end + 1)] == b[^(end + 1)])
            end++;
        var (left, right) = (a.Length - start - end, b.Length - start - end);
        return left <= 1 && right <= 1 || left == 2 && right == 2 && a[start] == b[start + 1] && a[start + 1] == b[start];
    }

    private static bool Same(string[] phrase, IReadOnlyList<string> tokens, int at)
    {
        for (var i = 1; i < phrase.Length; i++)
            if (phrase[i] != tokens[at + i])
                return false;
        return true;
    }

    private NamingTables Indexed()
    {
        byFirst = Claims.OrderByDescending(c => c.Phrase.Length).ToLookup(c => c.Phrase[0]);
        longRoles =
        [
            .. Claims
                .Where(c => c.Phrase is [{ Length: >= LongWord }] && c.Claim.Packed is null && !c.Claim.IsAmbiguous)
                .Select(c => (c.Phrase[0], c.Claim))
                .OrderByDescending(c => c.Item1.Length),
        ];
        parts = Claims.SelectMany(c => c.Phrase).ToHashSet();
        longParts = [.. parts.Where(p => p.Length >= LongWord).Order(StringComparer.Ordinal)];
        return this;
    }

    private static NamingTables Load()
    {
        using var stream = typeof(NamingTables).Assembly.GetManifestResourceStream("Kiln.Intake.naming.json")!;
        var d = JsonSerializer.Deserialize<Document>(stream, JsonSerializerOptions.Web)!;
        var claims = new List<(string[] Phrase, NameClaim Claim)>();
        foreach (var (role, phrases) in d.Roles)
            claims.AddRange(phrases.Select(p => (p.Split(' '), NameClaim.Of(MapRoles.Parse(role), p.Length <= 3 ? 0.95f : 1f))));
        foreach (var (letter, role) in d.SingleLetters)
            claims.Add(([letter], NameClaim.Of(MapRoles.Parse(role), 0.7f)));
        foreach (var (phrase, roles) in d.Ambiguous)
            claims.Add((phrase.Split(' '), new([.. roles.Select(MapRoles.Parse)], null, phrase.Length == 1 ? 0.7f : 0.95f)));
        foreach (var (phrase, channels) in d.Packed)
            claims.Add((phrase.Split(' '), new([], channels.ToDictionary(c => c.Key, c => MapRoles.Parse(c.Value)), 1f)));
        return new NamingTables
        {
            Claims = claims,
            Previews = d.Previews.ToHashSet(),
            PreviewForms = d.PreviewForms.ToHashSet(),
            FillerWords = d.Words.ToHashSet(),
            Prefixes = d.Prefixes.ToHashSet(),
            Folders = d.Folders.ToHashSet(),
            Spaces = d.Spaces,
            ModelExtensions = d.ModelExtensions.ToHashSet(StringComparer.OrdinalIgnoreCase),
            NoteExtensions = d.NoteExtensions.ToHashSet(StringComparer.OrdinalIgnoreCase),
            NoteNames = d.NoteNames.ToHashSet(),
            Directions = d
                .NormalUp.Select(t => (t, NormalY.Up))
                .Concat(d.NormalDown.Select(t => (t, NormalY.Down)))
                .ToDictionary(p => p.t, p => p.Item2),
        }.Indexed();
    }
}
