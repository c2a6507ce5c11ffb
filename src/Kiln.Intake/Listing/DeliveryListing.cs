using System.IO.Compression;
using System.Security.Cryptography;
using Kiln.Pixels;

namespace Kiln.Intake.Listing;

/// <summary>One file of a delivery: its path within it (/ separated), where its bytes lie on this machine, and their SHA-256.</summary>
public sealed record DeliveredFile(string Path, string LocalPath, long Length, ContentHash Content);

/// <summary>A file that was left out, with the reason in a sentence.</summary>
public sealed record LeftOut(string Path, string Reason);

/// <summary>
/// Lists a delivery: walks folders without following links, unpacks archives (one nested level) into a staging folder, enforces limits.
/// No entry leaves its root; what is refused is said, the rest still comes in.
/// </summary>
public sealed class DeliveryListing
{
    private readonly DeliveryLimits limits;
    private readonly string staging;
    private readonly Action<string, long>? progress;
    private readonly CancellationToken cancel;
    private readonly HashSet<string> seen = new(StringComparer.Ordinal);
    private long total;
    private int entries;
    private int archives;

    private DeliveryListing(string staging, DeliveryLimits limits, Action<string, long>? progress, CancellationToken cancel)
    {
        (this.staging, this.limits, this.progress, this.cancel) = (staging, limits, progress, cancel);
        Directory.CreateDirectory(staging);
    }

    private DeliveryListing() => (staging, limits) = ("", DeliveryLimits.Default);

    /// <summary>Files that were listed before and lie where they are said to.</summary>
    public static DeliveryListing Of(IEnumerable<DeliveredFile> files)
    {
        var listing = new DeliveryListing();
        listing.Files.AddRange(files);
        return listing;
    }

    public List<DeliveredFile> Files { get; } = [];

    public List<LeftOut> Rejected { get; } = [];

    public List<LeftOut> SetAside { get; } = [];

    /// <summary>Lists folders, archives and loose files. With several paths, entries begin with each path's own name.</summary>
    /// <exception cref="DeliveryException">A path does not exist or is an archive that cannot be opened.</exception>
    public static DeliveryListing Read(
        IReadOnlyList<string> paths,
        string staging,
        DeliveryLimits? limits = null,
        Action<string, long>? progress = null,
        CancellationToken cancel = default
    )
    {
        var listing = new DeliveryListing(staging, limits ?? DeliveryLimits.Default, progress, cancel);
        foreach (var path in paths)
        {
            var prefix = paths.Count > 1 ? Path.GetFileName(Path.TrimEndingDirectorySeparator(Path.GetFullPath(path))) + "/" : "";
            if (Directory.Exists(path))
                listing.Folder(path, prefix);
            else if (RegularFiles.Fault(path) is { } fault)
                throw new DeliveryException($"'{path}' is {fault}; only regular files are read.");
            else if (!File.Exists(path))
                throw new DeliveryException($"There is nothing at '{path}'.");
            else if (IsArchive(path))
                listing.Archive(path, prefix, depth: 0);
            else
                listing.Take(paths.Count > 1 ? prefix.TrimEnd('/') : Path.GetFileName(path), path);
        }
        listing.Name();
        return listing;
    }

    /// <summary>The SHA-256 of every file, several at a time.</summary>
    private void Name()
    {
        var hashes = new ContentHash[Files.Count];
        Parallel.For(0, Files.Count, new ParallelOptions { CancellationToken = cancel }, i =>
        {
            using var stream = File.OpenRead(Files[i].LocalPath);
            hashes[i] = ContentHash.Of(stream);
        });
        for (var i = 0; i < hashes.Length; i++)
            Files[i] = Files[i] with { Content = hashes[i] };
    }

    private void Folder(string root, string prefix)
    {
        var open = new Stack<(string Path, string Prefix)>([(Path.GetFullPath(root), prefix)]);
        while (open.TryPop(out var folder))
            foreach (var (shown, path, entry) in Entries(folder.Path, folder.Prefix))
            {
                cancel.ThrowIfCancellationRequested();
                if (RegularFiles.Fault(path) is { } fault)
                    Rejected.Add(
                        new(
                            shown,
                            $"It is {fault}{(entry?.LinkTarget is null ? "" : " behind a symbolic link")}; only regular files are read."
                        )
                    );
                else if (entry?.LinkTarget is not null)
                    SetAside.Add(new(shown, "a symbolic link, which is not followed"));
                else if (Directory.Exists(path))
                    open.Push((path, shown + "/"));
                else
                    Found(shown, path);
            }
    }

    /// <summary>What lies in a folder, by name. Names that are no UTF-8 come with escapes and are read by a link of ours.</summary>
    private List<(string Shown, string Path, FileSystemInfo? Entry)> Entries(string folder, string prefix)
    {
        try
        {
            var all = new DirectoryInfo(folder).EnumerateFileSystemInfos().OrderBy(e => e.Name, StringComparer.Ordinal).ToList();
            var plain = all.Where(e => !RawNames.Hides(e.Name) || Path.Exists(e.FullName))
                .Select(e => (prefix + e.Name.Replace('\\', '/'), e.FullName, (FileSystemInfo?)e));
            return all.Any(e => RawNames.Hides(e.Name))
                ? [.. plain, .. RawNames.Of(folder, staging).Select(r => (prefix + r.Shown, r.Path, (FileSystemInfo?)null))]
                : [.. plain];
        }
        catch (Exception e) when (e is UnauthorizedAccessException or IOException)
        {
            Rejected.Add(
                new(
                    prefix.TrimEnd('/') is { Length: > 0 } name ? name : Path.GetFileName(folder),
                    $"The folder cannot be read: {e.Message}"
                )
            );
            return [];
        }
    }

    private void Found(string path, string local)
    {
        try
        {
            if (IsArchive(local))
                Archive(local, path + "/", depth: 1);
            else
                Take(path, local);
        }
        catch (Exception e) when (e is UnauthorizedAccessException or IOException)
        {
            Rejected.Add(new(path, $"It cannot be read: {e.Message}"));
        }
    }

    private void Archive(string file, string prefix, int depth)
    {
        try
        {
            if (++archives > limits.NestedArchives)
                throw new InvalidDataException($"more than {limits.NestedArchives} archives in one delivery");
            using var zip = new ZipArchive(File.OpenRead(file), ZipArchiveMode.Read, false, ZipNameEncoding.Instance);
            foreach (var entry in zip.Entries)
            {
                cancel.ThrowIfCancellationRequested();
                if (!entry.FullName.EndsWith('/'))
                    Entry(entry, prefix, depth);
            }
        }
        catch (Exception e) when (e is InvalidDataException or EndOfStreamException or NotSupportedException)
        {
            if (depth == 0)
                throw new DeliveryException($"The archive '{Path.GetFileName(file)}' is damaged or no zip file: {e.Message}");
            Rejected.Add(new(prefix.TrimEnd('/'), $"The archive inside cannot be opened: {e.Message}"));
        }
    }

    private void Entry(ZipArchiveEntry entry, string prefix, int depth)
    {
        var name = entry.FullName.Replace('\\', '/');
        var path = prefix + name;
        if (EntryNames.Refusal(name, limits) is { } refusal)
        {
            Rejected.Add(new(EntryNames.Printable(path), refusal));
            return;
        }
        if ((entry.ExternalAttributes >> 16 & 0xF000) == 0xA000)
        {
            SetAside.Add(new(path, "a symbolic link, which is not followed"));
            return;
        }
        if (entry.Length > limits.EntryBytes)
        {
            Rejected.Add(new(path, $"The entry has {entry.Length >> 20} MB; at most {limits.EntryBytes >> 20} MB are taken."));
            return;
        }
        if (entry.CompressedLength > 0 && entry.Length > 1 << 20 && entry.Length / entry.CompressedLength > limits.CompressionRatio)
        {
            Rejected.Add(
                new(path, $"The entry claims to unpack to {entry.Length / entry.CompressedLength} times its size; no picture does that.")
            );
            return;
        }
        var target = Path.Combine(staging, Guid.CreateVersion7().ToString("N"));
        try
        {
            using (var from = entry.Open())
            using (var to = File.Create(target))
                Copy(from, to, Math.Min(entry.Length, limits.EntryBytes));
            if (depth == 0 && IsArchive(target))
                Archive(target, path + "/", depth + 1);
            else
                Take(path, target);
        }
        catch (Exception e) when (e is InvalidDataException or EndOfStreamException or NotSupportedException)
        {
            File.Delete(target);
            Rejected.Add(new(path, $"The entry cannot be unpacked: {e.Message}"));
        }
    }

    private void Copy(Stream from, Stream to, long claimed)
    {
        var buffer = new byte[1 << 17];
        long copied = 0;
        for (int read; (read = from.Read(buffer)) > 0; )
        {
            cancel.ThrowIfCancellationRequested();
            copied += read;
            if (copied > claimed)
                throw new InvalidDataException("it holds more than its header says");
            to.Write(buffer, 0, read);
        }
    }

    private void Take(string path, string local)
    {
        if (SystemFiles.Is(path))
        {
            SetAside.Add(new(path, "a file of the operating system"));
            return;
        }
        if (EntryNames.Refusal(path, limits) is { } refusal)
        {
            Rejected.Add(new(EntryNames.Printable(path), refusal));
            return;
        }
        if (++entries > limits.Entries)
        {
            Rejected.Add(new(path, $"The delivery has more than {limits.Entries} files."));
            return;
        }
        var length = new FileInfo(local).Length;
        total += length;
        if (length > limits.EntryBytes || total > limits.TotalBytes)
        {
            Rejected.Add(
                new(
                    path,
                    $"The delivery is too large; at most {limits.EntryBytes >> 30} GB a file and {limits.TotalBytes >> 30} GB in "
                        + "all are taken."
                )
            );
            return;
        }
        if (!seen.Add(path))
        {
            Rejected.Add(new(path, "Two entries have this same name; the first one was taken."));
            return;
        }
        Files.Add(new(path, local, length, default));
        progress?.Invoke(path, total);
    }

    private static bool IsArchive(string file)
    {
        Span<byte> head = stackalloc byte[4];
        using var stream = File.OpenRead(file);
        return stream.ReadAtLeast(head, 4, false) == 4 && head.SequenceEqual("PK\u0003\u0004"u8)
            || Path.GetExtension(file).Equals(".zip", StringComparison.OrdinalIgnoreCase);
    }
}

/// <summary>Names inside archives and folders: which are refused, and how they can be shown.</summary>
internal static class EntryNames
{
    public static string? Refusal(string name, DeliveryLimits limits)
    {
        if (name.Length > limits.PathLength)
            return $"The name has {name.Length} characters; at most {limits.PathLength} are taken.";
        if (name.StartsWith('/') || name.Length > 1 && name[1] == ':')
            return "The name is an absolute path, which would leave the delivery.";
        if (name.Split('/').Contains(".."))
            return "The name leads out of the delivery (..).";
        if (name.Any(c => char.IsControl(c) || c is '\u202e' or '\u202d' or '\u2066' or '\u2067' or '\u2068'))
            return "The name holds control characters or marks that turn the direction of text.";
        return null;
    }

    public static string Printable(string name) =>
        string.Concat(name.Take(300).Select(c => char.IsControl(c) || c is '\u202e' or '\u202d' or >= '\u2066' and <= '\u2069' ? '·' : c));
}

internal static class SystemFiles
{
    public static bool Is(string path)
    {
        var name = path[(path.LastIndexOf('/') + 1)..];
        return name.StartsWith('.') || name is "Thumbs.db" or "desktop.ini" || path.Split('/').Contains("__MACOSX");
    }
}
