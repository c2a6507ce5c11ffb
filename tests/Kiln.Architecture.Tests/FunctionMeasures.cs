using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Kiln.Architecture.Tests;

/// <summary>A function by its place, with its length in lines and the number of its parameters.</summary>
public sealed record MeasuredFunction(string Place, int Lines, int Parameters)
{
    /// <summary>
    /// Methods, constructors, operators, accessors, local functions and lambdas with a block. A record's primary constructor is data and no
    /// function.
    /// </summary>
    public static IEnumerable<MeasuredFunction> Of(SourceFile file)
    {
        foreach (var node in file.Root.DescendantNodes())
        {
            var name = node switch
            {
                MethodDeclarationSyntax m => m.Identifier.Text,
                ConstructorDeclarationSyntax c => c.Identifier.Text + "()",
                OperatorDeclarationSyntax o => "operator " + o.OperatorToken.Text,
                LocalFunctionStatementSyntax l => l.Identifier.Text,
                ClassDeclarationSyntax { ParameterList: not null } c => c.Identifier.Text + "()",
                StructDeclarationSyntax { ParameterList: not null } s => s.Identifier.Text + "()",
                DelegateDeclarationSyntax d => d.Identifier.Text,
                ParenthesizedLambdaExpressionSyntax => "lambda",
                AccessorDeclarationSyntax a => a.Keyword.Text,
                _ => null,
            };
            if (name is null)
                continue;
            var parameters = node.ChildNodes().OfType<ParameterListSyntax>().FirstOrDefault()?.Parameters.Count ?? 0;
            // Data that a class is made of is not its length.
            var lines = node is TypeDeclarationSyntax ? 1 : Span(node);
            yield return new($"{file.Path}: {Within(node)}{name}", lines, parameters);
        }
    }

    private static string Within(SyntaxNode node) =>
        node.Parent?.AncestorsAndSelf().OfType<MethodDeclarationSyntax>().FirstOrDefault() is { } method
        && node is not MethodDeclarationSyntax
            ? method.Identifier.Text + "."
            : "";

    private static int Span(SyntaxNode node)
    {
        var lines = node.SyntaxTree.GetLineSpan(node.Span);
        return lines.EndLinePosition.Line - lines.StartLinePosition.Line + 1;
    }
}

/// <summary>What a route is handled by, with the number of its parameters.</summary>
public sealed record MeasuredHandler(string Place, int Parameters)
{
    private static readonly HashSet<string> Verbs = ["MapGet", "MapPost", "MapPut", "MapPatch", "MapDelete"];

    /// <summary>Lambdas given to a route, and methods of the same file that are named there.</summary>
    public static IEnumerable<MeasuredHandler> Of(SourceFile file)
    {
        var methods = file.Root.DescendantNodes().OfType<MethodDeclarationSyntax>().ToLookup(m => m.Identifier.Text);
        foreach (var call in file.Root.DescendantNodes().OfType<InvocationExpressionSyntax>())
        {
            if (call.Expression is not MemberAccessExpressionSyntax { Name.Identifier.Text: { } verb } || !Verbs.Contains(verb))
                continue;
            var parameters = call.ArgumentList.Arguments[^1].Expression switch
            {
                ParenthesizedLambdaExpressionSyntax lambda => lambda.ParameterList.Parameters.Count,
                SimpleLambdaExpressionSyntax => 1,
                IdentifierNameSyntax named => methods[named.Identifier.Text].Max(m => m.ParameterList.Parameters.Count),
                _ => 0,
            };
            yield return new($"{file.Path}: {verb} {call.ArgumentList.Arguments[0]}", parameters);
        }
    }
}
