using System.IO.Compression;
using System.Security.Cryptography;
using Kiln.Looks.Document;
using Kiln.Pixels;

namespace Kiln.Exchange.Packages;

/// <summary>A package that came in: its look, and the files it needs by content, unpacked into a folder.</summary>
public sealed record ReadPackage(Look Look, IReadOnlyDictionary<ContentHash, string> Files);

/// <summary>
/// Reads what <see cref="PackageWriter"/> wrote: every file is held against checksums.txt, and the look comes back as it was, with the maps
/// it names.
/// The network in the package is not read; the look is what it was made from.
/// </summary>
public static class PackageReader
{
    private const int MostEntries = 5000;
    private const long MostBytes = 16L << 30;

    /// <summary>Whether a zip has the look of a package in it.</summary>
    public static bool IsPackage(ZipArchive zip) => zip.GetEntry("look.json") is not null && zip.GetEntry("checksums.txt") is not null;

    /// <param name="folder">An empty folder of the caller's, for the files.</param>
    /// <exception cref="ExchangeException">It is no package, was changed, or lacks a map; the message is a sentence.</exception>
    /// <exception cref="LookException">The look in it cannot be read.</exception>
    public static ReadPackage Read(Stream stream, string folder)
    {
        using var zip = Opened(stream);
        if (!IsPackage(zip))
            throw new ExchangeException("This is no package of a look: look.json and checksums.txt are not both in it.");
        if (zip.Entries.Count > MostEntries)
            throw new ExchangeException($"The package has {zip.Entries.Count} files; at most {MostEntries} are read.");
        var sums = Sums(zip);
        var byContent = new Dictionary<ContentHash, string>();
        long total = 0;
        var count = 0;
        byte[]? document = null;
        foreach (var entry in zip.Entries.Where(e => e.FullName != "checksums.txt" && e.Name.Length > 0))
        {
            if (!sums.TryGetValue(entry.FullName, out var expected))
                throw new ExchangeException($"'{entry.FullName}' is not in checksums.txt: the package was changed.");
            // Never by the entry's own name: that may lead anywhere.
            var path = Path.Combine(folder, (count++).ToString(System.Globalization.CultureInfo.InvariantCulture));
            var hash = Unpacked(entry, path, ref total);
            if (hash.ToString() != expected)
                throw new ExchangeException($"'{entry.FullName}' is not what checksums.txt says: the package was changed or damaged.");
            byContent[hash] = path;
            sums.Remove(entry.FullName);
            if (entry.FullName == "look.json")
                document =
                    entry.Length <= LookJson.MaximumBytes
                        ? File.ReadAllBytes(path)
                        : throw new ExchangeException("The look in the package is too large.");
        }
        if (sums.Keys.FirstOrDefault() is { } missing)
            throw new ExchangeException($"'{missing}' is named in checksums.txt and not in the package.");
        var look = LookJson.Read(document!);
        var needed = look
            .Slots.Values.SelectMany(s => s.Candidates)
            .Concat(look.FilesWithVariants())
            .SelectMany(f => f.Contents)
            .Distinct()
            .ToList();
        foreach (var file in look.FilesWithVariants().Where(f => !f.Contents.All(byContent.ContainsKey)))
            throw new ExchangeException($"The map '{file.Name}' is not in the package.");
        return new(look, needed.Where(byContent.ContainsKey).ToDictionary(c => c, c => byContent[c]));
    }

    private static ZipArchive Opened(Stream stream)
    {
        try
        {
            var zip = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true);
            // The list of entries is read when it is first asked for; damaged, that says so.
            _ = zip.Entries.Count;
            return zip;
        }
        catch (InvalidDataException)
        {
            throw new ExchangeException("This file is no zip, or is cut off.");
        }
    }

    private static Dictionary<string, string> Sums(ZipArchive zip)
    {
        var entry = zip.GetEntry("checksums.txt")!;
        if (entry.Length > 4 << 20)
            throw new ExchangeException("checksums.txt is too large to be one.");
        string text;
        try
        {
            using var reader = new StreamReader(entry.Open());
            text = reader.ReadToEnd();
        }
        catch (InvalidDataException)
        {
            throw new ExchangeException("checksums.txt in the package is damaged.");
        }
        var result = new Dictionary<string, string>();
        foreach (var line in text.Split('\n', StringSplitOptions.RemoveEmptyEntries))
            result[line.Length > 66 ? line[66..] : throw new ExchangeException("checksums.txt cannot be read.")] = line[..64];
        return result;
    }

    private static ContentHash Unpacked(ZipArchiveEntry entry, string path, ref long total)
    {
        try
        {
            using var from = entry.Open();
            using var to = File.Create(path);
            using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            var buffer = new byte[1 << 16];
            for (int read; (read = from.Read(buffer)) > 0; )
            {
                // Counted as it comes: what an entry says of its size may be wrong.
                if ((total += read) > MostBytes)
                    throw new ExchangeException($"The package unpacks to more than {MostBytes >> 30} GB.");
                hash.AppendData(buffer, 0, read);
                to.Write(buffer, 0, read);
            }
            return ContentHash.Of(hash);
        }
        catch (InvalidDataException)
        {
            throw new ExchangeException($"'{entry.FullName}' in the package is damaged.");
        }
    }
}
