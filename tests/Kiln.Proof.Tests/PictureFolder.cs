using Kiln.Looks.Evaluation;
using Kiln.Looks.Maps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;

namespace Kiln.Proof.Tests;

/// <summary>A folder of pictures by name, decoded in this process; gone afterwards.</summary>
internal sealed class PictureFolder : IContentFiles, IPictureDecoder, IDisposable
{
    public PictureFolder() => Textures = new(this, this);

    public string Path { get; } = Directory.CreateTempSubdirectory("kiln-pictures-").FullName;

    public MapTextures Textures { get; }

    public string PathOf(ContentHash content) => System.IO.Path.Combine(Path, content.ToString());

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        Task.FromResult(DecodeWorker.InProcess(path, longest, DecodeLimits.Default));

    /// <summary>Stores a picture as PNG; two of one name are the same.</summary>
    public MapFile Store(string name, ImageBuffer picture)
    {
        var bytes = PictureWriter.Png(picture);
        var content = Hashes.Named(name);
        File.WriteAllBytes(PathOf(content), bytes);
        using var stream = new MemoryStream(bytes);
        return MapFile.Of(content, name, HeaderReader.Read(stream, DecodeLimits.Default));
    }

    public void Dispose() => Directory.Delete(Path, recursive: true);
}
