using System.Security.Cryptography;
using System.Text;
using Kiln.Intake.Listing;
using Kiln.Looks.Ids;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;

namespace Kiln.Server.Intake;

/// <summary>Where the files of a delivery lie until they are analysed. Names are cleaned of everything that could lead elsewhere.</summary>
public sealed class Uploads(KilnSettings settings)
{
    private readonly string root = Path.Combine(settings.Data, "uploads");

    public string FolderOf(DeliveryId delivery) => Path.Combine(root, delivery.ToString("N"), "in");

    /// <summary>
    /// Where a file is while it arrives: outside of the delivery, so that no name that a person sends can be taken for it.
    /// </summary>
    public string PartOf(DeliveryId delivery, string path)
    {
        var name = Convert.ToHexStringLower(
            SHA256.HashData(Encoding.UTF8.GetBytes(Path.GetRelativePath(FolderOf(delivery), PlaceOf(delivery, path))))
        );
        return Path.Combine(root, delivery.ToString("N"), "arriving", name);
    }

    /// <summary>Begins to receive a file; what had arrived of it stays.</summary>
    public FileStream Receive(DeliveryId delivery, string path)
    {
        var part = PartOf(delivery, path);
        Directory.CreateDirectory(Path.GetDirectoryName(part)!);
        var file = new FileStream(part, FileMode.OpenOrCreate, FileAccess.Write, FileShare.None);
        File.WriteAllText(part + NameEnding, Path.GetRelativePath(FolderOf(delivery), PlaceOf(delivery, path)));
        return file;
    }

    /// <summary>The file is whole and belongs to the delivery from now on.</summary>
    public void Arrived(DeliveryId delivery, string path)
    {
        var part = PartOf(delivery, path);
        File.Move(part, PathFor(delivery, path));
        File.Delete(part + NameEnding);
    }

    public string StagingOf(DeliveryId delivery) => Path.Combine(root, delivery.ToString("N"), "unpacked");

    /// <summary>Where a file of a delivery is written, its folder made.</summary>
    /// <exception cref="DeliveryException">The path leads out of the delivery or holds characters that no name should.</exception>
    public string PathFor(DeliveryId delivery, string path)
    {
        var full = PlaceOf(delivery, path);
        Directory.CreateDirectory(Path.GetDirectoryName(full)!);
        return full;
    }

    /// <summary>Where a file of a delivery lies or would lie; nothing is made.</summary>
    /// <exception cref="DeliveryException">The path leads out of the delivery or holds characters that no name should.</exception>
    public string PlaceOf(DeliveryId delivery, string path)
    {
        var parts = path.Replace('\\', '/').Split('/', StringSplitOptions.RemoveEmptyEntries);
        if (
            parts.Length == 0
            || path.Length > DeliveryLimits.Default.PathLength
            || parts.Any(p => p is "." or ".." || p.Any(char.IsControl) || p.Length > 240)
        )
            throw new DeliveryException($"'{EntryText(path)}' cannot be a file name of a delivery.");
        return Path.Combine([FolderOf(delivery), .. parts]);
    }

    /// <summary>
    /// Removes the files of a delivery: out of sight at once, even where a piece is still arriving; what clings to it goes at the next
    /// start.
    /// </summary>
    public void Discard(DeliveryId delivery)
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
    public void DiscardStaging(DeliveryId delivery)
    {
        if (Directory.Exists(StagingOf(delivery)))
            Directory.Delete(StagingOf(delivery), recursive: true);
    }

    /// <summary>Removes the files of all deliveries but these, and what was half unpacked of these.</summary>
    public void KeepOnly(IReadOnlySet<DeliveryId> waiting)
    {
        if (!Directory.Exists(root))
            return;
        foreach (var folder in Directory.GetDirectories(root))
            if (!DeliveryId.TryParse(Path.GetFileName(folder), out var id) || !waiting.Contains(id))
                Directory.Delete(folder, recursive: true);
            else
                DiscardStaging(id);
    }

    /// <summary>Files that have begun to arrive and are not complete, by their path in the delivery.</summary>
    public IReadOnlyList<string> Incomplete(DeliveryId delivery) =>
        Path.Combine(root, delivery.ToString("N"), "arriving") is var arriving && Directory.Exists(arriving)
            ? [.. Directory.GetFiles(arriving, "*" + NameEnding).Select(File.ReadAllText).Order(StringComparer.Ordinal)]
            : [];

    private const string NameEnding = ".name";

    private static string EntryText(string path) => string.Concat(path.Take(80).Select(c => char.IsControl(c) ? '·' : c));
}
