using System.Text.Json;
using Kiln.Exchange.Documents;
using Kiln.Pixels;

namespace Kiln.Cli;

/// <summary>One network of a folder: what it was, what became of it.</summary>
/// <param name="Hash">SHA-256 of the network's file; a changed one is done again.</param>
/// <param name="Error">A sentence where it failed; null where it is done.</param>
internal sealed record BatchResult(string File, ContentHash Hash, JsonElement? Result, string? Error);

/// <summary>
/// The networks of a folder, one after another. Results are written to a file after each, so that a run that was broken off goes on where
/// it was;
/// one that fails keeps none of the others back and is tried again the next time.
/// </summary>
internal sealed class BatchResults
{
    private readonly string path;
    private readonly Dictionary<string, BatchResult> known = [];

    /// <param name="path">The file of results, in the folder that is written to.</param>
    /// <param name="task">What is done, in words; results of another task are not taken over.</param>
    private BatchResults(string path, string task)
    {
        (this.path, Task) = (path, task);
        if (!File.Exists(path))
            return;
        var kept = Read(path);
        if (kept.Task == task)
            known = kept.Files.ToDictionary(r => r.File);
    }

    /// <exception cref="ArgumentException">The file holds something else: it is left as it is, since it may be somebody's own.</exception>
    private static Kept Read(string path)
    {
        try
        {
            if (
                JsonSerializer.Deserialize<Kept>(File.ReadAllText(path), JsonSerializerOptions.Web) is
                { Task: not null, Files: not null } kept
            )
                return kept;
        }
        catch (JsonException)
        {
            // Said below.
        }
        throw new ArgumentException($"'{path}' is no file of results that this command wrote; move it away or choose another folder.");
    }

    private sealed record Kept(string Task, IReadOnlyList<BatchResult> Files);

    private string Task { get; }

    /// <summary>Networks of a folder and those below it, by relative path; definitions that go with them are none.</summary>
    public static IReadOnlyList<string> Networks(string folder) =>
        [
            .. NetworkDocuments
                .Among(Directory.EnumerateFiles(folder, "*", SearchOption.AllDirectories))
                .Select(f => Path.GetRelativePath(folder, f))
                .Order(StringComparer.Ordinal),
        ];

    /// <param name="one">Does one network and says what came of it; throws with a sentence where it cannot.</param>
    /// <param name="kept">Told of every result that is taken over from an earlier run, before anything is done.</param>
    /// <param name="isSentence">Whether an exception is one a person can mend; others end the run.</param>
    public static async Task<IReadOnlyList<BatchResult>> RunAsync(
        string folder,
        string output,
        string task,
        Func<string, Task<object>> one,
        Func<Exception, bool> isSentence,
        CancellationToken cancel,
        Action<BatchResult>? kept = null
    )
    {
        Directory.CreateDirectory(output);
        var results = new BatchResults(Path.Combine(output, "results.json"), task);
        var done = new List<BatchResult>();
        var files = Networks(folder);
        if (files.Count == 0)
            throw new ArgumentException($"There is no network in '{folder}'.");
        var hashes = files.ToDictionary(f => f, f => CliSession.HashOf(Path.Combine(folder, f)));
        BatchResult? Before(string file) =>
            results.known.TryGetValue(file, out var before) && before.Hash == hashes[file] && before.Error is null ? before : null;
        foreach (var before in files.Select(Before).OfType<BatchResult>())
            kept?.Invoke(before);
        foreach (var file in files)
        {
            cancel.ThrowIfCancellationRequested();
            var full = Path.Combine(folder, file);
            var hash = hashes[file];
            if (Before(file) is { } before)
            {
                done.Add(before);
                continue;
            }
            BatchResult result;
            try
            {
                result = new(file, hash, JsonSerializer.SerializeToElement(await one(full), CliSession.Json), null);
            }
            catch (Exception e) when (isSentence(e))
            {
                result = new(file, hash, null, e.Message.ReplaceLineEndings(" "));
            }
            if (!CliProgress.Quiet || result.Error is not null)
                Console.Error.WriteLine($"{done.Count + 1} of {files.Count}: {file}{(result.Error is { } error ? ": " + error : "")}");
            done.Add(result);
            results.Keep(done);
        }
        results.Keep(done);
        return done;
    }

    /// <summary>Written beside and renamed: what is there is always whole.</summary>
    private void Keep(IReadOnlyList<BatchResult> done)
    {
        File.WriteAllText(path + ".part", JsonSerializer.Serialize(new Kept(Task, done), CliSession.Json));
        File.Move(path + ".part", path, overwrite: true);
    }
}
