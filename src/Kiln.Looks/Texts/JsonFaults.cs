using System.Text.Json;

namespace Kiln.Looks.Texts;

/// <summary>What a reader of JSON found wrong, as a sentence without the names of our types.</summary>
public static class JsonFaults
{
    /// <param name="whole">What the whole document is called: "The profile".</param>
    public static string Sentence(JsonException e, string whole)
    {
        var text = e.Message;
        var path = e.Path is null or "$" ? null : e.Path.TrimStart('$', '.');
        if (text.Contains("could not be mapped", StringComparison.Ordinal))
            return $"There is no field '{Between(text, "JSON property '", "'")}' here.";
        if (text.Contains("missing required properties", StringComparison.Ordinal))
            return $"{path ?? whole} lacks "
                + $"{text[(text.IndexOf("including: ", StringComparison.Ordinal) + 11)..].Split(". Path")[0].TrimEnd('.')}.";
        if (text.Contains("could not be converted", StringComparison.Ordinal))
            return path is null ? $"{whole} is of the wrong kind." : $"The value of '{path}' is of the wrong kind.";
        if (text.Contains("doesn't allow null", StringComparison.Ordinal) || text.Contains("null value", StringComparison.Ordinal))
            return $"{(path is null ? whole : $"'{path}'")} must not be null.";
        if (
            text.Contains("type discriminator", StringComparison.Ordinal) || text.Contains("polymorphi", StringComparison.OrdinalIgnoreCase)
        )
            return $"{(path is null ? whole : $"'{path}'")} does not say of a known kind what it is ('kind' comes first).";
        var cut = text.IndexOf(" Path:", StringComparison.Ordinal);
        return cut > 0 ? text[..cut] : text.Split(" LineNumber")[0];
    }

    private static string Between(string text, string before, string after)
    {
        var from = text.IndexOf(before, StringComparison.Ordinal) + before.Length;
        return text[from..text.IndexOf(after, from, StringComparison.Ordinal)];
    }
}
