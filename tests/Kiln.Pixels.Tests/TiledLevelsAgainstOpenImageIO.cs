using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;
using static Kiln.Pixels.Tests.OpenImageIO;

namespace Kiln.Pixels.Tests;

/// <summary>
/// Pictures in tiles with all their levels, against what OpenImageIO 2.4's own texture tool (maketx) makes of the same file, read back by
/// OpenImageIO.
/// </summary>
public sealed class TiledLevelsAgainstOpenImageIO : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-tiled-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    [Theory]
    [InlineData(SampleType.U8, 3, 256, 128)]
    [InlineData(SampleType.U8, 1, 64, 64)]
    [InlineData(SampleType.U8, 4, 100, 70)]
    [InlineData(SampleType.U16, 1, 128, 256)]
    [InlineData(SampleType.U16, 3, 300, 129)]
    [InlineData(SampleType.F16, 3, 256, 128)]
    [InlineData(SampleType.F32, 1, 130, 65)]
    public void EveryLevelIsWhatTheTextureToolMakes(SampleType type, int channels, int width, int height)
    {
        var isFloat = type.IsFloat();
        var picture = new ImageBuffer(width, height, ImageBuffer.UsualChannels(channels), type);
        for (var y = 0; y < height; y++)
        for (var x = 0; x < width; x++)
        for (var c = 0; c < channels; c++)
            picture[x, y, c] = 0.5f + 0.25f * MathF.Sin(0.7f * x + c) + 0.25f * MathF.Sin(1.3f * y - c);
        var (source, ours, theirs) = (
            Path.Combine(folder, isFloat ? "s.exr" : "s.png"),
            Path.Combine(folder, isFloat ? "o.exr" : "o.tif"),
            Path.Combine(folder, isFloat ? "t.exr" : "t.tif")
        );
        using (var stream = File.Create(ours))
            if (isFloat)
                ExrWriter.WriteTiled(stream, picture);
            else
                TiledTiffWriter.Write(stream, picture);
        using (var stream = File.Create(source))
            if (isFloat)
                ExrWriter.Write(stream, picture);
            else
                stream.Write(PictureWriter.Png(picture));
        Run(
            "maketx",
            source,
            "--unpremult",
            "--wrap",
            "periodic",
            "-d",
            type switch
            {
                SampleType.U8 => "uint8",
                SampleType.U16 => "uint16",
                SampleType.F16 => "half",
                _ => "float",
            },
            "-o",
            theirs
        );
        var read = Levels(ours);
        var expected = Levels(theirs);
        Assert.Equal((int)Math.Floor(Math.Log2(Math.Max(width, height))) + 1, read.Count);
        if ((width & (width - 1)) == 0 && (height & (height - 1)) == 0)
        {
            Assert.Equal(expected.Select(l => l.Split(' ')[0]), read.Select(l => l.Split(' ')[0]));
            var tolerance = type switch
            {
                SampleType.U8 => 1.01f / 255,
                SampleType.U16 => 1.5f / 65535,
                SampleType.F16 => 1e-3f,
                _ => 1e-5f,
            };
            for (var level = 0; level < read.Count; level++)
                Assert.All(Numbers(read[level]).Zip(Numbers(expected[level])), p =>
                    Assert.InRange(p.First - p.Second, -tolerance, tolerance)
                );
        }
        else
        {
            // The tool filters other sizes with a wider kernel; the mean of each level stays what it was.
            var mean = Numbers(read[0]).Average();
            Assert.All(read, l => Assert.Equal(mean, Numbers(l).Average(), 2f / 255 + 1e-4f));
        }
        Same(DecodeWorker.InProcess(ours, null, DecodeLimits.Default), [.. Numbers(read[0])], isFloat ? 1e-6f : 1e-5f);
    }

    [Fact]
    public void ATextureSystemTakesTheFileAsATexture()
    {
        var picture = new ImageBuffer(256, 256, ImageBuffer.Rgb, SampleType.U8);
        var file = Path.Combine(folder, "a.tif");
        using (var stream = File.Create(file))
            TiledTiffWriter.Write(stream, picture);
        var told = Run("oiiotool", "--info", "-v", file);
        Assert.Contains("MIP-map levels: 256x256 128x128 64x64 32x32 16x16 8x8 4x4 2x2 1x1", told, StringComparison.Ordinal);
        Assert.Contains("tile size: 64 x 64", told, StringComparison.Ordinal);
        Assert.Contains("textureformat: \"Plain Texture\"", told, StringComparison.Ordinal);
        Assert.Contains("wrapmodes: \"periodic,periodic\"", told, StringComparison.Ordinal);
        var again = new MemoryStream();
        TiledTiffWriter.Write(again, picture);
        Assert.Equal(File.ReadAllBytes(file), again.ToArray());
    }

    /// <summary>"WxH v v v …" for each level.</summary>
    private static List<string> Levels(string file) =>
        [
            .. Run(
                    "/usr/bin/python3",
                    "-c",
                    """
                    import sys, OpenImageIO as o
                    c=o.ImageSpec(); c.attribute('oiio:UnassociatedAlpha',1)
                    i=o.ImageInput.open(sys.argv[1], c)
                    m=0
                    while i.seek_subimage(0,m):
                        s=i.spec(); p=i.read_image(0,m,0,s.nchannels,o.FLOAT)
                        print(f'{s.width}x{s.height}', *p.reshape(-1))
                        m+=1
                    """,
                    file
                )
                .Split('\n', StringSplitOptions.RemoveEmptyEntries),
        ];

    private static IEnumerable<float> Numbers(string level) => level.Split(' ').Skip(1).Select(float.Parse);
}
