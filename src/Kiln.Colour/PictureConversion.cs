using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Colour;

/// <summary>Changes the colours of interleaved pixels in place; the second number is the samples a pixel.</summary>
public delegate void PixelConversion(Span<float> pixels, int stride);

/// <summary>Whole pictures through a conversion, row by row on all processors.</summary>
public static class PictureConversion
{
    /// <summary>From one of our spaces to another. RGB pictures of integers go by their codes, all others as numbers.</summary>
    /// <param name="type">What the result is stored as.</param>
    public static ImageBuffer Convert(ImageBuffer picture, ColourTransform transform, SampleType type)
    {
        if (picture.ChannelCount != 3 || picture.Type.IsFloat())
            return Convert(picture, transform.Apply, type);
        var coded = new CodedPixels(transform);
        var result = new ImageBuffer(picture.Width, picture.Height, ImageBuffer.Rgb, type);
        var length = picture.Width * 3;
        Parallel.For(
            0,
            picture.Height,
            () => new float[length],
            (y, _, row) =>
            {
                if (picture.Type == SampleType.U8)
                    coded.Apply(picture.Samples<byte>().Slice(y * length, length), row);
                else
                    coded.Apply(picture.Samples<ushort>().Slice(y * length, length), row);
                result.WriteRow(y, row);
                return row;
            },
            _ => { }
        );
        return result;
    }

    /// <summary>
    /// The first three channels are converted; a grey picture is taken as three equal ones and comes out in colour; alpha stays.
    /// </summary>
    /// <param name="type">What the result is stored as.</param>
    public static ImageBuffer Convert(ImageBuffer picture, PixelConversion conversion, SampleType type)
    {
        var grey = picture.ChannelCount < 3;
        var alpha = picture.ChannelCount is 2 or 4 && picture.Channels[^1] == "A";
        var result = new ImageBuffer(picture.Width, picture.Height, alpha ? ImageBuffer.Rgba : ImageBuffer.Rgb, type);
        int from = picture.ChannelCount,
            to = result.ChannelCount;
        Parallel.For(
            0,
            picture.Height,
            () => (Read: new float[picture.Width * from], Write: new float[picture.Width * to]),
            (y, _, rows) =>
            {
                picture.ReadRow(y, rows.Read);
                if (from == to)
                    rows.Read.CopyTo(rows.Write, 0);
                else
                    for (var x = 0; x < picture.Width; x++)
                    for (var c = 0; c < to; c++)
                        rows.Write[x * to + c] = rows.Read[
                            x * from
                                + (
                                    c == 3 ? from - 1
                                    : grey ? 0
                                    : c
                                )
                        ];
                conversion(rows.Write, to);
                result.WriteRow(y, rows.Write);
                return rows;
            },
            _ => { }
        );
        return result;
    }
}
