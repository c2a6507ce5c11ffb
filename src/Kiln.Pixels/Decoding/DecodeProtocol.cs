using System.Text.Json;
using System.Text.Json.Serialization;

namespace Kiln.Pixels.Decoding;

/// <summary>One line of JSON each way; after an answer that is ok, the samples follow as raw bytes.</summary>
internal sealed record DecodeRequest(string Path, int? Longest, DecodeLimits Limits);

internal sealed record DecodeAnswer(string? Error, int Width, int Height, string[] Channels, SampleType Type, int Bytes);

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
                picture = InProcess(request.Path, request.Longest, request.Limits);
                answer = new(null, picture.Width, picture.Height, [.. picture.Channels], picture.Type, picture.Data.Length);
            }
            catch (Exception e) when (e is PictureException or IOException or UnauthorizedAccessException or OutOfMemoryException)
            {
                answer = new(e is OutOfMemoryException ? "The picture needs more memory than a decoder may use." : e.Message, 0, 0, [], default, 0);
            }
            output.Write(JsonSerializer.SerializeToUtf8Bytes(answer, DecodeJson.Default.DecodeAnswer));
            output.WriteByte((byte)'\n');
            if (picture is not null)
                output.Write(picture.Data);
            output.Flush();
        }
        return 0;
    }

    /// <summary>Decodes in the calling process. For the worker and for tests of the decoders; everything else asks a <see cref="DecodeWorkerPool"/>.</summary>
    public static ImageBuffer InProcess(string path, int? longest, DecodeLimits limits)
    {
        PictureFacts facts;
        using (var stream = File.OpenRead(path))
            facts = HeaderReader.Read(stream, limits);
        if (facts.Format != PictureFormat.OpenExr)
            return VipsReader.Read(path, facts, longest);
        var full = OpenExrReader.Read(path, facts, limits);
        return longest is { } l ? Resample.ToFit(full, l) : full;
    }
}
