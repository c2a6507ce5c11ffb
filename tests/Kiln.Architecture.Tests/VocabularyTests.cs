using System.Text.RegularExpressions;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Kiln.Architecture.Tests;

/// <summary>
/// Words that were ours alone and gave way to those of the field (docs/glossary.md). They stay where a contract holds them:
/// names in stored documents, answers, addresses and columns.
/// </summary>
public sealed partial class VocabularyTests
{
    /// <summary>In names, as a whole part of one: <c>ProofDesk</c> has the parts proof and desk.</summary>
    private static readonly HashSet<string> NeverInNames =
    [
        "desk",
        "shelf",
        "house",
        "houses",
        "judge",
        "judged",
        "judges",
        "judgement",
        "surrounding",
        "surroundings",
        "matt",
        "gloss",
        "walk",
        "walks",
        "looked",
        "brought",
        "astray",
        "ground",
        "cover",
        "covers",
    ];

    /// <summary>In comments, sentences and documents.</summary>
    private static readonly string[] NeverInTexts =
    [
        "desk",
        "shelf",
        "house",
        "houses",
        "judge",
        "judges",
        "judged",
        "judgement",
        "surroundings",
        "handed in",
        "put away",
    ];

    /// <summary>Contracts that hold such a word: an address, a name in JSON, a column.</summary>
    private static readonly Regex[] Contracts =
    [
        new(@"""/house(/working-space)?"""),
        new(@"JsonPropertyName\(""\w+""\)"),
        new(@"/\{number:int\}/judgement"),
        new(@"v\.judgement as Review|judgement = @note|judged_at, judgement,"),
        new(@"`(GET|PUT|POST) /api/v1/[^`]*`"),
        new(@"`/house/\w*`"),
    ];

    [GeneratedRegex("[A-Z]?[a-z]+|[A-Z]+(?![a-z])")]
    private static partial Regex Parts();

    [Fact]
    public void NoNameHasAWordOfOursAlone()
    {
        var found =
            from file in SourceFile.Source
            from token in file.Root.DescendantTokens().Where(t => t.IsKind(SyntaxKind.IdentifierToken))
            from part in Parts().Matches(token.ValueText).Select(m => m.Value.ToLowerInvariant())
            where NeverInNames.Contains(part)
            select $"{file.Path}: {token.ValueText}";
        Lines.None(found);
    }

    /// <summary>A method called Look… gives a look; to examine is called so.</summary>
    [Fact]
    public void LookIsNoVerb()
    {
        var verbs =
            from file in SourceFile.Source
            from method in file.Root.DescendantNodes().OfType<MethodDeclarationSyntax>()
            where
                method.Identifier.Text is "Look" or "LookAsync" && !method.ReturnType.ToString().Contains("Look", StringComparison.Ordinal)
            select $"{file.Path}: {method.Identifier.Text} gives {method.ReturnType}";
        Lines.None(verbs);
    }

    [Fact]
    public void NoTextHasAWordOfOursAlone()
    {
        var words = new Regex($@"\b({string.Join('|', NeverInTexts)})\b", RegexOptions.IgnoreCase);
        var files = SourceFile.Source.Concat(
            SourceFile.Below("docs", "*.md").Where(f => !f.Path.EndsWith("glossary.md", StringComparison.Ordinal))
        );
        var found =
            from file in files
            from line in file
                .Text.Split('\n')
                .Select((text, i) => (Text: Contracts.Aggregate(text, (t, c) => c.Replace(t, "")), Number: i + 1))
            from match in words.Matches(line.Text)
            select $"{file.Path}, line {line.Number}: “{match.Value}”";
        Lines.None(found);
    }
}
