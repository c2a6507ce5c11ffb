using System.Security.Cryptography;
using Kiln.Dialects.Baking;
using Kiln.Looks.Evaluation;
using Kiln.Pixels;

namespace Kiln.Store.Contents;

/// <summary>
/// Files by the SHA-256 of their content, in a folder: written under a temporary name, flushed, renamed; identical files are stored once.
/// </summary>
public sealed class ContentStore : IContentFiles, IBakedFiles
{
    private readonly string root;

    /// <param name="root">Nothing is touched there until something is written: who only reads leaves no trace.</param>
    public ContentStore(string root) => this.root = root;

    /// <summary>
    /// Removes what a killed server was in the middle of writing. For the server whose store it is, as it starts; another one's files are
    /// in the middle too.
    /// </summary>
    public void ClearLeftovers()
    {
        if (Directory.Exists(root))
            foreach (var left in Directory.GetFiles(root, "*.part"))
                File.Delete(left);
    }

    /// <summary>Whether the content is here.</summary>
    public bool Has(ContentHash content) => File.Exists(Place(content));

    public string PathOf(ContentHash content) =>
        Has(content)
            ? Place(content)
            : throw new ContentMissingException($"The stored content {content.Short} is gone; relink the map or restore a backup.");

    public ContentHash Put(byte[] content)
    {
        var hash = ContentHash.Of(content);
        if (IsWhole(hash, content.LongLength))
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

    /// <summary>
    /// Takes a file on this disk. It is hashed while it is copied, so nothing ever lies under a name that is not its own; a stored file of
    /// another length is put right.
    /// </summary>
    /// <exception cref="InvalidDataException">The file is not what the hash says; nothing was kept.</exception>
    public void Take(string path, ContentHash hash)
    {
        if (IsWhole(hash, new FileInfo(path).Length))
            return;
        Copy(path, hash);
    }

    /// <summary>Puts a true copy in the place of a stored file, whatever lies there.</summary>
    /// <exception cref="InvalidDataException">The copy is not what the hash says.</exception>
    public void Mend(string path, ContentHash hash) => Copy(path, hash);

    private void Copy(string path, ContentHash hash)
    {
        var temporary = Temporary();
        using (var from = File.OpenRead(path))
        using (var to = File.Create(temporary))
        {
            using var running = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            var buffer = new byte[1 << 17];
            for (int read; (read = from.Read(buffer)) > 0; )
            {
                running.AppendData(buffer, 0, read);
                to.Write(buffer, 0, read);
            }
            to.Flush(flushToDisk: true);
            if (ContentHash.Of(running) is var found && found != hash)
            {
                to.Close();
                File.Delete(temporary);
                throw new InvalidDataException($"A file of content {hash.Short} holds something else ({found.Short}); it was not kept.");
            }
        }
        Rename(temporary, hash);
    }

    /// <summary>Whether a stored file is there in its full length.</summary>
    private bool IsWhole(ContentHash hash, long length) => new FileInfo(Place(hash)) is { Exists: true } file && file.Length == length;

    /// <summary>Removes what no row names any more; files younger than the grace are left, their rows may still come.</summary>
    public async Task<int> SweepAsync(Database database, TimeSpan grace, CancellationToken cancel = default)
    {
        await using var connection = await database.OpenAsync(cancel);
        var named = (await connection.QueryAsync<string>("select hash from contents")).ToHashSet();
        var removed = 0;
        foreach (var file in Directory.Exists(root) ? Directory.EnumerateFiles(root, "*", SearchOption.AllDirectories) : [])
            if (!named.Contains(Path.GetFileName(file)) && File.GetLastWriteTimeUtc(file) < DateTime.UtcNow - grace)
            {
                File.Delete(file);
                removed++;
            }
        return removed;
    }

    private string Temporary()
    {
        Directory.CreateDirectory(root);
        return Path.Combine(root, Guid.CreateVersion7().ToString("N") + ".part");
    }

    private void Rename(string temporary, ContentHash hash)
    {
        var place = Place(hash);
        Directory.CreateDirectory(Path.GetDirectoryName(place)!);
        File.Move(temporary, place, overwrite: true);
    }

    private string Place(ContentHash hash) =>
        hash.ToString() is { Length: ContentHash.Digits } digits
            ? Path.Combine(root, digits[..2], digits)
            : throw new ContentMissingException("That is no content hash.");
}
