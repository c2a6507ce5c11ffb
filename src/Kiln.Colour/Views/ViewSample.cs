using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Colour.Views;

/// <summary>A small picture that tells views apart: grey and six hues, each from six stops below middle grey to six above.</summary>
public static class ViewSample
{
    private const int Rows = 7,
        Stops = 6;

    /// <summary>Linear ACEScg, before any view.</summary>
    public static ImageBuffer Light(int width, int height)
    {
        var toWorking = ColourTransform.Between(ColourSpace.LinRec709, ColourSpace.AcesCg);
        Vector3[] hues =
        [
            Vector3.One,
            new(1, 0.1f, 0.1f),
            new(1, 0.8f, 0.1f),
            new(0.1f, 1, 0.1f),
            new(0.1f, 1, 1),
            new(0.1f, 0.15f, 1),
            new(1, 0.1f, 0.9f),
        ];
        var result = new ImageBuffer(width, height, ImageBuffer.Rgb, SampleType.F32);
        var row = new float[width * 3];
        for (var y = 0; y < height; y++)
        {
            var hue = toWorking.Apply(hues[Math.Min(Rows - 1, y * Rows / height)]);
            for (var x = 0; x < width; x++)
                (hue * 0.18f * MathF.Pow(2, 2 * Stops * (x + 0.5f) / width - Stops)).CopyTo(row.AsSpan(3 * x));
            result.WriteRow(y, row);
        }
        return result;
    }

    public static ImageBuffer Rendered(View view, int width, int height) => view.Apply(Light(width, height));
}
