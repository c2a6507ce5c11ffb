using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using Kiln.Looks.Evaluation;

namespace Kiln.Exchange.Packages;

/// <summary>
/// Files as a zip with their checksums.txt (SHA-256, the format sha256sum reads), in the order of their paths: the same files give the same
/// bytes.
/// </summary>
public static class ZippedFiles
{
    private static readonly DateTimeOffset FixedTime = new(1980, 1, 1, 0, 0, 0, TimeSpan.Zero);

    public static void Write(Stream stream, IEnumerable<WrittenFile> files, IContentFiles contents)
    {
        var checksums = new StringBuilder();
        using var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true);
        foreach (var file in files.OrderBy(f => f.Path, StringComparer.Ordinal))
        {
            // Pictures are compressed already; text is not.
            var entry = zip.CreateEntry(file.Path, file.IsPacked ? CompressionLevel.NoCompression : CompressionLevel.Optimal);
            entry.LastWriteTime = FixedTime;
            using var to = entry.Open();
            using var hash = SHA256.Create();
            using (var both = new CryptoStream(to, hash, CryptoStreamMode.Write, leaveOpen: true))
                file.CopyTo(both, contents);
            checksums.Append(Convert.ToHexStringLower(hash.Hash!)).Append("  ").Append(file.Path).Append('\n');
        }
        var last = zip.CreateEntry("checksums.txt");
        last.LastWriteTime = FixedTime;
        using var text = last.Open();
        text.Write(Encoding.UTF8.GetBytes(checksums.ToString()));
    }
}
