using Kiln.Looks.Document;
using Kiln.Looks.Steps;

namespace Kiln.Looks.Edits;

/// <summary>Names and step identifiers that nothing has yet.</summary>
public static class FreeNames
{
    public static string Of(string wanted, Func<string, bool> taken) =>
        Enumerable.Range(1, 999).Select(i => i == 1 ? wanted : $"{wanted} {i}").First(n => !taken(n));

    /// <summary>A source's name is at most sixty characters and has no colon.</summary>
    public static string ShortSource(string name) => name.Replace(':', ' ') is var plain && plain.Length > 56 ? plain[..56] : plain;

    public static string Step(Chain chain) =>
        Enumerable.Range(1, LookValidation.MaximumSteps + 1).Select(i => $"s{i}").First(id => chain.Steps.All(s => s.Id != id));
}
