using System.Globalization;
using System.Text;

namespace Kiln.Usd;

/// <summary>Words, texts, file names and brackets of a layer's text, one after another; what is none of them is a sentence.</summary>
internal sealed class UsdScanner(string text, UsdLimits limits)
{
    private const int MaximumDepth = 64;

    private int at;
    private int numbers;

    public UsdException Error(string what) =>
        new($"The layer cannot be read at line {text.AsSpan(0, Math.Min(at, text.Length)).Count('\n') + 1}: {what}.");

    /// <summary>The next character that is no space and no comment; zero at the end.</summary>
    public char Peek()
    {
        while (at < text.Length)
        {
            if (char.IsWhiteSpace(text[at]) || text[at] == ';')
                at++;
            else if (text[at] == '#')
                at = text.IndexOf('\n', at) is var end && end < 0 ? text.Length : end;
            else
                return text[at];
        }
        return '\0';
    }

    /// <summary>Passes over the next character, which <see cref="Peek"/> has shown.</summary>
    public void Next() => at++;

    /// <summary>Passes over this one if it is the next.</summary>
    public bool Take(char c)
    {
        if (Peek() != c)
            return false;
        at++;
        return true;
    }

    public void Expect(char c)
    {
        if (!Take(c))
            throw Error($"'{c}' is missing");
    }

    public string Word() => WordSpan().ToString();

    private ReadOnlySpan<char> WordSpan()
    {
        Peek();
        var start = at;
        while (at < text.Length && (char.IsLetterOrDigit(text[at]) || text[at] is '_' or ':' or '.' or '-' or '+'))
            at++;
        return at > start
            ? text.AsSpan(start, at - start)
            : throw Error(at < text.Length ? $"'{text[at]}' is not expected" : "it ends too early");
    }

    public double Number() => Number(WordSpan());

    public double Number(ReadOnlySpan<char> word)
    {
        if (++numbers > limits.Numbers)
            throw Error("there are too many numbers");
        return double.TryParse(word, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) ? value
            : word is "inf" ? double.PositiveInfinity
            : word is "-inf" ? double.NegativeInfinity
            : word is "nan" or "-nan" ? double.NaN
            : word is "true" ? 1
            : word is "false" ? 0
            : throw Error($"'{word}' is no number");
    }

    /// <summary>The numbers of a tuple, in order; tuples within it (a matrix) are opened.</summary>
    public void Tuple(List<double> into)
    {
        var depth = 0;
        do
        {
            switch (Peek())
            {
                case '(':
                    if (++depth > MaximumDepth)
                        throw Error("brackets are nested too deeply");
                    at++;
                    break;
                case ')':
                    depth--;
                    at++;
                    break;
                case ',':
                    at++;
                    break;
                case '\0':
                    throw Error("')' is missing");
                default:
                    into.Add(Number());
                    break;
            }
        } while (depth > 0);
    }

    public string Text()
    {
        var quote = Peek();
        if (quote is not ('"' or '\''))
            throw Error("a text in quotes is missing");
        if (at + 2 < text.Length && text[at + 1] == quote && text[at + 2] == quote)
        {
            var end = text.IndexOf(new string(quote, 3), at + 3, StringComparison.Ordinal);
            if (end < 0)
                throw Error("a text is not closed");
            var whole = text[(at + 3)..end];
            at = end + 3;
            return whole;
        }
        var result = new StringBuilder();
        for (at++; at < text.Length && text[at] != quote; at++)
            result.Append(
                text[at] == '\\' && at + 1 < text.Length
                    ? text[++at] is 'n'
                        ? '\n'
                        : text[at]
                    : text[at]
            );
        if (at >= text.Length)
            throw Error("a text is not closed");
        at++;
        return result.ToString();
    }

    public string Asset()
    {
        var marks = text.AsSpan(at).StartsWith("@@@") ? "@@@" : "@";
        var end = text.IndexOf(marks, at + marks.Length, StringComparison.Ordinal);
        if (end < 0)
            throw Error("a file name is not closed");
        var result = text[(at + marks.Length)..end];
        at = end + marks.Length;
        return result;
    }

    /// <summary>A path in angle brackets.</summary>
    public string Path()
    {
        Expect('<');
        var end = text.IndexOf('>', at);
        if (end < 0)
            throw Error("'>' is missing");
        var result = text[at..end];
        at = end + 1;
        return result;
    }

    /// <summary>Passes over a bracket and all within it, texts and file names too.</summary>
    public void Skip(char open, char close)
    {
        Expect(open);
        SkipRest(open, close);
    }

    /// <summary>The same, where the bracket is open already.</summary>
    public void SkipRest(char open, char close)
    {
        for (var depth = 1; depth > 0; )
        {
            var c = Peek();
            switch (c)
            {
                case '\0':
                    throw Error($"'{close}' is missing");
                case '"' or '\'':
                    Text();
                    break;
                case '@':
                    Asset();
                    break;
                default:
                    depth +=
                        c == open ? 1
                        : c == close ? -1
                        : 0;
                    at++;
                    break;
            }
        }
    }
}
