using System.Security.Cryptography;
using System.Text;
using Kiln.Server.Platform;

namespace Kiln.Server.Proofs.Thumbnails;

/// <summary>Small pictures kept on disk under the hash of what they show and how; made once, gone at most when the cache is full.</summary>
public sealed class ThumbnailCache
{
    private const int MostFiles = 50_000;

    /// <summary>Raised when the same question is answered by another picture, so that kept ones are made anew.</summary>
    private const int Edition = 4;

    private readonly string root;

    public ThumbnailCache(KilnSettings settings)
    {
        root = Directory.CreateDirectory(Path.Combine(settings.Data, "thumbnails")).FullName;
        var files = new DirectoryInfo(root).GetFiles();
        foreach (var old in files.OrderBy(f => f.LastWriteTimeUtc).Take(Math.Max(0, files.Length - MostFiles)))
            old.Delete();
    }

    private string PathOf(string key) =>
        Path.Combine(root, Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{Edition}/{key}"))));

    /// <summary>The kept picture; null where there is none.</summary>
    public async Task<byte[]?> FindAsync(string key) =>
        PathOf(key) is var path && File.Exists(path) ? await File.ReadAllBytesAsync(path) : null;

    /// <summary>The kept picture, or the one that is made now. A full disk costs the keeping, not the picture.</summary>
    public async Task<byte[]> GetAsync(string key, Func<Task<byte[]>> make)
    {
        if (await FindAsync(key) is { } there)
            return there;
        var path = PathOf(key);
        var bytes = await make();
        try
        {
            var part = $"{path}.{Guid.NewGuid():N}";
            await File.WriteAllBytesAsync(part, bytes);
            File.Move(part, path, overwrite: true);
        }
        catch (IOException)
        {
            // It is made anew next time.
        }
        return bytes;
    }
}
