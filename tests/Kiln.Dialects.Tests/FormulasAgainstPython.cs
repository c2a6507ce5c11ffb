using System.Diagnostics;
using System.Globalization;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Graph;

namespace Kiln.Dialects.Tests;

/// <summary>
/// Formulas at random, worked out by Python in double precision: precedence, brackets, signs and every function of numbers. What profiles
/// define on purpose (a quotient by 0 is 0, a power of nothing or less is 0, a root of less than nothing is 0) is written out there.
/// </summary>
public sealed class FormulasAgainstPython
{
    private const string Script = """
        import sys, math
        def pw(a, b): return 0.0 if a <= 0 else a ** b
        def sq(a): return math.sqrt(max(a, 0.0))
        def quot(a, b): return 0.0 if b == 0 else a / b
        def clamp(x, a, b): return min(max(x, a), b)
        def lerp(a, b, t): return a + (b - a) * t
        def iff(a, b, c, d): return c if a > b else d
        class N(float):
            __add__ = lambda a, b: N(float(a) + float(b))
            __sub__ = lambda a, b: N(float(a) - float(b))
            __mul__ = lambda a, b: N(float(a) * float(b))
            __truediv__ = lambda a, b: N(quot(float(a), float(b))); __neg__ = lambda a: N(0.0 - float(a))
        names = dict(N=N, r=N(0.37), s=N(1.9), pow=lambda a, b: N(pw(a, b)), sqrt=lambda a: N(sq(a)),
                     min=lambda a, b: N(min(a, b)), max=lambda a, b: N(max(a, b)),
                     clamp=lambda *x: N(clamp(*x)), lerp=lambda *x: N(lerp(*x)), iff=lambda *x: N(iff(*x)))
        for line in sys.stdin: print(repr(float(eval(line, names))))
        """;

    /// <summary>A formula as a profile writes it, and the same as Python reads it.</summary>
    private static (string Ours, string Python) Some(Random random, int depth)
    {
        if (depth == 0)
        {
            var number = MathF.Round(random.NextSingle() * 3, 2).ToString(CultureInfo.InvariantCulture);
            return random.Next(3) switch
            {
                0 => ("r", "r"),
                1 => ("s", "s"),
                _ => (number, $"N({number})"),
            };
        }
        (string Ours, string Python)[] x = [.. Enumerable.Range(0, 4).Select(_ => Some(random, depth - 1))];
        string Call(string name, int count, Func<(string Ours, string Python), string> text) =>
            $"{name}({string.Join(", ", x.Take(count).Select(text))})";
        switch (random.Next(12))
        {
            case 0:
            case 1:
            case 2:
            case 3:
                var op = "+-*/"[random.Next(4)];
                // Without brackets, so that precedence and order are what is read.
                return ($"{x[0].Ours} {op} {x[1].Ours}", $"{x[0].Python} {op} {x[1].Python}");
            case 4:
                return ($"({x[0].Ours})", $"({x[0].Python})");
            case 5:
                return ($"-({x[0].Ours})", $"-({x[0].Python})");
            case 6:
                return ($"if({x[0].Ours} > {x[1].Ours}, {x[2].Ours}, {x[3].Ours})", Call("iff", 4, t => t.Python));
            default:
                var (name, count) = new[] { ("pow", 2), ("sqrt", 1), ("min", 2), ("max", 2), ("clamp", 3), ("lerp", 3) }[random.Next(6)];
                return (Call(name, count, t => t.Ours), Call(name, count, t => t.Python));
        }
    }

    [Fact]
    public async Task FormulasAtRandomAreWhatPythonMakesOfThem()
    {
        var random = new Random(23);
        var formulas = Enumerable.Range(0, 600).Select(i => Some(random, 1 + i % 4)).Where(f => f.Ours.Length < 1500).ToList();
        var start = new ProcessStartInfo("/usr/bin/python3", ["-c", Script])
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
        };
        using var process = Process.Start(start)!;
        var reading = process.StandardOutput.ReadToEndAsync();
        foreach (var formula in formulas)
            process.StandardInput.WriteLine(formula.Python);
        process.StandardInput.Close();
        var expected = (await reading).Split('\n', StringSplitOptions.RemoveEmptyEntries);
        await process.WaitForExitAsync();
        Assert.Equal(formulas.Count, expected.Length);
        var compared = 0;
        for (var i = 0; i < formulas.Count; i++)
        {
            var wanted = double.Parse(expected[i], CultureInfo.InvariantCulture);
            // Where single precision ends, or a hair decides which branch is taken, there is nothing to compare.
            if (!double.IsFinite(wanted) || Math.Abs(wanted) > 1e6)
                continue;
            var graph = new ShadeGraph();
            var node = ExpressionGraph
                .Build(Expression.Parse(formulas[i].Ours), graph, n => graph.Constant(n == "r" ? 0.37f : 1.9f))!
                .Value;
            Assert.True(graph.IsConstant(node), $"{formulas[i].Ours} did not fold");
            Assert.True(
                Math.Abs(graph.ValueOf(node).X - wanted) <= 2e-3 * Math.Max(1, Math.Abs(wanted)),
                $"{formulas[i].Ours}: {graph.ValueOf(node).X}, by Python {wanted}"
            );
            compared++;
        }
        Assert.True(compared > 500, $"only {compared} were compared");
    }

    [Theory]
    [InlineData("r + s * 2", "r s")]
    [InlineData("if(r > 0.5, pow(s, r), t)", "r s r t")]
    [InlineData("1 + 2", "")]
    public void TheNamesOfAFormulaAreThoseItMentions(string formula, string names) =>
        Assert.Equal(names.Split(' ', StringSplitOptions.RemoveEmptyEntries), Expression.Parse(formula).Names);

    [Theory]
    [InlineData("1 / 0", true)]
    [InlineData("r * (s / 0)", true)]
    [InlineData("r / s", false)]
    [InlineData("0 / r", false)]
    public void AQuotientByAWrittenZeroIsSeen(string formula, bool divides) =>
        Assert.Equal(divides, Expression.Parse(formula).DividesByZero);

    [Fact]
    public void TermsTakeThePlaceOfTheirNames()
    {
        var terms = new Dictionary<string, Expression> { ["half"] = Expression.Parse("r / 2") };
        Assert.Equal(["r", "s"], Expression.Parse("half + s").With(terms).Names);
    }

    [Fact]
    public void AFormulaTooLongOrTooDeepIsASentence()
    {
        Assert.Contains(
            "too long",
            Assert.Throws<ProfileException>(() => Expression.Parse(new string('1', 3000))).Message,
            StringComparison.Ordinal
        );
        var deep = new string('(', 200) + "1" + new string(')', 200);
        Assert.Contains(
            "nested too deeply",
            Assert.Throws<ProfileException>(() => Expression.Parse(deep)).Message,
            StringComparison.Ordinal
        );
    }
}
