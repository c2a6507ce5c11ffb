using Kiln.Intake.Listing;
using Kiln.Looks.Maps;
using Kiln.Models.Packing;
using Kiln.Pixels;
using Kiln.Server.Intake;
using Kiln.Store.Contents;

namespace Kiln.Server.Models.Materials;

/// <summary>The pictures that a model's file itself holds, by where they were laid.</summary>
/// <param name="Faults">Sentences, for those that cannot be read.</param>
public sealed record HeldOnes(
    IReadOnlyDictionary<string, MapFile> Pictures,
    IReadOnlyDictionary<string, string> Faults,
    IReadOnlyList<(ContentHash Content, long Length)> Files
);

/// <summary>Takes the pictures that a model's file itself holds into the store, and reads of them what is read of every map.</summary>
public sealed class HeldPictures(ContentStore store, MapReader reader)
{
    private const int LongestName = 100;

    public async Task<HeldOnes> TakeAsync(ModelFacts facts, CancellationToken stop)
    {
        var files = facts
            .Materials.SelectMany(m => m.Textures)
            .Where(t => t.Within is not null)
            .DistinctBy(t => t.Within)
            .Select((t, n) => Named(t.Within!, t.Written, n + 1))
            .ToList();
        if (files.Count == 0)
            return new(new Dictionary<string, MapFile>(), new Dictionary<string, string>(), []);
        var found = await (await reader.NowAsync()).RunAsync(DeliveryListing.Of(files), "model", cancel: stop);
        var known = found
            .Sets.SelectMany(s => s.Maps.Concat(s.Alternates.Select(a => a.Map)))
            .Select(m => (m.Path, m.File))
            .Concat(found.Unsorted.Concat(found.SetAside).Where(l => l.File is not null).Select(l => (l.Path, File: l.File!)))
            .ToLookup(m => m.Path, m => m.File);
        var faults = found.Rejected.ToLookup(r => r.Path, r => r.Error);
        var (pictures, sentences, kept) = (
            new Dictionary<string, MapFile>(),
            new Dictionary<string, string>(),
            new List<(ContentHash, long)>()
        );
        foreach (var file in files)
        {
            stop.ThrowIfCancellationRequested();
            if (known[file.Path].FirstOrDefault() is { } picture)
            {
                store.Take(file.LocalPath, file.Content);
                kept.Add((file.Content, file.Length));
                pictures[file.LocalPath] = picture;
            }
            else
                sentences[file.LocalPath] = faults[file.Path].FirstOrDefault() ?? "is no picture that is read here.";
        }
        return new(pictures, sentences, kept);
    }

    /// <summary>As the file calls it; a number keeps those apart that are called the same.</summary>
    private static DeliveredFile Named(string path, string written, int number)
    {
        using var stream = File.OpenRead(path);
        var own = Path.GetFileNameWithoutExtension(written.Replace('\\', '/').Split('/')[^1]);
        var name = new string([.. own.Where(c => char.IsLetterOrDigit(c) || c is ' ' or '_' or '-' or '.').Take(LongestName)]);
        return new(
            $"{number}/{(name.Length > 0 ? name : "picture")}{Path.GetExtension(path)}",
            path,
            stream.Length,
            ContentHash.Of(stream)
        );
    }
}
