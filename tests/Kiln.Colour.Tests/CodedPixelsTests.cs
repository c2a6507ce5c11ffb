using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Colour.Tests;

/// <summary>Codes and halves give what the same numbers as floats give, which is checked against OpenColorIO; whole or in pieces.</summary>
public class CodedPixelsTests
{
    private static readonly ColourSpace[] Sources = [.. ColourSpace.All.Where(s => !s.IsRaw)];

    [Fact]
    public void CodesGiveWhatTheirNumbersGive()
    {
        var random = new Random(7);
        foreach (var from in Sources)
        foreach (var to in new[] { ColourSpace.AcesCg, ColourSpace.LinRec709, ColourSpace.SrgbTexture })
        {
            var transform = ColourTransform.Between(from, to);
            var coded = new CodedPixels(transform);
            var bytes = new byte[3 * 1700];
            var words = new ushort[bytes.Length];
            random.NextBytes(bytes);
            for (var i = 0; i < words.Length; i++)
                words[i] = (ushort)random.Next(65536);
            Close(transform, [.. bytes.Select(b => b / 255f)], result => coded.Apply(bytes, result), $"8 bit {from.Id} to {to.Id}");
            Close(transform, [.. words.Select(w => w / 65535f)], result => coded.Apply(words, result), $"16 bit {from.Id} to {to.Id}");
        }
    }

    [Fact]
    public void HalvesAreConvertedInPlace()
    {
        var random = new Random(8);
        Half[] pixels = [.. Enumerable.Range(0, 3 * 1500).Select(_ => (Half)(random.NextSingle() * 4))];
        var expected = pixels.Select(p => (float)p).ToArray();
        var transform = ColourTransform.Between(ColourSpace.LinRec709, ColourSpace.AcesCg);
        transform.Apply(expected);
        new CodedPixels(transform).Apply(pixels);
        for (var i = 0; i < pixels.Length; i++)
            Assert.Equal((float)(Half)expected[i], (float)pixels[i], 1e-3f * (1 + MathF.Abs(expected[i])));
    }

    [Fact]
    public void TilesAndWholePicturesAgree()
    {
        var random = new Random(9);
        var codes = new ushort[3 * 4000];
        for (var i = 0; i < codes.Length; i++)
            codes[i] = (ushort)random.Next(65536);
        var coded = new CodedPixels(ColourTransform.Between(ColourSpace.SrgbTexture, ColourSpace.AcesCg));
        float[] whole = new float[codes.Length],
            pieces = new float[codes.Length];
        coded.Apply(codes, whole);
        for (var at = 0; at < codes.Length; at += 3 * 17)
            coded.Apply(codes.AsSpan(at, Math.Min(51, codes.Length - at)), pieces.AsSpan(at, Math.Min(51, codes.Length - at)));
        for (var i = 0; i < whole.Length; i++)
            Assert.Equal(whole[i], pieces[i], 1e-6f);
        Assert.Throws<ArgumentException>(() => coded.Apply(codes.AsSpan(0, 4), pieces.AsSpan(0, 4)));
    }

    [Theory]
    [InlineData(SampleType.U8)]
    [InlineData(SampleType.U16)]
    public void WholePicturesGoByTheirCodes(SampleType type)
    {
        var picture = new ImageBuffer(37, 5, ImageBuffer.Rgb, type);
        new Random(10).NextBytes(picture.Data);
        var transform = ColourTransform.Between(ColourSpace.SrgbTexture, ColourSpace.AcesCg);
        var (byCodes, byNumbers) = (
            PictureConversion.Convert(picture, transform, SampleType.F32),
            PictureConversion.Convert(picture, transform.Apply, SampleType.F32)
        );
        for (var i = 0; i < 37 * 5 * 3; i++)
            Assert.Equal(byNumbers.Samples<float>()[i], byCodes.Samples<float>()[i], 2e-6f);
    }

    private static void Close(ColourTransform transform, float[] numbers, Action<float[]> convert, string what)
    {
        var result = new float[numbers.Length];
        convert(result);
        transform.Apply(numbers);
        for (var i = 0; i < result.Length; i++)
            Assert.True(
                MathF.Abs(result[i] - numbers[i]) <= 2e-5f * MathF.Max(1, MathF.Abs(numbers[i])),
                $"{what}: {result[i]} against {numbers[i]}"
            );
    }
}
