using Kiln.Dialects.Profiles;

namespace Kiln.Dialects.Tests;

/// <summary>Formulas with named parts: short to write, quoted written out, and meaning the same either way.</summary>
public sealed class QuotedFormulas
{
    private const int Longest = 220;

    private static readonly DialectProfiles Shipped = DialectProfiles.Load(DialectProfiles.ShippedFolder());

    public static TheoryData<string> Ids() => [.. Shipped.All.Select(p => p.Id)];

    [Theory]
    [MemberData(nameof(Ids))]
    public void AQuotedFormulaMeansWhatIsComputed(string id)
    {
        var profile = Shipped.Find(id);
        // Terms stay names in a quotation; read with what they stand for it is the formula again.
        var terms = new Dictionary<string, Expression>();
        foreach (var (name, text) in profile.NeutralTerms)
            terms[name] = Expression.Parse(text).With(terms);
        Assert.All(profile.Mapping.Keys, input =>
            Assert.Equal(Written(profile.Formulas[input]), Written(Expression.Parse(profile.FormulaOf(input)).With(terms)))
        );
    }

    [Theory]
    [MemberData(nameof(Ids))]
    public void NoFormulaIsLongerThanCanBeRead(string id)
    {
        var profile = Shipped.Find(id);
        var texts = profile.Mapping.Concat(profile.Back).Concat(profile.Terms).Concat(profile.NeutralTerms).Concat(profile.NeutralParts);
        Assert.All(texts, t => Assert.True(t.Value.Length <= Longest, $"{t.Key} has {t.Value.Length} characters"));
    }

    [Theory]
    [InlineData("a - part", "b + c", "a - (b + c)")]
    [InlineData("a + part", "b + c", "a + b + c")]
    [InlineData("part * a", "b - c", "(b - c) * a")]
    [InlineData("a / part", "b * c", "a / (b * c)")]
    [InlineData("part / a", "b * c", "b * c / a")]
    [InlineData("a / part", "(b * c)", "a / (b * c)")]
    [InlineData("a / part", "(b + c) * (d + e)", "a / ((b + c) * (d + e))")]
    [InlineData("max(part, a)", "b + c", "max(b + c, a)")]
    [InlineData("a - part", "max(b, c)", "a - max(b, c)")]
    [InlineData("party + part", "b", "party + b")]
    [InlineData("part(a) + part", "b", "part(a) + b")]
    public void PartsStandInParenthesesWhereTheyMust(string formula, string part, string expected) =>
        Assert.Equal(expected, FormulaText.WrittenOut(formula, new Dictionary<string, string> { ["part"] = part }));

    [Fact]
    public void APartKnowsThoseBeforeIt() =>
        Assert.Equal(
            "2 * (a - (a + b))",
            FormulaText.WrittenOut("2 * second", new Dictionary<string, string> { ["first"] = "a + b", ["second"] = "a - first" })
        );

    [Fact]
    public void APartIsNotCalledAsATermOrAnInputIs()
    {
        var text = File.ReadAllText(Path.Combine(Shipped.Folder!, "gltf.json"));
        string[] Said(string name) =>
            [
                .. ProfileCheck
                    .Read(text.Replace("\"dispersed\":", $"\"{name}\":", StringComparison.Ordinal))
                    .Problems.Select(p => p.Sentence),
            ];
        Assert.Contains(Said("base_color"), s => s.Contains("'base_color' is called as an input is", StringComparison.Ordinal));
        var term = Shipped.Find("gltf").NeutralTerms.Keys.First();
        Assert.Contains(Said(term), s => s.Contains($"'{term}' is called as a term is", StringComparison.Ordinal));
    }

    private static string Written(Expression expression) =>
        expression switch
        {
            Expression.Number n => n.Value.ToString("R", System.Globalization.CultureInfo.InvariantCulture),
            Expression.Name n => n.Text,
            Expression.Call c => $"{c.Function}({string.Join(",", c.Arguments.Select(Written))})",
            _ => throw new ArgumentException(expression.ToString()),
        };
}
