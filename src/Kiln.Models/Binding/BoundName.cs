using System.Collections.Frozen;
using Kiln.Intake.Naming;

namespace Kiln.Models.Binding;

/// <summary>A name of a part, a material or a set of maps as what it says of the thing: its words without what tools add.</summary>
internal sealed class BoundName
{
    /// <summary>What modelling tools and habits put before and after a name; common practice, no source.</summary>
    private static readonly FrozenSet<string> Added = new[]
    {
        "geo",
        "geom",
        "geometry",
        "mesh",
        "msh",
        "obj",
        "object",
        "node",
        "group",
        "grp",
        "part",
        "poly",
        "polygon",
        "shape",
        "model",
        "low",
        "lowpoly",
        "lp",
        "lo",
        "high",
        "highpoly",
        "hp",
        "hi",
        "lod",
        "render",
        "proxy",
        "mtl",
        "mat",
        "material",
        "shader",
        "shd",
        "sm",
        "sk",
        "mi",
        "m",
        "tex",
        "texture",
        "textures",
        "tx",
        "map",
        "maps",
        "set",
        "uv",
        "udim",
        "pbr",
        "final",
        "fin",
        "export",
        "ctrl",
        "default",
        "surf",
        "surface",
    }.ToFrozenSet();

    /// <summary>Models of scattering and empty words, as materials are called that nobody named; they tell nothing. Common practice, no
    /// source.</summary>
    private static readonly FrozenSet<string> Nothing = new[]
    {
        "lambert",
        "blinn",
        "phong",
        "standard",
        "none",
        "unnamed",
        "scene",
        "root",
        "world",
        "color",
        "colour",
        "no",
    }.ToFrozenSet();

    private BoundName(string written, IReadOnlyList<string> words) => (Written, Words) = (written, words);

    public string Written { get; }

    public IReadOnlyList<string> Words { get; }

    public bool SaysSomething => Words.Any(w => !Nothing.Contains(w) && !w.All(char.IsDigit));

    public static BoundName Of(string written)
    {
        // A namespace of a tool stands before a colon or a bar.
        var own = written[(written.LastIndexOfAny([':', '|']) + 1)..];
        var all = NameTokens.Split(own);
        var words = new List<string>();
        for (var i = 0; i < all.Count; i++)
        {
            // The number of a level of detail goes with it.
            if (all[i] == "lod" && i + 1 < all.Count && all[i + 1].All(char.IsDigit))
                i++;
            else if (!Added.Contains(all[i]))
                words.Add(WithoutZeros(all[i]));
        }
        return new(written, words.Count > 0 ? words : all);
    }

    private static string WithoutZeros(string word) =>
        word.All(char.IsDigit) && word.TrimStart('0') is { Length: > 0 } number ? number : word;

    public BoundName Without(IReadOnlySet<string> common) =>
        Words.Where(w => !common.Contains(w)).ToList() is { Count: > 0 } left ? new(Written, left) : this;

    /// <summary>Names one after another, such as an object's and its part's.</summary>
    public static BoundName Joined(BoundName first, BoundName second) =>
        new($"{first.Written}/{second.Written}", [.. first.Words, .. second.Words]);

    /// <summary>The same for names that only write their words otherwise; numbers stay apart.</summary>
    public string Key => Join(Words);

    /// <summary>Without the number that tells copies of one thing apart; null where there is none, or nothing would be left.</summary>
    public string? KeyOfCopies => Words is [.., var last] && Words.Count > 1 && last.All(char.IsDigit) ? Join(Words.SkipLast(1)) : null;

    /// <summary>One and many alike.</summary>
    public string KeyOfOne => Join(Words.Select(w => w.Length > 3 && w[^1] == 's' && w[^2] != 's' ? w[..^1] : w));

    private static string Join(IEnumerable<string> words) =>
        words.Aggregate("", (key, w) => key.Length > 0 && char.IsDigit(key[^1]) && char.IsDigit(w[0]) ? $"{key}_{w}" : key + w);

    /// <summary>
    /// Words that tell one of several names from another as little as can be: two names both have them, or of more at least two thirds.
    /// </summary>
    public static IReadOnlySet<string> Common(IReadOnlyCollection<BoundName> names) =>
        names
            .SelectMany(n => n.Words.Distinct())
            .GroupBy(w => w)
            .Where(g => g.Count() > 1 && 3 * g.Count() >= 2 * names.Count)
            .Select(g => g.Key)
            .ToHashSet();
}
