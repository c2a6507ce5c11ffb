using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;

namespace Kiln.Store.Archives;

/// <summary>A zip that knows the SHA-256 of all its entries. They have one fixed time, so that equal ones are equal bytes.</summary>
internal sealed class SummedZip(Stream stream) : IDisposable
{
    private static readonly DateTimeOffset FixedTime = new(1980, 1, 1, 0, 0, 0, TimeSpan.Zero);

    private readonly ZipArchive zip = new(stream, ZipArchiveMode.Create, leaveOpen: true);
    private readonly SortedDictionary<string, string> sums = new(StringComparer.Ordinal);

    public void Add(string path, byte[] bytes)
    {
        using var to = Entry(path, CompressionLevel.Optimal);
        to.Write(bytes);
        sums[path] = Convert.ToHexStringLower(SHA256.HashData(bytes));
    }

    /// <summary>Pictures are compressed already: stored as they are.</summary>
    public async Task AddFileAsync(string path, string file)
    {
        await using var to = Entry(path, CompressionLevel.NoCompression);
        await using var from = File.OpenRead(file);
        using var hash = SHA256.Create();
        await using (var both = new CryptoStream(to, hash, CryptoStreamMode.Write, leaveOpen: true))
            await from.CopyToAsync(both);
        sums[path] = Convert.ToHexStringLower(hash.Hash!);
    }

    /// <summary>The checksums of all that was added, in the form that sha256sum reads; the last entry.</summary>
    public void AddSums(string path)
    {
        using var last = Entry(path, CompressionLevel.Optimal);
        last.Write(Encoding.UTF8.GetBytes(string.Concat(sums.Select(s => $"{s.Value}  {s.Key}\n"))));
    }

    public void Dispose() => zip.Dispose();

    private Stream Entry(string path, CompressionLevel level)
    {
        var entry = zip.CreateEntry(path, level);
        entry.LastWriteTime = FixedTime;
        return entry.Open();
    }
}
