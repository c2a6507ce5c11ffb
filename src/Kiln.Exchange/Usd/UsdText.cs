using System.Globalization;
using System.Text.RegularExpressions;

namespace Kiln.Exchange.Usd;

/// <summary>
/// A property of a prim: its type, and a value or a connection. Values are numbers in order, or a text; both are null where it has none.
/// </summary>
/// <param name="Space">The colour space that its metadata name.</param>
public sealed record UsdProperty(
    string Name,
    string Type,
    double[]? Numbers = null,
    string? Text = null,
    string? Connection = null,
    string? Space = null
);

/// <summary>A prim of a USD layer with its path, properties and children.</summary>
public sealed class UsdPrim(string type, string path)
{
    public string Type { get; } = type;

    /// <summary>Absolute, such as /Look/Material/shader.</summary>
    public string Path { get; } = path;

    public Dictionary<string, UsdProperty> Properties { get; } = [];

    public List<UsdPrim> Children { get; } = [];

    public IEnumerable<UsdPrim> All => Children.SelectMany(c => c.All).Prepend(this);

    public UsdProperty? Find(string name) => Properties.GetValueOrDefault(name);
}

/// <summary>
/// Reads the text form of a USD layer (.usda) as far as prims, properties and connections go. Nothing is composed: references and sublayers
/// are passed over, and of variants the first is taken.
/// </summary>
public static partial class UsdText
{
    private const int MaximumLength = 128 << 20,
        MaximumDepth = 64,
        MaximumPrims = 20_000,
        MaximumNumbers = 30_000_000;

    [GeneratedRegex("\\bcolorSpace\\s*=\\s*\"([^\"]*)\"")]
    private static partial Regex ColourSpace { get; }

    /// <exception cref="ExchangeException">It is no USD text; the message names the line.</exception>
    public static UsdPrim Parse(string text)
    {
        if (text.Length > MaximumLength)
            throw new ExchangeException($"The layer is longer than {MaximumLength >> 20} MB.");
        if (!text.StartsWith("#usda", StringComparison.Ordinal))
            throw new ExchangeException("The file is no USD text layer: it does not begin with #usda.");
        var root = new UsdPrim("", "");
        var parser = new Parser(text);
        parser.Body(root, 0, top: true);
        return root;
    }

    private sealed class Parser(string text)
    {
        private int at,
            prims,
            numbers;

        private ExchangeException Error(string what) =>
            new($"The layer cannot be read at line {text.AsSpan(0, Math.Min(at, text.Length)).Count('\n') + 1}: {what}.");

        public void Body(UsdPrim prim, int depth, bool top = false)
        {
            if (depth > MaximumDepth)
                throw Error("prims are nested too deeply");
            if (top && Peek() == '(')
                Skip('(', ')');
            while (true)
            {
                var c = Peek();
                if (c == '\0')
                {
                    if (!top)
                        throw Error("a bracket is not closed");
                    return;
                }
                if (c == '}')
                {
                    if (top)
                        throw Error("a bracket is closed that was not opened");
                    at++;
                    return;
                }
                Statement(prim, depth);
            }
        }

        private void Statement(UsdPrim prim, int depth)
        {
            var word = Word();
            if (word is "def" or "over" or "class")
            {
                Prim(prim, depth);
                return;
            }
            if (word is "variantSet")
            {
                Variants(prim, depth);
                return;
            }
            if (word is "reorder" or "delete" or "add" or "append" or "prepend")
                word = Word();
            while (word is "custom" or "uniform" or "varying" or "config")
                word = Word();
            Property(prim, word);
        }

        /// <summary>The first choice of a set is taken; which one is selected is said in what is passed over.</summary>
        private void Variants(UsdPrim prim, int depth)
        {
            Text();
            Expect('=');
            Expect('{');
            for (var first = true; Peek() != '}'; first = false)
            {
                if (Peek() == '\0')
                    throw Error("a bracket is not closed");
                Text();
                if (Peek() == '(')
                    Skip('(', ')');
                if (first)
                {
                    Expect('{');
                    Body(prim, depth + 1);
                }
                else
                    Skip('{', '}');
            }
            at++;
        }

        private void Prim(UsdPrim parent, int depth)
        {
            if (++prims > MaximumPrims)
                throw Error($"there are more than {MaximumPrims} prims");
            var type = Peek() == '"' ? "" : Word();
            var prim = new UsdPrim(type, $"{parent.Path}/{Text()}");
            if (Peek() == '(')
                Skip('(', ')');
            Expect('{');
            Body(prim, depth + 1);
            parent.Children.Add(prim);
        }

        private void Property(UsdPrim prim, string type)
        {
            if (Peek() == '[')
            {
                at++;
                Expect(']');
                type += "[]";
            }
            var name = Word();
            var isConnection = name.EndsWith(".connect", StringComparison.Ordinal);
            if (isConnection)
                name = name[..^".connect".Length];
            var property = prim.Find(name) ?? new UsdProperty(name, type);
            if (Peek() == '=')
            {
                at++;
                property = Value(property, isConnection);
            }
            if (Peek() == '(')
            {
                var start = at;
                Skip('(', ')');
                if (ColourSpace.Match(text[start..at]) is { Success: true } space)
                    property = property with { Space = space.Groups[1].Value };
            }
            if (!name.EndsWith(".timeSamples", StringComparison.Ordinal))
                prim.Properties[name] = property;
        }

        private UsdProperty Value(UsdProperty property, bool isConnection)
        {
            switch (Peek())
            {
                case '<':
                    var path = Until('<', '>');
                    return isConnection ? property with { Connection = path } : property with { Text = path };
                case '"' or '\'':
                    return property with { Text = Text() };
                case '@':
                    return property with { Text = Asset() };
                case '(':
                    return property with { Numbers = [.. Tuple()] };
                case '[':
                    return isConnection && FirstOfList() is { } first
                        ? property with
                        {
                            Connection = first,
                        }
                        : property with
                        {
                            Numbers = [.. List()],
                        };
                case '{':
                    Skip('{', '}');
                    return property;
                default:
                    var word = Word();
                    return word is "None" ? property
                        : word is "true" ? property with { Numbers = [1] }
                        : word is "false" ? property with { Numbers = [0] }
                        : property with { Numbers = [Number(word)] };
            }
        }

        /// <summary>A list of connections: the first one counts.</summary>
        private string? FirstOfList()
        {
            var start = at;
            at++;
            if (Peek() != '<')
            {
                at = start;
                return null;
            }
            var first = Until('<', '>');
            at = start;
            Skip('[', ']');
            return first;
        }

        /// <summary>The numbers of a tuple, in order; tuples within it (a matrix) are opened.</summary>
        private List<double> Tuple()
        {
            var result = new List<double>();
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
                        result.Add(Number(Word()));
                        break;
                }
            } while (depth > 0);
            return result;
        }

        private List<double> List()
        {
            var result = new List<double>();
            Expect('[');
            while (Peek() != ']')
            {
                switch (Peek())
                {
                    case '(':
                        result.AddRange(Tuple());
                        break;
                    case '"' or '\'':
                        Text();
                        break;
                    case '@':
                        Asset();
                        break;
                    case '<':
                        Until('<', '>');
                        break;
                    case '\0':
                        throw Error("a list is not closed");
                    default:
                        result.Add(Number(Word()));
                        break;
                }
                if (Peek() == ',')
                    at++;
            }
            at++;
            return result;
        }

        private double Number(string word)
        {
            if (++numbers > MaximumNumbers)
                throw Error("there are too many numbers");
            return double.TryParse(word, NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
                ? value
                : throw Error($"'{word}' is no number");
        }

        private string Word()
        {
            Peek();
            var start = at;
            while (at < text.Length && (char.IsLetterOrDigit(text[at]) || text[at] is '_' or ':' or '.' or '-' or '+'))
                at++;
            return at > start ? text[start..at] : throw Error(at < text.Length ? $"'{text[at]}' is not expected" : "it ends too early");
        }

        private string Text()
        {
            var quote = Peek();
            if (quote is not ('"' or '\''))
                throw Error("a text in quotes is missing");
            var triple = string.Concat(quote, quote, quote);
            if (at + 2 < text.Length && text.AsSpan(at, 3).SequenceEqual(triple))
            {
                var end = text.IndexOf(triple, at + 3, StringComparison.Ordinal);
                if (end < 0)
                    throw Error("a text is not closed");
                var whole = text[(at + 3)..end];
                at = end + 3;
                return whole;
            }
            var result = new System.Text.StringBuilder();
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

        private string Asset()
        {
            var marks = text.AsSpan(at).StartsWith("@@@") ? "@@@" : "@";
            var end = text.IndexOf(marks, at + marks.Length, StringComparison.Ordinal);
            if (end < 0)
                throw Error("a file name is not closed");
            var result = text[(at + marks.Length)..end];
            at = end + marks.Length;
            return result;
        }

        private string Until(char open, char close)
        {
            Expect(open);
            var end = text.IndexOf(close, at);
            if (end < 0)
                throw Error($"'{close}' is missing");
            var result = text[at..end];
            at = end + 1;
            return result;
        }

        /// <summary>Passes over a bracket and all within it, texts and file names too.</summary>
        private void Skip(char open, char close)
        {
            Expect(open);
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

        private void Expect(char c)
        {
            if (Peek() != c)
                throw Error($"'{c}' is missing");
            at++;
        }

        /// <summary>The next character that is no space and no comment; zero at the end.</summary>
        private char Peek()
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
    }
}
