using System.Collections.Immutable;
using Kiln.Intake.Naming;

namespace Kiln.Intake.Sets;

/// <summary>Tags proposed from a surface's name and folder: its words, without numbers, technical words and repetitions.</summary>
internal static class SurfaceTags
{
    private const int Most = 6,
        Shortest = 3;

    public static ImmutableArray<string> Of(string name, string folder, NamingTables tables) =>
        [
            .. NameTokens
                .Split(name)
                .Concat(folder.Split('/').TakeLast(1).SelectMany(NameTokens.Split))
                .Where(t => t.Length >= Shortest && t.All(char.IsLetter) && !tables.FillerWords.Contains(t) && !tables.Folders.Contains(t))
                .Distinct()
                .Take(Most),
        ];
}
