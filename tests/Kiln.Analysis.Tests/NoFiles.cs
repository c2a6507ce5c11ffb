using Kiln.Dialects.Baking;
using Kiln.Looks.Evaluation;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Analysis.Tests;

/// <summary>For looks of plain values: there is no file, and none may be made.</summary>
internal sealed class NoFiles : IContentFiles, IPictureDecoder, IBakedFiles
{
    public string PathOf(ContentHash content) => throw new ContentMissingException("none");

    public ContentHash Put(byte[] content) => throw new InvalidOperationException("Nothing has to be made of plain values.");

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        throw new PictureException("none");
}
