using System.Text.RegularExpressions;

namespace Kiln.Dialects.Profiles;

/// <summary>Formulas as they are quoted to people: over inputs alone, with the terms of a profile written out where they stand.</summary>
internal static partial class FormulaText
{
    [GeneratedRegex("[A-Za-z_][A-Za-z0-9_]*(?!\\w)(?!\\s*\\()")]
    private static partial Regex Names { get; }

    /// <summary>How strongly the outermost operation of a formula binds.</summary>
    private enum Binding
    {
        Sum,
        Product,
        Single,
    }

    /// <param name="terms">By name; each knows only those before it.</param>
    public static string WrittenOut(string formula, IReadOnlyDictionary<string, string> terms)
    {
        if (terms.Count == 0)
            return formula;
        var whole = terms.ToDictionary();
        foreach (var (name, text) in terms)
            whole[name] = Replaced(text, whole);
        return Replaced(formula, whole);
    }

    private static string Replaced(string text, Dictionary<string, string> terms) => Names.Replace(text, match =>
        {
            if (!terms.TryGetValue(match.Value, out var term))
                return match.Value;
            var (before, after) = (Neighbour(text, match.Index - 1, -1), Neighbour(text, match.Index + match.Length, 1));
            var isLoose = Of(term) switch
            {
                Binding.Sum => before is '-' or '*' or '/' || after is '*' or '/',
                Binding.Product => before is '*' or '/',
                _ => false,
            };
            return isLoose ? $"({term})" : term;
        });

    private static char? Neighbour(string text, int at, int step)
    {
        while (at >= 0 && at < text.Length && char.IsWhiteSpace(text[at]))
            at += step;
        return at >= 0 && at < text.Length ? text[at] : null;
    }

    private static Binding Of(string term) =>
        Expression.Parse(term) is not Expression.Call call || IsEnclosed(term) ? Binding.Single
        : call.Function is "+" or "-" ? Binding.Sum
        : call.Function is "*" or "/" ? Binding.Product
        : Binding.Single;

    /// <summary>Whether one pair of parentheses holds all of it.</summary>
    private static bool IsEnclosed(string term)
    {
        if (term is not ['(', .., ')'])
            return false;
        var depth = 0;
        for (var i = 0; i < term.Length - 1; i++)
            if (
                (
                    depth +=
                        term[i] == '(' ? 1
                        : term[i] == ')' ? -1
                        : 0
                ) == 0
            )
                return false;
        return true;
    }
}
