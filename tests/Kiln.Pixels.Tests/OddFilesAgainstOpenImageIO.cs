using System.Buffers.Binary;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Decoding.Workers;
using NetVips;
using static Kiln.Pixels.Tests.OpenImageIO;

namespace Kiln.Pixels.Tests;

/// <summary>
/// The corners of each format's specification: origins, run lengths, tiles, planes, palettes, windows, parts, values that are no numbers.
/// </summary>
public sealed class OddFilesAgainstOpenImageIO : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-odd-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private string Place(string name) => Path.Combine(folder, name);

    private static ImageBuffer Read(string file)
    {
        using (var stream = File.OpenRead(file))
            HeaderReader.Read(stream, DecodeLimits.Default);
        return DecodeWorker.InProcess(file, null, DecodeLimits.Default);
    }

    private string Made(string name, params string[] options)
    {
        var file = Place(name);
        Run(
            "oiiotool",
            [
                "--pattern",
                "fill:topleft=0.1,0.2,0.9,0.4:topright=0.9,0.1,0.3,1:bottomleft=0.5,0.7,0.2,0.8:bottomright=0.05,0.6,0.8,0.6",
                "77x53",
                .. options,
                "-o",
                file,
            ]
        );
        return file;
    }

    /// <summary>Every row filter of ISO/IEC 15948 clause 9, at widths below, at and above what vectors take at a time.</summary>
    [Theory]
    [InlineData(Enums.ForeignPngFilter.None)]
    [InlineData(Enums.ForeignPngFilter.Sub)]
    [InlineData(Enums.ForeignPngFilter.Up)]
    [InlineData(Enums.ForeignPngFilter.Avg)]
    [InlineData(Enums.ForeignPngFilter.Paeth)]
    [InlineData(Enums.ForeignPngFilter.All)]
    public void PngRowFilters(Enums.ForeignPngFilter filter)
    {
        var random = new Random((int)filter);
        var files = new List<string>();
        foreach (
            var (bands, format) in new[]
            {
                (1, Enums.BandFormat.Uchar),
                (2, Enums.BandFormat.Uchar),
                (3, Enums.BandFormat.Uchar),
                (4, Enums.BandFormat.Uchar),
                (1, Enums.BandFormat.Ushort),
                (3, Enums.BandFormat.Ushort),
                (4, Enums.BandFormat.Ushort),
            }
        )
        foreach (var width in new[] { 1, 2, 3, 9, 61 })
        {
            var file = Place($"{bands}{format}{width}.png");
            var bytes = new byte[width * 5 * bands * (format == Enums.BandFormat.Ushort ? 2 : 1)];
            // Slopes with noise, so that each neighbour is the nearest somewhere.
            for (var i = 0; i < bytes.Length; i++)
                bytes[i] = (byte)(i * 3 + random.Next(24));
            using (var picture = Image.NewFromMemory(bytes, width, 5, bands, format))
            using (
                var tagged = picture.Copy(
                    interpretation: (bands, format) switch
                    {
                        (<= 2, Enums.BandFormat.Uchar) => Enums.Interpretation.Bw,
                        (_, Enums.BandFormat.Uchar) => Enums.Interpretation.Srgb,
                        (<= 2, _) => Enums.Interpretation.Grey16,
                        _ => Enums.Interpretation.Rgb16,
                    }
                )
            )
                tagged.Pngsave(file, filter: filter);
            files.Add(file);
        }
        foreach (var (file, theirs) in files.Zip(TheirPixels(files)))
            Same(Read(file), theirs, 1e-6f);
    }

    [Theory]
    [InlineData("3", "none")]
    [InlineData("3", "rle")]
    [InlineData("4", "rle")]
    [InlineData("1", "rle")]
    public void TgaOfTheReference(string channels, string compression)
    {
        var file = Made("a.tga", channels, "-d", "uint8", "--compression", compression);
        Same(Read(file), TheirPixels(file), 1e-6f);
    }

    [Theory]
    [InlineData(2, 24, 0x00)]
    [InlineData(2, 24, 0x20)]
    [InlineData(10, 32, 0x28)]
    [InlineData(10, 24, 0x00)]
    [InlineData(2, 16, 0x01)]
    [InlineData(11, 8, 0x20)]
    [InlineData(1, 8, 0x00)]
    [InlineData(9, 8, 0x20)]
    public void TgaOfOurOwnMaking(int kind, int bits, int descriptor)
    {
        const int width = 23,
            height = 17;
        var random = new Random(kind + bits + descriptor);
        var bytes = new List<byte>
        {
            5,
            (byte)((kind & 3) == 1 ? 1 : 0),
            (byte)kind,
            0,
            0,
            0,
            (byte)((kind & 3) == 1 ? 1 : 0),
            (byte)((kind & 3) == 1 ? 24 : 0),
            0,
            0,
            0,
            0,
            width,
            0,
            height,
            0,
            (byte)bits,
            (byte)descriptor,
        };
        bytes.AddRange("ident"u8.ToArray());
        if ((kind & 3) == 1)
            bytes.AddRange(Enumerable.Range(0, 256 * 3).Select(_ => (byte)random.Next(256)));
        for (var done = 0; done < width * height; )
        {
            byte[] Pixel() => [.. Enumerable.Range(0, bits / 8).Select(_ => (byte)random.Next(256))];
            if (kind < 8)
            {
                bytes.AddRange(Pixel());
                done++;
                continue;
            }
            // Packets stay within their line, as the specification asks.
            var count = Math.Min(random.Next(1, 20), width - done % width);
            var run = random.Next(2) == 0;
            bytes.Add((byte)((run ? 128 : 0) | count - 1));
            for (var k = 0; k < (run ? 1 : count); k++)
                bytes.AddRange(Pixel());
            done += count;
        }
        var file = Place("own.tga");
        File.WriteAllBytes(file, [.. bytes]);
        Same(Read(file), TheirPixels(file), bits == 16 ? 1.01f / 255 : 1e-6f);
    }

    [Theory]
    [InlineData("--tile", "32", "32")]
    [InlineData("--planarconfig", "separate", "--compression", "lzw")]
    public void TiffTiledAndInPlanes(params string[] options)
    {
        foreach (var type in new[] { "uint8", "uint16", "float" })
        {
            var file = Made($"a-{type}.tif", ["3", "-d", type, .. options]);
            Same(Read(file), TheirPixels(file), 1e-6f);
        }
    }

    [Theory]
    [InlineData("half", "--tile", "16", "16", "--compression", "zip")]
    [InlineData("float", "--tile", "16", "16", "--compression", "piz")]
    [InlineData("half", "--compression", "pxr24")]
    [InlineData("float", "--compression", "pxr24")]
    [InlineData("half", "--compression", "b44")]
    [InlineData("half", "--compression", "b44a")]
    [InlineData("half", "--compression", "dwaa")]
    [InlineData("half", "--compression", "dwab")]
    [InlineData("half", "--origin", "+7-5", "--compression", "zip")]
    public void OpenExrInAllItsForms(string type, params string[] options)
    {
        var file = Made("a.exr", ["3", "-d", type, .. options]);
        Same(Read(file), TheirPixels(file), 1e-6f);
    }

    [Fact]
    public void TheFirstOfSeveralOpenExrPartsIsRead()
    {
        string one = Made("one.exr", "3", "-d", "half"),
            two = Place("two.exr"),
            both = Place("both.exr");
        Run("oiiotool", "--pattern", "constant:color=0.25", "77x53", "1", "-d", "float", "-o", two);
        Run("oiiotool", one, two, "--siappend", "-o", both);
        Same(Read(both), TheirPixels(both), 1e-6f);
    }

    [Fact]
    public void DeepOpenExrIsRefused()
    {
        // The bit of the version field that says deep (OpenEXR file layout, "Version Field"); neither tool here writes such files.
        var deep = Made("flat.exr", "4", "-d", "half");
        var bytes = File.ReadAllBytes(deep);
        bytes[5] |= 0x08;
        File.WriteAllBytes(deep, bytes);
        Assert.Contains("deep data", Assert.Throws<PictureException>(() => Read(deep)).Message);
    }

    [Fact]
    public void ChromaticitiesAreAmongTheFacts()
    {
        var file = Made(
            "p3.exr",
            "3",
            "-d",
            "half",
            "--attrib:type=float[8]",
            "chromaticities",
            "0.68,0.32,0.265,0.69,0.15,0.06,0.3127,0.329"
        );
        using var stream = File.OpenRead(file);
        Assert.Equal(
            "chromaticities 0.68 0.32 0.265 0.69 0.15 0.06 0.3127 0.329",
            HeaderReader.Read(stream, DecodeLimits.Default).EmbeddedColour
        );
        // The tools of OpenEXR read the same attribute.
        Assert.Matches(@"chromaticities", Run("exrheader", file));
    }

    [Fact]
    public void ValuesThatAreNoNumbersAreMendedAndCounted()
    {
        var picture = new ImageBuffer(32, 32, ImageBuffer.Rgb, SampleType.F32);
        picture[3, 4, 0] = float.NaN;
        picture[5, 6, 1] = float.PositiveInfinity;
        picture[7, 8, 2] = float.NegativeInfinity;
        var file = Place("nan.exr");
        using (var stream = File.Create(file))
            Writing.ExrWriter.Write(stream, picture, null);
        var (read, probe) = DecodeWorker.Examine(file, null, DecodeLimits.Default);
        Assert.Equal(3, probe.NotFinite);
        Assert.Equal((0f, 65504f, -65504f), (read[3, 4, 0], read[5, 6, 1], read[7, 8, 2]));
        // Shrunk copies must not carry the fault to their neighbours.
        var (small, _) = DecodeWorker.Examine(file, 8, DecodeLimits.Default);
        Assert.All(small.Samples<float>().ToArray(), v => Assert.True(float.IsFinite(v)));
    }

    [Fact]
    public void PngInterlacedPaletteAndGreyWithAlpha()
    {
        using var noise = Image.NewFromMemory(
            Enumerable.Range(0, 60 * 40 * 3).Select(i => (byte)(i * 7 % 251)).ToArray(),
            60,
            40,
            3,
            Enums.BandFormat.Uchar
        );
        using var rgb = noise.Copy(interpretation: Enums.Interpretation.Srgb);
        rgb.Pngsave(Place("i.png"), interlace: true);
        Same(Read(Place("i.png")), TheirPixels(Place("i.png")), 1e-6f);
        using var few = (rgb / 64).Cast(Enums.BandFormat.Uchar) * 60;
        using var flat = few.Cast(Enums.BandFormat.Uchar).Copy(interpretation: Enums.Interpretation.Srgb);
        flat.Pngsave(Place("p.png"), palette: true, dither: 0);
        Same(Read(Place("p.png")), TheirPixels(Place("p.png")), 1e-6f);
        using var two = noise.ExtractBand(0, n: 2).Copy(interpretation: Enums.Interpretation.Bw);
        two.Pngsave(Place("ga.png"));
        var grey = Read(Place("ga.png"));
        Assert.Equal("Y A", string.Join(' ', grey.Channels));
        Same(grey, TheirPixels(Place("ga.png")), 1.5f / 255);
    }

    [Fact]
    public void JpegProgressiveAndCmyk()
    {
        using var ramp = Image.Xyz(64, 48);
        using var four =
            ramp.ExtractBand(0).Bandjoin([ramp.ExtractBand(1), ramp.ExtractBand(0) + ramp.ExtractBand(1), ramp.ExtractBand(0) * 0 + 20])
            * 2;
        using var bytes = four.Cast(Enums.BandFormat.Uchar);
        using var rgb = bytes.ExtractBand(0, n: 3).Copy(interpretation: Enums.Interpretation.Srgb);
        rgb.Jpegsave(Place("p.jpg"), q: 92, interlace: true);
        Same(Read(Place("p.jpg")), TheirPixels(Place("p.jpg")), 4.5f / 255);
        using var cmyk = bytes.Copy(interpretation: Enums.Interpretation.Cmyk);
        cmyk.Jpegsave(Place("c.jpg"), q: 95);
        Same(Read(Place("c.jpg")), TheirPixels(Place("c.jpg")), 4.5f / 255);
    }

    [Fact]
    public void CmykTiffIsRefusedInWords()
    {
        using var four = Image.Black(16, 16, bands: 4).Cast(Enums.BandFormat.Uchar).Copy(interpretation: Enums.Interpretation.Cmyk);
        four.Tiffsave(Place("c.tif"));
        Assert.Contains("CMYK", Assert.Throws<PictureException>(() => Read(Place("c.tif"))).Message);
    }

    [Fact]
    public void SixteenBitFilesWithEightBitContentAreTold()
    {
        var honest = new ImageBuffer(64, 64, ImageBuffer.Grey, SampleType.U16);
        var poor = new ImageBuffer(64, 64, ImageBuffer.Grey, SampleType.U16);
        var random = new Random(2);
        for (var i = 0; i < 64 * 64; i++)
        {
            honest.Samples<ushort>()[i] = (ushort)random.Next(65536);
            poor.Samples<ushort>()[i] = (ushort)(random.Next(256) * 257);
        }
        Assert.False(PictureProbe.Measure(honest).EightBitContent);
        Assert.True(PictureProbe.Measure(poor).EightBitContent);
    }

    [Fact]
    public void AClaimOfSixtyThousandPixelsIsRefusedBeforeAnyIsAllocated()
    {
        var tga = new byte[64];
        (tga[2], tga[16]) = (2, 24);
        BinaryPrimitives.WriteUInt16LittleEndian(tga.AsSpan(12), 60000);
        BinaryPrimitives.WriteUInt16LittleEndian(tga.AsSpan(14), 60000);
        File.WriteAllBytes(Place("big.tga"), tga);
        Assert.Contains("60000", Assert.Throws<PictureException>(() => Read(Place("big.tga"))).Message);
    }

    /// <summary>
    /// TIFF 6.0 lets a list of values lie anywhere: here the bits of each sample stand before the pixels and the directory after them, near
    /// and far.
    /// </summary>
    [Theory]
    [InlineData(8, 8, true)]
    [InlineData(8, 300, false)]
    [InlineData(16, 8, false)]
    [InlineData(16, 300, true)]
    public void TiffListsBeforeTheirDirectory(ushort bits, int side, bool little)
    {
        using var memory = new MemoryStream();
        void Put(uint value, int bytes)
        {
            for (var i = 0; i < bytes; i++)
                memory.WriteByte((byte)(value >> (8 * (little ? i : bytes - 1 - i))));
        }
        var data = side * side * 3 * bits / 8;
        memory.Write(little ? "II"u8 : "MM"u8);
        Put(42, 2);
        Put((uint)(14 + data), 4);
        for (var i = 0; i < 3; i++)
            Put(bits, 2);
        for (var i = 0; i < data * 8 / bits; i++)
            Put((uint)(i * 37 % 251), bits / 8);
        (uint Tag, uint Type, uint Count, uint Value)[] entries =
        [
            (256, 4, 1, (uint)side),
            (257, 4, 1, (uint)side),
            (258, 3, 3, 8),
            (259, 3, 1, 1),
            (262, 3, 1, 2),
            (273, 4, 1, 14),
            (277, 3, 1, 3),
            (278, 4, 1, (uint)side),
            (279, 4, 1, (uint)data),
        ];
        Put((uint)entries.Length, 2);
        foreach (var (tag, type, count, value) in entries)
        {
            Put(tag, 2);
            Put(type, 2);
            Put(count, 4);
            var width = type == 3 && count == 1 ? 2 : 4;
            Put(value, width);
            Put(0, 4 - width);
        }
        Put(0, 4);
        var file = Place($"{bits} {side} {little}.tif");
        File.WriteAllBytes(file, memory.ToArray());
        using (var stream = File.OpenRead(file))
            Assert.Equal(bits, HeaderReader.Read(stream, DecodeLimits.Default).Bits);
        var picture = Read(file);
        Assert.Equal(bits == 8 ? SampleType.U8 : SampleType.U16, picture.Type);
        var theirs = TheirPixels(file);
        for (var i = 0; i < theirs.Length; i++)
            Assert.Equal(theirs[i], picture[i / 3 % side, i / 3 / side, i % 3], 1e-6f);
    }
}
