using System.IO.Compression;
using System.Security.Cryptography;
using System.Text.Json;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Pixels;

namespace Kiln.Store.Archives;

/// <summary>An archive unpacked into a folder and verified.</summary>
/// <param name="Contents">Checksum to the file it was unpacked to.</param>
public sealed record OpenedArchive(
    ArchiveHeader Header,
    IReadOnlyList<ArchivedLook> Looks,
    IReadOnlyDictionary<ContentHash, string> Contents
);

/// <summary>Opens archives: every file against its checksum, every document as a look; whole or not at all.</summary>
public static class ArchiveReader
{
    private const int MostEntries = 200_000,
        MostText = 512 << 20;
    private const long MostBytes = 256L << 30;

    private sealed record SchemaOnly(int Schema);

    /// <param name="folder">Empty; what is unpacked lies there.</param>
    /// <exception cref="ArchiveException">It is none, was changed or damaged, or is newer than this program.</exception>
    public static OpenedArchive Open(string file, string folder)
    {
        try
        {
            using var zip = ZipFile.OpenRead(file);
            return Opened(zip, folder);
        }
        catch (InvalidDataException e)
        {
            throw new ArchiveException("This file is no zip, or is cut off.", e);
        }
    }

    private static OpenedArchive Opened(ZipArchive zip, string folder)
    {
        if (zip.GetEntry("archive.json") is not { } head || zip.GetEntry("checksums.txt") is not { } list)
            throw new ArchiveException("This is no archive of a collection: archive.json or checksums.txt is not in it.");
        if (zip.Entries.Count > MostEntries || zip.Entries.Sum(e => e.Length) > MostBytes)
            throw new ArchiveException(
                $"The archive has {zip.Entries.Count} files; at most {MostEntries} and {MostBytes >> 30} GB are read."
            );
        var all = Sums(list);
        var sums = new Dictionary<string, string>(all, StringComparer.Ordinal);
        var unpacked = new Dictionary<string, string>(StringComparer.Ordinal);
        long total = 0;
        foreach (var entry in zip.Entries.Where(e => e.FullName != "checksums.txt"))
        {
            if (!sums.Remove(entry.FullName, out var expected))
                throw new ArchiveException($"'{entry.FullName}' is not in checksums.txt, or is there twice: the archive was changed.");
            // Never by the entry's own name: that may lead anywhere.
            var path = Path.Combine(folder, unpacked.Count.ToString(System.Globalization.CultureInfo.InvariantCulture));
            if (Unpacked(entry, path, ref total) != expected)
                throw new ArchiveException($"'{entry.FullName}' is not what checksums.txt says: the archive was changed or damaged.");
            unpacked[entry.FullName] = path;
        }
        if (sums.Keys.FirstOrDefault() is { } missing)
            throw new ArchiveException($"'{missing}' is named in checksums.txt and not in the archive.");
        var schema = Json<SchemaOnly>(unpacked[head.FullName], head.FullName).Schema;
        if (schema > ArchiveHeader.Current)
            throw new ArchiveException(
                $"The archive has schema {schema}; this program knows up to {ArchiveHeader.Current}. Update Nimble Kiln to open it."
            );
        var header = Json<ArchiveHeader>(unpacked[head.FullName], head.FullName);
        var looks = header
            .Looks.Distinct()
            .Select(id =>
                unpacked.TryGetValue($"looks/{id}.json", out var path)
                    ? Checked(Json<ArchivedLook>(path, $"looks/{id}.json"), id)
                    : throw new ArchiveException($"The look {id} is named in archive.json and not in the archive.")
            )
            .ToList();
        var contents = unpacked
            .Where(u => u.Key.StartsWith("contents/", StringComparison.Ordinal))
            .ToDictionary(u => u.Key["contents/".Length..], u => u.Value);
        foreach (var content in contents.Keys.Where(k => all[$"contents/{k}"] != k))
            throw new ArchiveException($"The content '{content}' has another checksum than its name says.");
        ArchiveCheck.All(header, looks);
        return new(header, looks, contents.ToDictionary(c => ContentHash.Parse(c.Key), c => c.Value));
    }

    /// <summary>Every text of it can be read as what it is: nothing half-understood comes in.</summary>
    private static ArchivedLook Checked(ArchivedLook look, LookId id)
    {
        if (look.Id != id)
            throw new ArchiveException($"looks/{id}.json holds another look.");
        try
        {
            LookJson.Read(System.Text.Encoding.UTF8.GetBytes(look.Document));
            foreach (var version in look.Versions)
                if (LookJson.HashOf(System.Text.Encoding.UTF8.GetBytes(version.Document)) != version.Hash)
                    throw new ArchiveException($"Version {version.Number} of {look.Name} is not what its checksum says.");
            return look;
        }
        catch (LookException e)
        {
            throw new ArchiveException($"{look.Name}: {e.Message}", e);
        }
    }

    private static Dictionary<string, string> Sums(ZipArchiveEntry entry)
    {
        if (entry.Length > 64 << 20)
            throw new ArchiveException("checksums.txt is too large to be one.");
        using var reader = new StreamReader(entry.Open());
        var result = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var line in reader.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries))
            result[line.Length > 66 ? line[66..] : throw new ArchiveException("checksums.txt cannot be read.")] = line[..64];
        return result;
    }

    private static string Unpacked(ZipArchiveEntry entry, string path, ref long total)
    {
        using var from = entry.Open();
        using var to = File.Create(path);
        using var hash = SHA256.Create();
        using (var both = new CryptoStream(to, hash, CryptoStreamMode.Write, leaveOpen: true))
        {
            var buffer = new byte[1 << 17];
            for (int read; (read = from.Read(buffer)) > 0; )
            {
                if ((total += read) > MostBytes)
                    throw new ArchiveException($"The archive unpacks to more than {MostBytes >> 30} GB.");
                both.Write(buffer, 0, read);
            }
        }
        return Convert.ToHexStringLower(hash.Hash!);
    }

    /// <summary>Nothing may be missing: a list that is not there is no empty one.</summary>
    private static readonly JsonSerializerOptions Strict = new(JsonSerializerDefaults.Web)
    {
        RespectRequiredConstructorParameters = true,
        RespectNullableAnnotations = true,
    };

    private static T Json<T>(string path, string name)
    {
        if (new FileInfo(path).Length > MostText)
            throw new ArchiveException($"{name} is too large to be read.");
        try
        {
            using var stream = File.OpenRead(path);
            return JsonSerializer.Deserialize<T>(stream, Strict) ?? throw new ArchiveException($"There is nothing in {name}.");
        }
        catch (JsonException e)
        {
            throw new ArchiveException($"{name} cannot be read: {e.Message}", e);
        }
    }
}
