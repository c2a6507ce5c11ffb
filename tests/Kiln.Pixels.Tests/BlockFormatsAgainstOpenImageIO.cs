using System.Buffers.Binary;
using System.Text;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Decoding.Workers;
using static Kiln.Pixels.Tests.OpenImageIO;

namespace Kiln.Pixels.Tests;

/// <summary>Random blocks under our own DDS header, and uncompressed pixels, read by us and by OpenImageIO 2.4's reader.</summary>
public sealed class BlockFormatsAgainstOpenImageIO : IDisposable
{
    private const int Width = 64,
        Height = 64;

    private readonly string folder = Directory.CreateTempSubdirectory("kiln-dds-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private static byte[] Header(int width, int height, string code, uint dxgi = 0, int bits = 0, uint flags = 4, params uint[] masks)
    {
        var h = new byte[code == "DX10" ? 148 : 128];
        void Put(int at, uint v) => BinaryPrimitives.WriteUInt32LittleEndian(h.AsSpan(at), v);
        Encoding.ASCII.GetBytes("DDS ").CopyTo(h, 0);
        Put(4, 124);
        Put(8, 0x1007);
        Put(12, (uint)height);
        Put(16, (uint)width);
        Put(76, 32);
        Put(80, flags);
        Encoding.ASCII.GetBytes(code).CopyTo(h, 84);
        Put(88, (uint)bits);
        for (var i = 0; i < masks.Length; i++)
            Put(92 + 4 * i, masks[i]);
        Put(108, 0x1000);
        if (code == "DX10")
        {
            Put(128, dxgi);
            Put(132, 3);
            Put(140, 1);
        }
        return h;
    }

    private static ImageBuffer Read(string file)
    {
        using (var stream = File.OpenRead(file))
            HeaderReader.Read(stream, DecodeLimits.Default);
        return DecodeWorker.InProcess(file, null, DecodeLimits.Default);
    }

    /// <summary>
    /// One code of 255 where fractions are rounded: the specification leaves that to the decoder. Eight-bit results of BC7 and half bits of
    /// BC6H are exact.
    /// </summary>
    [Theory]
    [InlineData("DXT1", 0u, 8, 1.01f / 255)]
    [InlineData("DXT3", 0u, 16, 1.01f / 255)]
    [InlineData("DXT5", 0u, 16, 1.01f / 255)]
    [InlineData("ATI1", 0u, 8, 1.01f / 255)]
    [InlineData("ATI2", 0u, 16, 1.01f / 255)]
    [InlineData("DX10", 80u, 8, 1.01f / 255)]
    [InlineData("DX10", 83u, 16, 1.01f / 255)]
    [InlineData("DX10", 95u, 16, 1e-6f)]
    [InlineData("DX10", 96u, 16, 1e-6f)]
    [InlineData("DX10", 98u, 16, 1e-6f)]
    public void RandomBlocksAreDecodedAlike(string code, uint dxgi, int blockBytes, float tolerance)
    {
        for (var seed = 0; seed < 4; seed++)
        {
            var random = new Random(seed);
            var blocks = new byte[Width / 4 * (Height / 4) * blockBytes];
            random.NextBytes(blocks);
            // All modes of BC7 and BC6H come about equally often.
            for (var at = 0; dxgi is 95 or 96 or 98 && at < blocks.Length; at += blockBytes)
                blocks[at] =
                    dxgi == 98
                        ? (byte)(blocks[at] & ~((1 << (at / 16 % 8 + 1)) - 1) | 1 << at / 16 % 8)
                        : (byte)(
                            blocks[at] & 0xe0
                            | new[] { 0, 1, 2, 6, 10, 14, 18, 22, 26, 30, 3, 7, 11, 15 }[at / 16 % 14]
                            | (at / 16 % 14 < 2 ? blocks[at] & 0x1c : 0)
                        );
            var file = Path.Combine(folder, $"{code}{dxgi}-{seed}.dds");
            File.WriteAllBytes(file, [.. Header(Width, Height, code, dxgi), .. blocks]);
            var ours = Read(file);
            var theirs = TheirPixels(file);
            // Halves at the ends of their range: what is not finite is mended by us.
            for (var i = 0; i < theirs.Length; i++)
                if (!float.IsFinite(theirs[i]))
                    theirs[i] = float.IsNaN(theirs[i]) ? 0 : MathF.CopySign(65504, theirs[i]);
            Same(ours, theirs, tolerance);
        }
    }

    [Theory]
    [InlineData(32, 0x41u, 0xff0000u, 0xff00u, 0xffu, 0xff000000u, 4)]
    [InlineData(32, 0x41u, 0xffu, 0xff00u, 0xff0000u, 0xff000000u, 4)]
    [InlineData(24, 0x40u, 0xff0000u, 0xff00u, 0xffu, 0u, 3)]
    [InlineData(16, 0x40u, 0xf800u, 0x7e0u, 0x1fu, 0u, 3)]
    [InlineData(8, 0x20000u, 0xffu, 0u, 0u, 0u, 1)]
    public void UncompressedPixelsAreReadAlike(int bits, uint flags, uint r, uint g, uint b, uint a, int channels)
    {
        var data = new byte[Width * Height * bits / 8];
        new Random(7).NextBytes(data);
        var file = Path.Combine(folder, $"plain{bits}-{r}.dds");
        File.WriteAllBytes(file, [.. Header(Width, Height, "\0\0\0\0", 0, bits, flags, r, g, b, a), .. data]);
        var ours = Read(file);
        Assert.Equal(channels, ours.ChannelCount);
        // Five and six bits are stretched by rounding here, by repeating bits in the reference: half a code apart.
        Same(ours, TheirPixels(file), bits == 16 ? 1.01f / 255 : 1e-6f);
    }

    [Fact]
    public void SizesThatAreNoMultipleOfFourAreCutRight()
    {
        var blocks = new byte[4 * 3 * 16];
        new Random(3).NextBytes(blocks);
        var file = Path.Combine(folder, "odd.dds");
        File.WriteAllBytes(file, [.. Header(13, 10, "DX10", 98), .. blocks]);
        var ours = Read(file);
        Assert.Equal((13, 10), (ours.Width, ours.Height));
        Same(ours, TheirPixels(file), 1e-6f);
    }

    [Fact]
    public void CubeMapsVolumesAndShortFilesAreRefusedInWords()
    {
        string Refusal(byte[] bytes)
        {
            var file = Path.Combine(folder, "bad.dds");
            File.WriteAllBytes(file, bytes);
            return Assert.Throws<PictureException>(() => Read(file)).Message;
        }
        var cube = Header(16, 16, "DXT1");
        BinaryPrimitives.WriteUInt32LittleEndian(cube.AsSpan(112), 0xfe00);
        Assert.Contains("cube map", Refusal([.. cube, .. new byte[6 * 128]]));
        var volume = Header(16, 16, "DXT1");
        BinaryPrimitives.WriteUInt32LittleEndian(volume.AsSpan(112), 0x200000);
        Assert.Contains("volume", Refusal([.. volume, .. new byte[4096]]));
        Assert.Contains("too early", Refusal([.. Header(64, 64, "DXT5"), .. new byte[100]]));
        Assert.Contains("'WXYZ'", Refusal([.. Header(16, 16, "WXYZ"), .. new byte[256]]));
    }
}
