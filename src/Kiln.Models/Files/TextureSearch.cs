namespace Kiln.Models.Files;

/// <summary>Looks for the pictures that a model names: by the path it has, then by the name anywhere below the model's folder.</summary>
public sealed class TextureSearch(string folder)
{
    /// <summary>Files below a folder beyond which nothing is looked for by name.</summary>
    private const int MostFiles = 100_000;

    private static readonly EnumerationOptions Below = new()
    {
        RecurseSubdirectories = true,
        IgnoreInaccessible = true,
        // A link may lead out of the folder, or round in a circle.
        AttributesToSkip = FileAttributes.ReparsePoint,
    };

    private Dictionary<string, string>? byName;

    /// <summary>The file, relative to the folder with slashes; null where there is none, or the path leads out of the folder.</summary>
    public string? Find(string written)
    {
        if (WrittenPath.Within("", written) is not { } direct)
            return null;
        if (File.Exists(Path.Combine(folder, direct)))
            return direct;
        return ByName.GetValueOrDefault(direct[(direct.LastIndexOf('/') + 1)..]);
    }

    /// <summary>The first of each name: as deep as need be, by the order of the alphabet.</summary>
    private Dictionary<string, string> ByName
    {
        get
        {
            if (byName is not null)
                return byName;
            byName = new(StringComparer.OrdinalIgnoreCase);
            var files = Directory.EnumerateFiles(folder, "*", Below).Take(MostFiles).Select(f => Path.GetRelativePath(folder, f));
            foreach (
                var file in files
                    .Select(f => f.Replace('\\', '/'))
                    .OrderBy(f => f.Count(c => c == '/'))
                    .ThenBy(f => f, StringComparer.Ordinal)
            )
                byName.TryAdd(Path.GetFileName(file), file);
            return byName;
        }
    }
}
