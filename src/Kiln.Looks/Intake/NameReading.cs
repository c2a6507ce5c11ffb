using System.Text.RegularExpressions;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Intake;

/// <summary>What one way of reading a file name gives.</summary>
/// <param name="Surface">What remains when role and technical tokens are taken out, tokens joined by _.</param>
/// <param name="Position">1 at the end of the name, less in front of other words.</param>
public sealed record NameCandidate(string Surface, NameClaim Claim, string Phrase, float Position);

/// <summary>A file name taken apart: technical tokens, and every way in which it may name a role.</summary>
public sealed record NameReading(
    string Path, IReadOnlyList<string> Tokens, int? Resolution, int? Bits, int? Udim, int? Level, NormalY? NormalY, bool IsPreview, string BareSurface, IReadOnlyList<NameCandidate> Candidates)
{
    /// <summary>Reads the file name (not the folders) of a path.</summary>
    public static NameReading Of(string path, NamingTables tables)
    {
        var stem = System.IO.Path.GetFileNameWithoutExtension(path[(path.LastIndexOf('/') + 1)..]);
        var tokens = NameTokens.Split(stem);
        int? resolution = null, bits = null, udim = null, level = null;
        NormalY? normalY = null;
        var preview = false;
        var rest = new List<string>();
        for (var i = 0; i < tokens.Count; i++)
        {
            var t = tokens[i];
            var next = i + 1 < tokens.Count ? tokens[i + 1] : "";
            if (NameTokens.Resolution(t, next, out var r, out var used)) { resolution = r; i += used - 1; }
            else if (NameTokens.Bits(t, next, out var b, out used)) { bits = b; i += used - 1; }
            else if (NameTokens.Udim(tokens, i, out var tile, out used)) { udim = tile; i += used - 1; }
            else if (NameTokens.Level(t, next, out var l, out used)) { level = l; i += used - 1; }
            else if (tables.Directions.TryGetValue(t, out var y)) { normalY = y; if (t.StartsWith("nor", StringComparison.Ordinal) || t.StartsWith("nrm", StringComparison.Ordinal)) rest.Add("normal"); }
            else if (t == "y" && next is "up" or "down" && t == "y") { normalY = next == "up" ? Readings.NormalY.Up : Readings.NormalY.Down; i++; }
            else rest.Add(t);
        }
        preview = rest.Any(tables.Previews.Contains);
        var bare = Join(rest.Where(t => !tables.Words.Contains(t)));
        return new(path, tokens, resolution, bits, udim, level, normalY, preview, bare, [.. Claims(rest, tables)]);
    }

    private static IEnumerable<NameCandidate> Claims(List<string> rest, NamingTables tables)
    {
        var words = rest.Count;
        while (words > 0 && tables.Words.Contains(rest[words - 1]))
            words--;
        foreach (var (phrase, claim) in tables.Claims)
            for (var at = 0; at + phrase.Length <= words; at++)
            {
                if (!rest.Skip(at).Take(phrase.Length).SequenceEqual(phrase))
                    continue;
                var atEnd = at + phrase.Length == words;
                // One letter says nothing in front of other words or alone.
                if (claim.Strength < 0.8f && (!atEnd || at == 0))
                    continue;
                var surface = Join(rest.Take(at).Concat(rest.Skip(at + phrase.Length)).Where(t => !tables.Words.Contains(t)));
                yield return new(surface, claim, string.Join(' ', phrase), atEnd ? 1f : at == 0 ? 0.75f : 0.6f);
            }
    }

    private static string Join(IEnumerable<string> tokens) => string.Join('_', tokens);
}

/// <summary>Splitting names into tokens, and the tokens that are technical.</summary>
public static partial class NameTokens
{
    /// <summary>Splits at separators, at camelCase, and between letters and digits; lower case throughout.</summary>
    public static IReadOnlyList<string> Split(string stem) =>
        [.. Boundaries().Replace(stem, "_").Split((char[])['_', '-', '.', ' ', '(', ')', '[', ']', '+', ',', '#', '@', '~', '='], StringSplitOptions.RemoveEmptyEntries).Select(t => t.ToLowerInvariant())];

    public static bool Resolution(string token, string next, out int pixels, out int used)
    {
        (pixels, used) = (0, 1);
        if (int.TryParse(token, out var n))
        {
            if (n is 256 or 512 or 1024 or 2048 or 4096 or 8192 or 16384)
            {
                pixels = n;
                return true;
            }
            if (n is 1 or 2 or 3 or 4 or 6 or 8 or 12 or 16 && next == "k")
            {
                (pixels, used) = (n * 1024, 2);
                return true;
            }
        }
        return false;
    }

    public static bool Bits(string token, string next, out int bits, out int used)
    {
        (bits, used) = (0, 2);
        return int.TryParse(token, out bits) && bits is 8 or 16 or 32 && next is "bit" or "bits" or "f" or "bpc";
    }

    public static bool Udim(IReadOnlyList<string> tokens, int at, out int tile, out int used)
    {
        (tile, used) = (0, 1);
        if (int.TryParse(tokens[at], out var n) && n is >= 1001 and <= 1999 && n != 1024)
        {
            tile = n;
            return true;
        }
        // u1_v1 counts from one.
        if (tokens[at] == "u" && at + 3 < tokens.Count && tokens[at + 2] == "v" && int.TryParse(tokens[at + 1], out var u) && int.TryParse(tokens[at + 3], out var v) && u is >= 1 and <= 10 && v is >= 1 and <= 99)
        {
            (tile, used) = (1000 + u + 10 * (v - 1), 4);
            return true;
        }
        return false;
    }

    public static bool Level(string token, string next, out int level, out int used)
    {
        (level, used) = (0, 2);
        return token == "lod" && int.TryParse(next, out level);
    }

    [GeneratedRegex("(?<=[a-z])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z])|(?<=[A-Za-z])(?=[0-9])|(?<=[0-9])(?=[A-Za-z])")]
    private static partial Regex Boundaries();
}
