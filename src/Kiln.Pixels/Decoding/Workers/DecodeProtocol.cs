using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Pixels.Decoding.Headers;

namespace Kiln.Pixels.Decoding.Workers;

/// <summary>A line of JSON asks; the answer is its length in four bytes, JSON, and, where it is ok, the samples as raw bytes.</summary>
internal sealed record DecodeRequest(string Path, int? Longest, DecodeLimits Limits);

internal sealed record DecodeAnswer(
    string? Error,
    int Width,
    int Height,
    string[] Channels,
    SampleType Type,
    int Bytes,
    PictureProbe? Probe = null
);

[JsonSerializable(typeof(DecodeRequest))]
[JsonSerializable(typeof(DecodeAnswer))]
internal sealed partial class DecodeJson : JsonSerializerContext;

/// <summary>The body of the child process: answers requests until its input ends.</summary>
public static class DecodeWorker
{
    public static int Run(Stream input, Stream output)
    {
        using var reader = new StreamReader(input);
        while (reader.ReadLine() is { } line)
        {
            var request = JsonSerializer.Deserialize(line, DecodeJson.Default.DecodeRequest)!;
            ImageBuffer? picture = null;
            DecodeAnswer answer;
            try
            {
                (picture, var probe) = Examine(request.Path, request.Longest, request.Limits);
                answer = new(null, picture.Width, picture.Height, [.. picture.Channels], picture.Type, picture.Data.Length, probe);
            }
            catch (Exception e) when (e is PictureException or IOException or UnauthorizedAccessException or OutOfMemoryException)
            {
                answer = new(
                    e is OutOfMemoryException ? "The picture needs more memory than a decoder may use." : e.Message,
                    0,
                    0,
                    [],
                    default,
                    0
                );
            }
            var json = JsonSerializer.SerializeToUtf8Bytes(answer, DecodeJson.Default.DecodeAnswer);
            output.Write(BitConverter.GetBytes(json.Length));
            output.Write(json);
            if (picture is not null)
                output.Write(picture.Data);
            output.Flush();
        }
        return 0;
    }

    /// <summary>
    /// Decodes in the calling process. For the worker and for tests of the decoders; everything else asks a <see cref="DecodeWorkerPool"/>.
    /// </summary>
    public static ImageBuffer InProcess(string path, int? longest, DecodeLimits limits) => Examine(path, longest, limits).Picture;

    /// <summary>
    /// The picture, shrunk if asked for, and what its full size tells. Values that are not finite are mended before anything is averaged.
    /// </summary>
    public static (ImageBuffer Picture, PictureProbe Probe) Examine(string path, int? longest, DecodeLimits limits)
    {
        PictureFacts facts;
        using (var stream = File.OpenRead(path))
            facts = HeaderReader.Read(stream, limits);
        var full = PictureFormats.Of(facts.Format)!.Pixels(new(path, facts, limits, longest));
        var probe = PictureProbe.Measure(full);
        return (longest is { } l && Math.Max(full.Width, full.Height) > l ? Resample.ToFit(full, l, full.Type) : full, probe);
    }
}
