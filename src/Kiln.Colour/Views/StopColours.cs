using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Views;

/// <summary>
/// False colour by whole stops around middle grey (0.18): middle grey itself is grey; each stop above is a step lighter and warmer, each
/// below a step darker and cooler, six either way.
/// What no stop reaches any more is white or black with the step's hue gone: clipped. The order of lightness is the order of light, so it
/// reads without the colours, too.
/// </summary>
public static class StopColours
{
    public const int Most = 6;

    private static readonly Vector3 Luminance = AcesOutput.Ap1Luminance;
    private static readonly Vector3[] Steps = [.. Enumerable.Range(-Most, 2 * Most + 1).Select(Step)];

    /// <summary>The stop of a luminance, rounded to whole stops; below and above six stops are clipped.</summary>
    public static int Stop(float luminance) =>
        luminance <= 0 || float.IsNaN(luminance) ? int.MinValue : (int)MathF.Round(Math.Clamp(MathF.Log2(luminance / 0.18f), -100, 100));

    /// <summary>The thirteen colours from six stops below to six above as #rrggbb, for a key.</summary>
    public static IReadOnlyList<string> Hex { get; } = [.. Steps.Select(c => $"#{Code(c.X):x2}{Code(c.Y):x2}{Code(c.Z):x2}")];

    private static int Code(float v) => (int)MathF.Round(v * 255);

    /// <param name="acescg">Scene light.</param>
    /// <returns>sRGB code values.</returns>
    public static Vector3 Of(Vector3 acescg) =>
        Stop(Vector3.Dot(acescg, Luminance)) switch
        {
            < -Most => Vector3.Zero,
            > Most => Vector3.One,
            var stop => Steps[stop + Most],
        };

    /// <summary>CIELAB lightness 50 ± 6.5 a stop, chroma growing with the distance, hue 60° above and 235° below.</summary>
    private static Vector3 Step(int stop)
    {
        double lightness = 50 + 6.5 * stop,
            chroma = Math.Min(34, 9.0 * Math.Abs(stop)),
            hue = (stop > 0 ? 60 : 235) * Math.PI / 180;
        // Towards the ends there is less room for colour.
        chroma *= Math.Min(1, Math.Min(lightness, 100 - lightness) / 22);
        double fy = (lightness + 16) / 116,
            fx = fy + chroma * Math.Cos(hue) / 500,
            fz = fy - chroma * Math.Sin(hue) / 200;
        static double Back(double f) => f > 6.0 / 29 ? f * f * f : 3 * 36.0 / 841 * (f - 4.0 / 29);
        var (wx, wy, wz) = Primaries.D65.ToXyz();
        var xyz = new Vector3((float)(Back(fx) * wx), (float)(Back(fy) * wy), (float)(Back(fz) * wz));
        return Vector3.Clamp(ColourTransform.Between(ColourSpace.CieXyzD65, ColourSpace.SrgbTexture).Apply(xyz), Vector3.Zero, Vector3.One);
    }
}
