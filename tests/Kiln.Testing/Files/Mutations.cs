using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;

namespace Kiln.Testing.Files;

/// <summary>
/// Files as they come when a disk, a connection or a person with bad intent had them: bytes changed, doubled, cut and moved.
/// </summary>
public static class Mutations
{
    public static byte[] Mutated(byte[] original, Random random)
    {
        var bytes = original.ToList();
        for (var n = 1 + random.Next(4); n > 0 && bytes.Count > 8; n--)
        {
            var at = random.Next(bytes.Count);
            switch (random.Next(6))
            {
                case 0:
                    bytes[at] = (byte)random.Next(256);
                    break;
                case 1:
                    bytes.RemoveRange(at, Math.Min(random.Next(1, 40), bytes.Count - at));
                    break;
                case 2:
                    bytes.InsertRange(at, bytes.GetRange(at, Math.Min(random.Next(1, 60), bytes.Count - at)));
                    break;
                case 3:
                    bytes[at] = (byte)"\"<>{}()[]@#0-.,"[random.Next(15)];
                    break;
                case 4:
                    bytes.RemoveRange(Math.Max(8, at), bytes.Count - Math.Max(8, at));
                    break;
                default:
                    bytes.InsertRange(
                        at,
                        Encoding.ASCII.GetBytes(new[] { "NaN", "1e999", "-", "\u0000", "]]>", "../", "99999999999" }[random.Next(7)])
                    );
                    break;
            }
        }
        return [.. bytes];
    }

    /// <summary>
    /// A zip with checksums.txt: every second time its bytes are changed as they lie, which zip and checksums notice; else one file in it
    /// is changed and the checksums follow,
    /// so that what reads the file meets it.
    /// </summary>
    public static byte[] MutatedZip(IReadOnlyDictionary<string, byte[]> files, byte[] whole, Random random)
    {
        if (random.Next(2) == 0)
            return Mutated(whole, random);
        var changed = files.Where(f => f.Key != "checksums.txt").ToDictionary(f => f.Key, f => f.Value);
        var texts = changed.Keys.Where(k => k.EndsWith(".json", StringComparison.Ordinal)).Order(StringComparer.Ordinal).ToList();
        // Documents are what is understood; other files are only held against their checksum.
        var name =
            random.Next(8) == 0
                ? changed.Keys.Order(StringComparer.Ordinal).ElementAt(random.Next(changed.Count))
                : texts[random.Next(texts.Count)];
        changed[name] = Mutated(changed[name], random);
        changed["checksums.txt"] = Encoding.UTF8.GetBytes(
            string.Concat(
                changed
                    .OrderBy(f => f.Key, StringComparer.Ordinal)
                    .Select(f => $"{Convert.ToHexStringLower(SHA256.HashData(f.Value))}  {f.Key}\n")
            )
        );
        using var made = new MemoryStream();
        using (var zip = new ZipArchive(made, ZipArchiveMode.Create, leaveOpen: true))
            foreach (var (path, bytes) in changed)
            {
                using var to = zip.CreateEntry(path, CompressionLevel.NoCompression).Open();
                to.Write(bytes);
            }
        return made.ToArray();
    }

    /// <summary>A folder for thousands of small files: in memory where the machine has such a place.</summary>
    public static string Folder() =>
        Directory
            .CreateDirectory(
                Path.Combine(Directory.Exists("/dev/shm") ? "/dev/shm" : Path.GetTempPath(), "kiln-mutated-" + Guid.NewGuid().ToString("N"))
            )
            .FullName;

    public static Dictionary<string, byte[]> Files(byte[] whole)
    {
        using var zip = new ZipArchive(new MemoryStream(whole));
        return zip
            .Entries.Where(e => e.Name.Length > 0)
            .ToDictionary(
                e => e.FullName,
                e =>
                {
                    using var memory = new MemoryStream();
                    using var from = e.Open();
                    from.CopyTo(memory);
                    return memory.ToArray();
                }
            );
    }
}
