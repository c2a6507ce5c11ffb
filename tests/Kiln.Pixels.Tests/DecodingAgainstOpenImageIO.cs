using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;
using static Kiln.Pixels.Tests.OpenImageIO;

namespace Kiln.Pixels.Tests;

/// <summary>Files made and read by OpenImageIO 2.4 (Debian's openimageio-tools) against our readers and writers.</summary>
public sealed class DecodingAgainstOpenImageIO : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-pixels-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    [Theory]
    [InlineData("a.png", "uint8", 3, "", 1e-6f)]
    [InlineData("a.png", "uint16", 3, "", 1e-6f)]
    [InlineData("a.png", "uint8", 1, "", 1e-6f)]
    [InlineData("a.png", "uint16", 1, "", 1e-6f)]
    [InlineData("a.png", "uint8", 4, "", 1.1f / 255)]
    [InlineData("a.jpg", "uint8", 3, "", 4.5f / 255)]
    [InlineData("a.tif", "uint8", 3, "lzw", 1e-6f)]
    [InlineData("a.tif", "uint16", 1, "zip", 1e-6f)]
    [InlineData("a.tif", "float", 3, "none", 1e-6f)]
    // Half a step of the shared-exponent mantissa: Radiance's own colr_color takes the middle of the step (m + ½), the reference its lower
    // end.
    [InlineData("a.hdr", "float", 3, "", 0.5f / 128)]
    [InlineData("a.exr", "half", 3, "none", 1e-6f)]
    [InlineData("a.exr", "half", 3, "rle", 1e-6f)]
    [InlineData("a.exr", "half", 3, "zips", 1e-6f)]
    [InlineData("a.exr", "half", 3, "zip", 1e-6f)]
    [InlineData("a.exr", "half", 3, "piz", 1e-6f)]
    [InlineData("a.exr", "float", 1, "zip", 1e-6f)]
    [InlineData("a.exr", "float", 4, "zip", 1e-6f)]
    [InlineData("a.webp", "uint8", 3, "", 1.5f / 255)]
    public void ReadsWhatTheReferenceReads(string name, string type, int channels, string compression, float tolerance)
    {
        var file = Path.Combine(folder, name);
        List<string> arguments =
        [
            "--pattern",
            "fill:topleft=0.1,0.2,0.9,0.4:topright=0.9,0.1,0.3,1:bottomleft=0.5,0.7,0.2,0.8:bottomright=0.05,0.6,0.8,0.6",
            "53x37",
            channels.ToString(),
            "-d",
            type,
        ];
        if (compression.Length > 0)
            arguments.AddRange(["--compression", compression]);
        Run("oiiotool", [.. arguments, "-o", file]);
        PictureFacts facts;
        using (var stream = File.OpenRead(file))
            facts = HeaderReader.Read(stream, DecodeLimits.Default);
        Assert.Equal((53, 37, channels), (facts.Width, facts.Height, facts.Channels.Count));
        if (type != "float" || !name.EndsWith(".hdr", StringComparison.Ordinal))
            Assert.Equal(
                type switch
                {
                    "uint8" => 8,
                    "float" => 32,
                    _ => 16,
                },
                facts.Bits
            );
        var ours = DecodeWorker.InProcess(file, null, DecodeLimits.Default);
        Same(ours, TheirPixels(file), tolerance);
    }

    [Theory]
    [InlineData(SampleType.F16, 1)]
    [InlineData(SampleType.F16, 3)]
    [InlineData(SampleType.F32, 4)]
    public void OurOpenExrIsReadByTheReference(SampleType type, int channels)
    {
        var picture = Random(type, channels);
        var file = Path.Combine(folder, "ours.exr");
        using (var stream = File.Create(file))
            ExrWriter.Write(stream, picture, new(0.713f, 0.293f, 0.165f, 0.830f, 0.128f, 0.044f, 0.32168f, 0.33767f));
        Same(picture, TheirPixels(file), 1e-6f);
        Assert.Contains("chromaticities", Run("exrheader", file));
    }

    [Theory]
    [InlineData(SampleType.U8, 1)]
    [InlineData(SampleType.U8, 4)]
    [InlineData(SampleType.U16, 3)]
    public void OurPngIsReadByTheReference(SampleType type, int channels)
    {
        var picture = Random(type, channels);
        var file = Path.Combine(folder, "ours.png");
        File.WriteAllBytes(file, PictureWriter.Png(picture));
        Same(picture, TheirPixels(file), 1e-6f);
    }

    private static ImageBuffer Random(SampleType type, int channels)
    {
        var picture = new ImageBuffer(41, 35, ImageBuffer.UsualChannels(channels), type);
        var random = new Random(5);
        for (var y = 0; y < picture.Height; y++)
        for (var x = 0; x < picture.Width; x++)
        for (var c = 0; c < channels; c++)
            picture[x, y, c] = type.IsFloat() ? random.NextSingle() * 8 - 1 : random.NextSingle();
        return picture;
    }

    [Theory]
    [InlineData("png")]
    [InlineData("jpg")]
    [InlineData("tif")]
    [InlineData("exr")]
    [InlineData("hdr")]
    [InlineData("webp")]
    public void DamagedHeadersAreSentences(string extension)
    {
        var file = Path.Combine(folder, "good." + extension);
        Run(
            "oiiotool",
            "--pattern",
            "noise",
            "64x48",
            "3",
            "-d",
            extension is "exr" ? "half"
                : extension is "hdr" ? "float"
                : "uint8",
            "-o",
            file
        );
        var good = File.ReadAllBytes(file);
        var random = new Random(1);
        for (var i = 0; i < 4000; i++)
        {
            var bad = good[..(random.Next(3) == 0 ? random.Next(1, good.Length) : good.Length)];
            for (var k = 0; k < random.Next(1, 8); k++)
                bad[random.Next(Math.Min(bad.Length, 400))] = (byte)random.Next(256);
            try
            {
                HeaderReader.Read(new MemoryStream(bad), DecodeLimits.Default);
            }
            catch (PictureException e)
            {
                Assert.NotEmpty(e.Message);
            }
        }
    }
}
