using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Analysis.Difference;

/// <summary>CIEDE2000 (CIE 142-2001; Sharma, Wu, Dalal 2005, equations 2 to 22) with all weights 1.</summary>
public static class DeltaE
{
    public static double Between((double L, double A, double B) first, (double L, double A, double B) second)
    {
        double c1 = Math.Sqrt(first.A * first.A + first.B * first.B),
            c2 = Math.Sqrt(second.A * second.A + second.B * second.B);
        var mean7 = Math.Pow((c1 + c2) / 2, 7);
        var g = 0.5 * (1 - Math.Sqrt(mean7 / (mean7 + Math.Pow(25, 7))));
        double a1 = (1 + g) * first.A,
            a2 = (1 + g) * second.A;
        double cp1 = Math.Sqrt(a1 * a1 + first.B * first.B),
            cp2 = Math.Sqrt(a2 * a2 + second.B * second.B);
        double h1 = Hue(a1, first.B),
            h2 = Hue(a2, second.B);
        double dl = second.L - first.L,
            dc = cp2 - cp1,
            dh = 0;
        if (cp1 * cp2 != 0)
            dh = (h2 - h1) switch
            {
                > 180 => h2 - h1 - 360,
                < -180 => h2 - h1 + 360,
                _ => h2 - h1,
            };
        var dH = 2 * Math.Sqrt(cp1 * cp2) * Math.Sin(dh / 2 * Math.PI / 180);
        double l = (first.L + second.L) / 2,
            c = (cp1 + cp2) / 2,
            h = h1 + h2;
        if (cp1 * cp2 != 0)
            h =
                Math.Abs(h1 - h2) <= 180 ? h / 2
                : h < 360 ? (h + 360) / 2
                : (h - 360) / 2;
        var t = 1 - 0.17 * Cos(h - 30) + 0.24 * Cos(2 * h) + 0.32 * Cos(3 * h + 6) - 0.20 * Cos(4 * h - 63);
        var rotation = 30 * Math.Exp(-Math.Pow((h - 275) / 25, 2));
        var c7 = Math.Pow(c, 7);
        var rc = 2 * Math.Sqrt(c7 / (c7 + Math.Pow(25, 7)));
        var sl = 1 + 0.015 * Math.Pow(l - 50, 2) / Math.Sqrt(20 + Math.Pow(l - 50, 2));
        double sc = 1 + 0.045 * c,
            sh = 1 + 0.015 * c * t,
            rt = -Math.Sin(2 * rotation * Math.PI / 180) * rc;
        return Math.Sqrt(Math.Pow(dl / sl, 2) + Math.Pow(dc / sc, 2) + Math.Pow(dH / sh, 2) + rt * (dc / sc) * (dH / sh));
    }

    private static double Hue(double a, double b) => a == 0 && b == 0 ? 0 : (Math.Atan2(b, a) * 180 / Math.PI + 360) % 360;

    private static double Cos(double degrees) => Math.Cos(degrees * Math.PI / 180);

    /// <summary>CIELAB (CIE 15) of sRGB display code values 0..1, white D65.</summary>
    public static (double L, double A, double B) LabOfDisplay(Vector3 display) =>
        CieLab.Of(ColourTransform.Between(ColourSpace.SrgbTexture, ColourSpace.CieXyzD65).Apply(display));

    /// <summary>Per pixel over two displayed 8-bit pictures of the same size.</summary>
    /// <exception cref="ArgumentException">The sizes differ.</exception>
    public static PictureDifference Between(ImageBuffer first, ImageBuffer second)
    {
        if (first.Width != second.Width || first.Height != second.Height)
            throw new ArgumentException("Two pictures of different sizes cannot be compared.");
        var values = new float[first.Width * first.Height];
        Parallel.For(0, first.Height, y =>
        {
            for (var x = 0; x < first.Width; x++)
                values[y * first.Width + x] = (float)Between(
                    LabOfDisplay(new(first[x, y, 0], first[x, y, 1], first[x, y, 2])),
                    LabOfDisplay(new(second[x, y, 0], second[x, y, 1], second[x, y, 2]))
                );
        });
        return PictureDifference.Of(values, first.Width, first.Height);
    }
}

/// <summary>Mean, 95th percentile and greatest CIEDE2000 of two pictures, and the value of every pixel, row by row from the top.</summary>
public sealed record PictureDifference(float Mean, float Percentile95, float Greatest, int Width, int Height, float[] Values)
{
    public static PictureDifference Of(float[] values, int width, int height)
    {
        var sorted = values.Order().ToArray();
        return new(values.Average(), sorted[(int)(0.95 * (sorted.Length - 1))], sorted[^1], width, height, values);
    }

    /// <summary>Mean and 95th percentile over the pixels that are at least half covered in a picture with alpha.</summary>
    public (double Mean, double Percentile95) Over(ImageBuffer covered)
    {
        var alpha = covered.ChannelCount - 1;
        var within = Values.Where((_, i) => covered[i % Width, i / Width, alpha] >= 0.5f).Order().ToArray();
        return within.Length == 0 ? (0, 0) : (within.Average(), within[(int)(0.95 * (within.Length - 1))]);
    }

    /// <summary>
    /// Where they differ most: the middle of the square of 1/16 of the picture with the greatest mean, in parts of the picture from the
    /// upper left.
    /// </summary>
    public (float U, float V) Worst()
    {
        const int squares = 16;
        var sums = new double[squares * squares];
        for (var i = 0; i < Values.Length; i++)
            sums[i / Width * squares / Height * squares + i % Width * squares / Width] += Values[i];
        var worst = Array.IndexOf(sums, sums.Max());
        return ((worst % squares + 0.5f) / squares, (worst / squares + 0.5f) / squares);
    }
}
