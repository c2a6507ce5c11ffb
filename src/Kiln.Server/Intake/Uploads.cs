using Kiln.Looks.Intake;
using Kiln.Server.Platform;

namespace Kiln.Server.Intake;

/// <summary>Where the files of a delivery lie until they are analysed. Names are cleaned of everything that could lead elsewhere.</summary>
public sealed class Uploads(KilnSettings settings)
{
    private readonly string root = Path.Combine(settings.Data, "uploads");

    public string FolderOf(Guid delivery) => Path.Combine(root, delivery.ToString("N"), "in");

    public string StagingOf(Guid delivery) => Path.Combine(root, delivery.ToString("N"), "unpacked");

    /// <exception cref="DeliveryException">The path leads out of the delivery or holds characters that no name should.</exception>
    public string PathFor(Guid delivery, string path)
    {
        var parts = path.Replace('\\', '/').Split('/', StringSplitOptions.RemoveEmptyEntries);
        if (parts.Length == 0 || path.Length > DeliveryLimits.Default.PathLength || parts.Any(p => p is "." or ".." || p.Any(char.IsControl) || p.Length > 240))
            throw new DeliveryException($"'{EntryText(path)}' cannot be a file name of a delivery.");
        var full = Path.Combine([FolderOf(delivery), .. parts]);
        Directory.CreateDirectory(Path.GetDirectoryName(full)!);
        return full;
    }

    /// <summary>Removes the files of a delivery: out of sight at once, even where a piece is still arriving; what clings to it goes at the next start.</summary>
    public void Discard(Guid delivery)
    {
        var folder = Path.Combine(root, delivery.ToString("N"));
        if (!Directory.Exists(folder))
            return;
        var gone = Path.Combine(root, $"{Guid.CreateVersion7():N}.gone");
        try
        {
            Directory.Move(folder, gone);
            Directory.Delete(gone, recursive: true);
        }
        catch (Exception e) when (e is DirectoryNotFoundException || Directory.Exists(gone))
        {
            // Someone else was removing it, or a file was written into it meanwhile.
        }
    }

    /// <summary>What was unpacked for an analysis; it is unpacked anew when the analysis is taken up again.</summary>
    public void DiscardStaging(Guid delivery)
    {
        if (Directory.Exists(StagingOf(delivery)))
            Directory.Delete(StagingOf(delivery), recursive: true);
    }

    /// <summary>Removes the files of all deliveries but these, and what was half unpacked of these.</summary>
    public void KeepOnly(IReadOnlySet<Guid> waiting)
    {
        if (!Directory.Exists(root))
            return;
        foreach (var folder in Directory.GetDirectories(root))
            if (!Guid.TryParse(Path.GetFileName(folder), out var id) || !waiting.Contains(id))
                Directory.Delete(folder, recursive: true);
            else
                DiscardStaging(id);
    }

    /// <summary>Files that have begun to arrive and are not complete, by their path in the delivery.</summary>
    public IReadOnlyList<string> Incomplete(Guid delivery) => Directory.Exists(FolderOf(delivery))
        ? [.. Directory.GetFiles(FolderOf(delivery), "*" + PartEnding, SearchOption.AllDirectories).Select(f => Path.GetRelativePath(FolderOf(delivery), f)[..^PartEnding.Length])]
        : [];

    public const string PartEnding = ".kiln-part";

    private static string EntryText(string path) => string.Concat(path.Take(80).Select(c => char.IsControl(c) ? '·' : c));
}
