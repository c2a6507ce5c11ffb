namespace Kiln.Testing.Golden;

/// <summary>
/// A committed file that an answer must equal byte for byte. <c>KILN_RENEW_GOLDEN=1</c> writes it anew; the difference is then read in review.
/// </summary>
public static class GoldenFile
{
    public static bool Renews { get; } = Environment.GetEnvironmentVariable("KILN_RENEW_GOLDEN") == "1";

    public static string Folder(string project) => Path.Combine(Repository.Root, "tests", project, "golden");

    /// <summary>The committed text; empty where there is none.</summary>
    public static string Read(string project, string name) =>
        Path.Combine(Folder(project), name) is var path && File.Exists(path) ? File.ReadAllText(path) : "";

    public static void Check(string project, string name, string text)
    {
        var path = Path.Combine(Folder(project), name);
        if (Renews)
        {
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            File.WriteAllText(path, text);
            return;
        }
        Assert.True(File.Exists(path), $"golden/{name} is not there; KILN_RENEW_GOLDEN=1 writes it.");
        var golden = File.ReadAllText(path);
        if (golden == text)
            return;
        string[] before = golden.Split('\n'),
            now = text.Split('\n');
        var at = Enumerable
            .Range(0, Math.Max(before.Length, now.Length))
            .First(i => i >= before.Length || i >= now.Length || before[i] != now[i]);
        Assert.Fail(
            $"golden/{name}, line {at + 1}:\n  was {before.ElementAtOrDefault(at) ?? "(end)"}\n  is  {now.ElementAtOrDefault(at) ?? "(end)"}"
        );
    }
}
