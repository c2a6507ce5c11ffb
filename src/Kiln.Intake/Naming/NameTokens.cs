using System.Collections.Frozen;
using System.Text;
using System.Text.RegularExpressions;

namespace Kiln.Intake.Naming;

/// <summary>Splitting names into tokens, and the tokens that are technical (sizes, bits, tiles, levels, formats).</summary>
public static partial class NameTokens
{
    private static readonly char[] Separators =
    [
        '_',
        '-',
        '.',
        ' ',
        '(',
        ')',
        '[',
        ']',
        '{',
        '}',
        '+',
        ',',
        ';',
        '#',
        '@',
        '~',
        '=',
        '&',
        '!',
        '\'',
        '$',
        '%',
    ];

    /// <summary>Splits at separators, at camelCase, and between letters and digits; lower case throughout.</summary>
    public static IReadOnlyList<string> Split(string stem)
    {
        var marked = CopyMark().Replace(Composed(stem), "");
        marked = YUp().Replace(marked, "_yup_");
        marked = YDown().Replace(marked, "_ydown_");
        marked = OneWord().Replace(marked, m => $"_{m.Value.ToLowerInvariant()}_");
        return
        [
            .. Boundaries().Replace(marked, "_").Split(Separators, StringSplitOptions.RemoveEmptyEntries).Select(t => t.ToLowerInvariant()),
        ];
    }

    /// <summary>
    /// Letters and their accents as one character each: some systems store names the other way (Unicode's forms C and D, UAX 15). Latin
    /// letters only; the runtime's own normalisation needs a library of the system that may be missing.
    /// </summary>
    private static string Composed(string text)
    {
        if (!text.Any(c => Accents.ContainsKey(c)))
            return text;
        var composed = new StringBuilder();
        foreach (var c in text)
            if (composed.Length > 0 && Accents.TryGetValue(c, out var letters) && letters.Plain.IndexOf(composed[^1]) is >= 0 and var at)
                composed[^1] = letters.Accented[at];
            else
                composed.Append(c);
        return composed.ToString();
    }

    private static readonly FrozenDictionary<char, (string Plain, string Accented)> Accents = new Dictionary<char, (string, string)>
    {
        ['\u0300'] = ("aeiouAEIOU", "àèìòùÀÈÌÒÙ"),
        ['\u0301'] = ("aeiouyAEIOUY", "áéíóúýÁÉÍÓÚÝ"),
        ['\u0302'] = ("aeiouAEIOU", "âêîôûÂÊÎÔÛ"),
        ['\u0303'] = ("anoANO", "ãñõÃÑÕ"),
        ['\u0308'] = ("aeiouyAEIOU", "äëïöüÿÄËÏÖÜ"),
        ['\u030a'] = ("aA", "åÅ"),
        ['\u0327'] = ("cC", "çÇ"),
    }.ToFrozenDictionary();

    /// <summary>2K, 2048, 2048x2048, 4Kx4K, 4096 px.</summary>
    public static bool Resolution(IReadOnlyList<string> tokens, int at, out int pixels, out int used)
    {
        (pixels, used) = (0, 1);
        if (!int.TryParse(tokens[at], out var n))
            return false;
        var next = at + 1 < tokens.Count ? tokens[at + 1] : "";
        if (n is 1 or 2 or 3 or 4 or 5 or 6 or 8 or 12 or 16 && next is "k" or "kx")
        {
            (pixels, used) = (n * 1024, next == "k" ? 2 : Math.Min(4, tokens.Count - at));
            return true;
        }
        if (
            n is >= 16 and <= 32768
            && next == "x"
            && at + 2 < tokens.Count
            && int.TryParse(tokens[at + 2], out var m)
            && m is >= 16 and <= 32768
        )
        {
            (pixels, used) = (Math.Max(n, m), 3);
            return true;
        }
        if (n is not (128 or 256 or 512 or 1024 or 2048 or 4096 or 8192 or 16384))
            return false;
        (pixels, used) = (n, next == "px" ? 2 : 1);
        return true;
    }

    /// <summary>8bit, 16b, 32f, half, float.</summary>
    public static bool Bits(IReadOnlyList<string> tokens, int at, out int bits, out int used)
    {
        (bits, used) = (0, 1);
        if (tokens[at] is "half" or "fp")
        {
            bits = tokens[at] == "half" ? 16 : 32;
            if (tokens[at] == "fp" && at + 1 < tokens.Count && int.TryParse(tokens[at + 1], out var f) && f is 16 or 32)
                (bits, used) = (f, 2);
            return tokens[at] == "half" || used == 2;
        }
        used = 2;
        return int.TryParse(tokens[at], out bits)
            && bits is 8 or 16 or 32
            && at + 1 < tokens.Count
            && tokens[at + 1] is "bit" or "bits" or "b" or "f" or "bpc" or "i";
    }

    /// <summary>1001 to 1999, or u1_v1 counted from one (both to the same number: 1001 + u + 10·v).</summary>
    public static bool Udim(IReadOnlyList<string> tokens, int at, out int tile, out int used)
    {
        (tile, used) = (0, 1);
        if (tokens[at].Length == 4 && int.TryParse(tokens[at], out var n) && n is >= 1001 and <= 1999 && n != 1024)
        {
            tile = n;
            return true;
        }
        if (
            tokens[at] == "u"
            && at + 3 < tokens.Count
            && tokens[at + 2] == "v"
            && int.TryParse(tokens[at + 1], out var u)
            && int.TryParse(tokens[at + 3], out var v)
            && u is >= 1 and <= 10
            && v is >= 1 and <= 99
        )
        {
            (tile, used) = (1000 + u + 10 * (v - 1), 4);
            return true;
        }
        return false;
    }

    /// <summary>LOD0, lod 2.</summary>
    public static bool Level(IReadOnlyList<string> tokens, int at, out int level, out int used)
    {
        (level, used) = (0, 2);
        return tokens[at] == "lod" && at + 1 < tokens.Count && int.TryParse(tokens[at + 1], out level);
    }

    /// <summary>v2, ver 03, version 1: a version where it follows the role.</summary>
    public static bool Version(IReadOnlyList<string> tokens, int at, out int version, out int used)
    {
        (version, used) = (0, 2);
        return tokens[at] is "v" or "ver" or "version" or "rev" && at + 1 < tokens.Count && int.TryParse(tokens[at + 1], out version);
    }

    /// <summary>var1, variant B, variation 02.</summary>
    public static bool Variant(IReadOnlyList<string> tokens, int at, out string variant, out int used)
    {
        (variant, used) = ("", 2);
        if (
            tokens[at] is not ("var" or "variant" or "variation" or "colorway" or "colourway")
            || at + 1 >= tokens.Count
            || tokens[at + 1].Length > 3
        )
            return false;
        variant = tokens[at + 1];
        return true;
    }

    // "name (1)" and "name - Copy" are what file managers make of a second download.
    [GeneratedRegex(@"(\s*\(\d{1,2}\)|\s+-\s+copy(\s*\(\d+\))?|[_ ]copy)$", RegexOptions.IgnoreCase)]
    private static partial Regex CopyMark();

    // Names whose capitals do not begin words.
    [GeneratedRegex("sRGB|ACEScg|ACES2065|OpenGL|DirectX|OpenEXR|UDIM|uvTile")]
    private static partial Regex OneWord();

    [GeneratedRegex(@"(?<![A-Za-z])[Yy]\+|\+[Yy](?![A-Za-z])|(?<=[a-z])Y\+")]
    private static partial Regex YUp();

    [GeneratedRegex(@"(?<![A-Za-z])[Yy]-(?![A-Za-z0-9])|(?<=[a-z])Y-(?![A-Za-z0-9])|-Y(?![A-Za-z])")]
    private static partial Regex YDown();

    [GeneratedRegex("(?<=[a-z])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z]{2})|(?<=[A-Za-z])(?=[0-9])|(?<=[0-9])(?=[A-Za-z])")]
    private static partial Regex Boundaries();
}
