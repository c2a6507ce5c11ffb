using Kiln.Looks.Evaluation;
using Kiln.Pixels;

namespace Kiln.Exchange.Packages;

/// <summary>
/// A file to be written: its relative path, and its bytes, the stored content they are copied from, or what makes them as they are written.
/// </summary>
public sealed record WrittenFile(string Path, byte[]? Bytes, ContentHash? Content, Action<Stream>? Make = null)
{
    /// <summary>Whether its content is packed already, so that a zip should leave it as it is.</summary>
    public bool IsPacked =>
        Content is not null
        || Make is not null
        || Path.EndsWith(".glb", StringComparison.Ordinal)
        || Path.EndsWith(".usdz", StringComparison.Ordinal)
        || Path.EndsWith(".jpg", StringComparison.Ordinal);

    /// <exception cref="ContentMissingException">The content it is copied from is gone.</exception>
    public void CopyTo(Stream to, IContentFiles contents)
    {
        if (Bytes is not null)
        {
            to.Write(Bytes);
            return;
        }
        if (Make is not null)
        {
            Make(to);
            return;
        }
        using var from = File.OpenRead(contents.PathOf(Content!.Value));
        from.CopyTo(to);
    }
}
