using System.Globalization;
using Kiln.Faults;

namespace Kiln.Dialects.Profiles;

/// <summary>
/// A small formula of a profile: numbers, names, + − * /, comparisons inside if, and the functions min max clamp lerp pow sqrt luminance
/// brightness greatest if, and mapped, which is 1 for what a map drives and 0 for a plain value; and of directions along a surface heading
/// turns along across turned aim (<see cref="ExpressionGraph"/>).
/// </summary>
public abstract record Expression
{
    public sealed record Number(float Value) : Expression;

    public sealed record Name(string Text) : Expression;

    /// <summary>Function is + - * / or one of the function names.</summary>
    public sealed record Call(string Function, IReadOnlyList<Expression> Arguments) : Expression;

    private const int MaximumLength = 2000,
        MaximumDepth = 60;

    private static readonly Dictionary<string, int> Arity = new()
    {
        ["min"] = 2,
        ["max"] = 2,
        ["clamp"] = 3,
        ["lerp"] = 3,
        ["pow"] = 2,
        ["sqrt"] = 1,
        ["luminance"] = 1,
        ["brightness"] = 1,
        ["greatest"] = 1,
        ["if"] = 4,
        ["mapped"] = 1,
        ["heading"] = 1,
        ["turns"] = 1,
        ["along"] = 1,
        ["across"] = 1,
        ["turned"] = 2,
        ["aim"] = 3,
    };

    /// <summary>All names the formula mentions.</summary>
    public IEnumerable<string> Names =>
        this switch
        {
            Name n => [n.Text],
            Call c => c.Arguments.SelectMany(a => a.Names),
            _ => [],
        };

    /// <summary>
    /// Whether it divides by a plain 0 somewhere. A divisor that a value makes 0 gives 0, as in every graph (<see
    /// cref="Looks.Graph.ShadeArithmetic"/>).
    /// </summary>
    public bool DividesByZero =>
        this is Call c && (c is { Function: "/", Arguments: [_, Number { Value: 0 }] } || c.Arguments.Any(a => a.DividesByZero));

    private const int MaximumParts = 20_000;

    private int Parts => this is Call c ? 1 + c.Arguments.Sum(a => a.Parts) : 1;

    /// <summary>The formula with names replaced by what they stand for.</summary>
    /// <exception cref="ProfileException">It becomes larger than any formula needs to be.</exception>
    public Expression With(IReadOnlyDictionary<string, Expression> terms)
    {
        var whole = terms.Count == 0 ? this : Replaced();
        return whole.Parts <= MaximumParts
            ? whole
            : throw new ProfileException($"With its terms a formula has more than {MaximumParts} parts.");

        Expression Replaced() =>
            this switch
            {
                Name n => terms.GetValueOrDefault(n.Text, n),
                Call c => c with { Arguments = [.. c.Arguments.Select(a => a.With(terms))] },
                _ => this,
            };
    }

    /// <exception cref="ProfileException">The formula cannot be read; the message says where.</exception>
    public static Expression Parse(string text)
    {
        if (text.Length > MaximumLength)
            throw new ProfileException($"A formula of {text.Length} characters is too long; at most {MaximumLength} are read.");
        var reader = new Reader(text);
        var result = reader.Sum(0);
        reader.End();
        return result;
    }

    private sealed class Reader(string text)
    {
        private int at;

        public Expression Sum(int depth)
        {
            if (depth > MaximumDepth)
                throw Error("it is nested too deeply");
            var left = Product(depth);
            while (Take('+', '-') is { } op)
                left = new Call(op.ToString(), [left, Product(depth)]);
            return left;
        }

        private Expression Product(int depth)
        {
            var left = Atom(depth);
            while (Take('*', '/') is { } op)
                left = new Call(op.ToString(), [left, Atom(depth)]);
            return left;
        }

        private Expression Atom(int depth)
        {
            if (Take('(') is not null)
            {
                var inner = Sum(depth + 1);
                Expect(')');
                return inner;
            }
            if (Take('-') is not null)
                return new Call("-", [new Number(0), Atom(depth + 1)]);
            var word = Word();
            if (float.TryParse(word, NumberStyles.Float, CultureInfo.InvariantCulture, out var number))
                return new Number(number);
            if (Take('(') is null)
                return new Name(word);
            var arguments = new List<Expression> { Sum(depth + 1) };
            if (word == "if")
            {
                Expect('>');
                arguments.Add(Sum(depth + 1));
            }
            while (Take(',') is not null)
                arguments.Add(Sum(depth + 1));
            Expect(')');
            if (!Arity.TryGetValue(word, out var arity))
                throw Error($"there is no function '{word}'");
            return arguments.Count == arity
                ? new Call(word, arguments)
                : throw Error($"'{word}' takes {arity} values, not {arguments.Count}");
        }

        private string Word()
        {
            Space();
            var start = at;
            while (at < text.Length && (char.IsLetterOrDigit(text[at]) || text[at] is '_' or '.'))
                at++;
            return at > start ? text[start..at] : throw Error("a number, a name or a bracket is missing");
        }

        private char? Take(params ReadOnlySpan<char> any)
        {
            Space();
            return at < text.Length && any.Contains(text[at]) ? text[at++] : null;
        }

        private void Expect(char c)
        {
            if (Take(c) is null)
                throw Error($"'{c}' is missing");
        }

        private void Space()
        {
            while (at < text.Length && char.IsWhiteSpace(text[at]))
                at++;
        }

        public void End()
        {
            Space();
            if (at < text.Length)
                throw Error($"'{text[at]}' is not expected");
        }

        private ProfileException Error(string what) => new($"The formula “{text}” cannot be read: {what} at character {at + 1}.");
    }
}

/// <summary>A dialect profile is wrong; the message says what and where.</summary>
public sealed class ProfileException(string message, Exception? inner = null)
    : KilnException(FaultKind.Unusable, "dialect.unknown", message, inner);
