using System.Numerics.Tensors;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Graph;
using Kiln.Pixels;

namespace Kiln.Server.Looks.Bench;

/// <summary>A lane's picture as display values: colours through sRGB, directions back to 0..1, numbers as they are.</summary>
internal static class ShownPicture
{
    public static ImageBuffer Of(ImageBuffer picture, ShadeType type, WorkingSpace working)
    {
        if (type == ShadeType.Colour)
            return View.Named("plain", working.Space).Apply(picture);
        var result = new ImageBuffer(picture.Width, picture.Height, picture.Channels, SampleType.U8);
        // A decoded direction has parts below zero; an encoded one has not.
        var isDecoded = type == ShadeType.Direction && IsDecoded(picture);
        Parallel.For(
            0,
            picture.Height,
            () => new float[picture.Width * picture.ChannelCount],
            (y, _, row) =>
            {
                picture.ReadRow(y, row);
                if (isDecoded)
                {
                    TensorPrimitives.Multiply(row, 0.5f, row);
                    TensorPrimitives.Add(row, 0.5f, row);
                }
                result.WriteRow(y, row);
                return row;
            },
            _ => { }
        );
        return result;
    }

    private static bool IsDecoded(ImageBuffer picture)
    {
        var pixels = picture.Samples<float>();
        var mean = 0f;
        for (var i = 0; i < pixels.Length; i += 3)
            mean += pixels[i];
        return mean / (pixels.Length / 3) < 0.25f;
    }
}
