using System.Security.Cryptography;
using Dapper;
using Kiln.Dialects.Baking;
using Kiln.Looks.Evaluation;

namespace Kiln.Store;

/// <summary>Files by the SHA-256 of their content, in a folder: written under a temporary name, flushed, renamed; identical files are stored once.</summary>
public sealed class ContentStore : IContentFiles, IBakedFiles
{
    private readonly string root;

    public ContentStore(string root)
    {
        this.root = root;
        Directory.CreateDirectory(root);
        foreach (var left in Directory.GetFiles(root, "*.part"))
            File.Delete(left);
    }

    /// <summary>Whether the content is here.</summary>
    public bool Has(string content) => File.Exists(Place(content));

    public string PathOf(string content) => Has(content) ? Place(content) : throw new FileNotFoundException($"The stored content {Short(content)} is gone; relink the map or restore a backup.");

    public string Put(byte[] content)
    {
        var hash = Convert.ToHexStringLower(SHA256.HashData(content));
        if (Has(hash))
            return hash;
        var temporary = Temporary();
        using (var file = File.Create(temporary))
        {
            file.Write(content);
            file.Flush(flushToDisk: true);
        }
        Rename(temporary, hash);
        return hash;
    }

    /// <summary>Takes a file on this disk whose hash is known already.</summary>
    public void Take(string path, string hash)
    {
        if (Has(hash))
            return;
        var temporary = Temporary();
        using (var from = File.OpenRead(path))
        using (var to = File.Create(temporary))
        {
            from.CopyTo(to);
            to.Flush(flushToDisk: true);
        }
        Rename(temporary, hash);
    }

    /// <summary>Removes what no row names any more; files younger than the grace are left, their rows may still come.</summary>
    public async Task<int> SweepAsync(Database database, TimeSpan grace, CancellationToken cancel = default)
    {
        await using var connection = await database.OpenAsync(cancel);
        var named = (await connection.QueryAsync<string>("select hash from contents")).ToHashSet();
        var removed = 0;
        foreach (var file in Directory.EnumerateFiles(root, "*", SearchOption.AllDirectories))
            if (!named.Contains(Path.GetFileName(file)) && File.GetLastWriteTimeUtc(file) < DateTime.UtcNow - grace)
            {
                File.Delete(file);
                removed++;
            }
        return removed;
    }

    private string Temporary() => Path.Combine(root, Guid.CreateVersion7().ToString("N") + ".part");

    private void Rename(string temporary, string hash)
    {
        var place = Place(hash);
        Directory.CreateDirectory(Path.GetDirectoryName(place)!);
        File.Move(temporary, place, overwrite: true);
    }

    private string Place(string hash) => hash.Length == 64 && hash.All(char.IsAsciiHexDigitLower)
        ? Path.Combine(root, hash[..2], hash)
        : throw new FileNotFoundException("That is no content hash.");

    private static string Short(string hash) => hash.Length > 12 ? hash[..12] : hash;
}
