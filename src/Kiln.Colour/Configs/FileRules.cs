using System.Text.RegularExpressions;

namespace Kiln.Colour.Configs;

/// <summary>What a config's file rules say of a file name: the rule that took it and the space.</summary>
public sealed record FileRuleAnswer(string Rule, string Space, bool IsDefault);

/// <summary>The file rules of a config, in order; the first that fits answers.</summary>
public static class FileRules
{
    private static readonly TimeSpan Patience = TimeSpan.FromMilliseconds(200);

    /// <returns>Null where the config has no rules and none of its names is in the path.</returns>
    public static FileRuleAnswer? Find(OpenedConfig config, string path)
    {
        foreach (var rule in config.Config.FileRules)
        {
            var isDefault = rule.Name.Equals("Default", StringComparison.OrdinalIgnoreCase);
            if (rule.Name.Equals("ColorSpaceNamePathSearch", StringComparison.OrdinalIgnoreCase))
            {
                if (NameIn(config, path) is { } named)
                    return new(rule.Name, named, false);
            }
            else if (rule.Space is { } space && (isDefault || Fits(rule, path)) && config.Find(space) is { } found)
                return new(rule.Name, found.Name, isDefault);
        }
        // Version 1 has no rules; the last of its names in the path tells the space.
        return config.Config.FileRules.IsEmpty && NameIn(config, path) is { } inPath ? new("name in the path", inPath, false) : null;
    }

    private static bool Fits(FileRule rule, string path)
    {
        try
        {
            if (rule.Regex is { } regex)
                return Regex.IsMatch(path, regex, RegexOptions.CultureInvariant, Patience);
            var dot = path.LastIndexOf('.');
            // A pattern with wildcards has to take the whole path before the extension, as OpenColorIO does.
            return dot >= 0 && Wild(rule.Pattern ?? "*", path[..dot], false) && Wild(rule.Extension ?? "*", path[(dot + 1)..], true);
        }
        catch (Exception e) when (e is ArgumentException or RegexMatchTimeoutException)
        {
            return false;
        }
    }

    /// <summary>Stars, question marks and sets in brackets, as file names are matched by shells.</summary>
    private static bool Wild(string pattern, string text, bool anyCase)
    {
        var regex = Regex.Replace(
            Regex.Escape(pattern).Replace("\\*", ".*", StringComparison.Ordinal).Replace("\\?", ".", StringComparison.Ordinal),
            @"\\\[(!|\\\^|\^)?([^\]]*)\]",
            m => $"[{(m.Groups[1].Length > 0 ? "^" : "")}{m.Groups[2].Value}]"
        );
        return Regex.IsMatch(
            text,
            "^" + regex + "$",
            (anyCase ? RegexOptions.IgnoreCase : RegexOptions.None) | RegexOptions.Singleline | RegexOptions.CultureInvariant,
            Patience
        );
    }

    /// <summary>The name that ends furthest to the right; of two that end there the longer one.</summary>
    private static string? NameIn(OpenedConfig config, string path) =>
        config
            .Config.Spaces.SelectMany(s =>
                s.Aliases.Prepend(s.Name).Select(n => (Space: s.Name, Name: n, At: path.LastIndexOf(n, StringComparison.OrdinalIgnoreCase)))
            )
            .Where(n => n.At >= 0)
            .OrderByDescending(n => n.At + n.Name.Length)
            .ThenByDescending(n => n.Name.Length)
            .Select(n => n.Space)
            .FirstOrDefault();
}
