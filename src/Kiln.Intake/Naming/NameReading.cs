using Kiln.Colour.Spaces;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Naming;

/// <summary>What one way of reading a file name gives.</summary>
/// <param name="Surface">What remains when role and technical tokens are taken out, tokens joined by _.</param>
/// <param name="Position">1 at the end of the name, less in front of other words.</param>
public sealed record NameCandidate(
    string Surface,
    NameClaim Claim,
    string Phrase,
    float Position,
    int? Version = null,
    string? Variant = null,
    bool FromFolder = false
)
{
    /// <summary>By which surfaces are compared: separators do not count, except between digits.</summary>
    public string Key { get; } = SurfaceKey.Of(Surface);
}

/// <summary>What a token of a name was taken for; shown when a name is tried against the rules.</summary>
public sealed record ReadToken(string Text, string Kind);

/// <summary>A file name taken apart: technical tokens, and every way in which it may name a role.</summary>
public sealed record NameReading(
    string Path,
    IReadOnlyList<ReadToken> Tokens,
    int? Resolution,
    int? Bits,
    int? Udim,
    int? Level,
    NormalY? NormalY,
    SpaceId? Space,
    bool IsPreview,
    bool MayBePreview,
    string BareSurface,
    IReadOnlyList<NameCandidate> Candidates
)
{
    public string BareKey { get; } = SurfaceKey.Of(BareSurface);

    /// <summary>Reads the file name of a path; where it claims nothing, a folder that is named by a role counts.</summary>
    /// <param name="udimInside">Whether four digits in the middle of the name may be a tile; siblings decide that.</param>
    /// <param name="commonTail">A role word with which every sibling's name ends, and which therefore says nothing.</param>
    public static NameReading Of(string path, NamingTables tables, bool udimInside = true, string? commonTail = null)
    {
        var folders = path.Split('/')[..^1];
        var name = TechnicalTokens.Of(System.IO.Path.GetFileNameWithoutExtension(path[(path.LastIndexOf('/') + 1)..]), tables, udimInside);
        if (
            commonTail is not null
            && name.Rest.FindLastIndex(t => !tables.FillerWords.Contains(t)) is >= 1 and var last
            && name.Rest[last] == commonTail
        )
            name.TakeOut(last, "ending that all share");
        // An asset mark in front (T_, SM_) belongs to no surface.
        if (name.Rest.Count > 1 && tables.Prefixes.Contains(name.Rest[0]))
            name.TakeOut(0, "asset mark");
        var rest = name.Rest;
        var candidates = Claims(rest, tables).ToList();
        if (candidates.Count == 0 && folders.Length > 0 && FolderClaim(folders[^1], tables) is { } folder)
            candidates.Add(
                new(Join(rest.Where(t => !tables.FillerWords.Contains(t))), folder.Claim, folder.Phrase, 0.95f, FromFolder: true)
            );
        var preview =
            folders.Any(f => IsForPreviews(f, tables))
            || rest.Any(tables.Previews.Contains) && !candidates.Any(c => c.Position >= 0.95f && !tables.Previews.Contains(c.Phrase));
        var bare = rest.Where(t => !tables.FillerWords.Contains(t) && !tables.Previews.Contains(t) && !tables.PreviewForms.Contains(t));
        return new(
            path,
            name.Kinds(t =>
                tables.Previews.Contains(t) ? "preview word"
                : tables.FillerWords.Contains(t) ? "word without meaning"
                : ""
            ),
            name.Resolution,
            name.Bits,
            name.Udim,
            name.Level,
            name.NormalY,
            name.Space,
            preview,
            rest.Any(tables.PreviewForms.Contains),
            Join(bare),
            candidates
        );
    }

    private static bool IsForPreviews(string folder, NamingTables tables) =>
        NameTokens.Split(folder) is [var only]
        && (tables.Previews.Contains(only) || only.EndsWith('s') && tables.Previews.Contains(only[..^1]));

    /// <summary>
    /// Whether a folder is named by a role alone, as in roughness/oak.png; such a folder is no part of the surface's place.
    /// </summary>
    public static (NameClaim Claim, string Phrase)? FolderClaim(string folder, NamingTables tables)
    {
        var tokens = NameTokens.Split(folder).Where(t => !tables.FillerWords.Contains(t) && !tables.Folders.Contains(t)).ToList();
        if (tokens.Count == 0 || tokens[0].Length < 3)
            return null;
        var found = tables
            .At(tokens, 0)
            .Where(c => c.Length == tokens.Count && c.Claim.Strength >= 0.95f)
            .Select(c => c.Claim)
            .FirstOrDefault();
        return found is null ? null : (found, string.Join(' ', tokens));
    }

    private static IEnumerable<NameCandidate> Claims(List<string> rest, NamingTables tables)
    {
        // Misspelt role words are read as meant, but stay as they are where they belong to the surface's name.
        var meant = rest.Select(t => tables.Meant(t) ?? t).ToList();
        for (var at = 0; at < rest.Count; at++)
        {
            foreach (var (length, claim) in tables.At(meant, at))
            {
                var misspelt = Enumerable.Range(at, length).Any(i => rest[i] != meant[i]);
                if (
                    Candidate(
                        rest,
                        at,
                        length,
                        misspelt ? claim with { Strength = Math.Min(claim.Strength, 0.9f) } : claim,
                        string.Join(' ', rest.Skip(at).Take(length)),
                        "",
                        tables
                    ) is
                    { } found
                )
                    yield return found;
            }
            if (
                tables.Within(rest[at]) is { } within
                && Candidate(rest, at, 1, within.Claim, within.Word, within.Before, tables) is { } glued
            )
                yield return glued;
        }
        // Two or three measurements named one after another at the end: packed in that order.
        if (Sequence(rest, tables) is { } sequence)
            yield return sequence;
    }

    private static NameCandidate? Candidate(
        List<string> rest,
        int at,
        int length,
        NameClaim claim,
        string phrase,
        string left,
        NamingTables tables
    )
    {
        var (tail, version, variant) = AfterRole([.. rest.Skip(at + length).Where(t => !tables.FillerWords.Contains(t))]);
        var head = rest.Take(at).Where(t => !tables.FillerWords.Contains(t)).ToList();
        if (left.Length > 0)
            head.Add(left);
        // One letter says nothing in front of other words or alone.
        if (claim.Strength < 0.8f && (tail.Count > 0 || head.Count == 0))
            return null;
        var position =
            tail.Count == 0 ? 1f
            : tail.All(t => t.All(char.IsAsciiDigit)) ? 0.95f
            : head.Count == 0 ? 0.75f
            : 0.6f;
        return new(Join(head.Concat(tail)), claim, phrase, position, version, variant);
    }

    /// <summary>What stands behind a role word, without version, variant, and a bare number of bits.</summary>
    private static (List<string> Tail, int? Version, string? Variant) AfterRole(List<string> tail)
    {
        int? version = null;
        string? variant = null;
        if (tail is ["8" or "16" or "32"])
            return ([], null, null);
        for (var i = 0; i < tail.Count; )
            if (NameTokens.Version(tail, i, out var v, out var used))
            {
                version = v;
                tail.RemoveRange(i, used);
            }
            else if (NameTokens.Variant(tail, i, out var which, out used))
            {
                variant = which;
                tail.RemoveRange(i, used);
            }
            else
                i++;
        return (tail, version, variant);
    }

    private static NameCandidate? Sequence(List<string> rest, NamingTables tables)
    {
        var roles = new List<MapRole>();
        var end = rest.Count;
        while (end > 0 && tables.FillerWords.Contains(rest[end - 1]))
            end--;
        var at = end;
        while (at > 0 && roles.Count < 4)
        {
            var found = Enumerable
                .Range(1, Math.Min(2, at))
                .Reverse()
                .SelectMany(n =>
                    tables
                        .At(rest, at - n)
                        .Where(c =>
                            c.Length == n
                            && c.Claim is { Strength: >= 0.9f, Role: { } r, IsStudioRule: false }
                            && r.Kind() == ReadingKind.Scalar
                        )
                        .Select(c => (n, c.Claim.Role!.Value))
                )
                .FirstOrDefault();
            if (found.n == 0 || roles.Contains(found.Value))
                break;
            roles.Insert(0, found.Value);
            at -= found.n;
        }
        if (roles.Count < 3 || !roles.Any(r => r is MapRole.Roughness or MapRole.Glossiness))
            return null;
        var channels = roles.Select((r, i) => (r, i)).ToDictionary(p => "rgba"[p.i].ToString(), p => p.r);
        return new(
            Join(rest.Take(at).Where(t => !tables.FillerWords.Contains(t))),
            new([], channels, 0.95f),
            string.Join(' ', rest.Skip(at).Take(end - at)),
            1
        );
    }

    private static string Join(IEnumerable<string> tokens) => string.Join('_', tokens);
}

/// <summary>Surface names compared: brick_wall and brickwall are one, tile_1_1 and tile_11 are two.</summary>
internal static class SurfaceKey
{
    public static string Of(string surface)
    {
        var tokens = surface.ToLowerInvariant().Split('_', StringSplitOptions.RemoveEmptyEntries);
        var key = new System.Text.StringBuilder();
        foreach (var t in tokens)
        {
            if (key.Length > 0 && char.IsDigit(key[^1]) && char.IsDigit(t[0]))
                key.Append('_');
            key.Append(t);
        }
        return key.ToString();
    }
}
