namespace Kiln.Testing.Golden;

/// <summary>
/// A committed file that an answer must equal byte for byte. <c>KILN_RENEW_GOLDEN=1</c> writes it anew; the difference is then read in
/// review.
/// </summary>
public static class GoldenFile
{
    public static bool Renews { get; } = Environment.GetEnvironmentVariable("KILN_RENEW_GOLDEN") == "1";

    public static string Folder(string project) => Path.Combine(Repository.Root, "tests", project, "golden");

    /// <summary>The committed text; empty where there is none.</summary>
    public static string Read(string project, string name) =>
        Path.Combine(Folder(project), name) is var path && File.Exists(path) ? File.ReadAllText(path) : "";

    public static void Check(string project, string name, string text) => HoldsAt(Path.Combine(Folder(project), name), text);

    /// <summary>The same for a file that lies elsewhere: one that is generated for others.</summary>
    public static void HoldsAt(string path, string text)
    {
        var name = Path.GetRelativePath(Repository.Root, path);
        if (Renews)
        {
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            File.WriteAllText(path, text);
            return;
        }
        Assert.True(File.Exists(path), $"{name} is not there; KILN_RENEW_GOLDEN=1 writes it.");
        var golden = File.ReadAllText(path);
        if (golden == text)
            return;
        string[] before = golden.Split('\n'),
            now = text.Split('\n');
        var at = Enumerable
            .Range(0, Math.Max(before.Length, now.Length))
            .First(i => i >= before.Length || i >= now.Length || before[i] != now[i]);
        var (was, isNow) = (before.ElementAtOrDefault(at) ?? "(end)", now.ElementAtOrDefault(at) ?? "(end)");
        var from = Math.Max(0, was.Zip(isNow).TakeWhile(p => p.First == p.Second).Count() - 60);
        Assert.Fail($"{name}, line {at + 1}, column {from + 1}:\n  was {Piece(was, from)}\n  is  {Piece(isNow, from)}");
    }

    private static string Piece(string line, int from) => line[Math.Min(from, line.Length)..Math.Min(from + 160, line.Length)];
}
