namespace Kiln.Architecture.Tests;

/// <summary>Findings as lines of a failure's message, all of them.</summary>
internal static class Lines
{
    public static void None(IEnumerable<string> found)
    {
        var lines = found.Distinct().ToList();
        Assert.True(lines.Count == 0, string.Join('\n', lines));
    }
}
