using System.Numerics;

namespace Kiln.Scattering;

/// <summary>
/// How a glass bends the colours of light differently. A path that enters such a body goes on at one wavelength, chosen as often as the eye
/// takes notice of it, and
/// has that wavelength's colour from then on; the mean of all is white.
/// </summary>
public static class Dispersion
{
    // Fraunhofer's lines d, F and C, in micrometres: the Abbe number is (n_d − 1) / (n_F − n_C).
    private const float D = 0.58756f,
        F = 0.48613f,
        C = 0.65627f;

    /// <summary>Wavelengths that are told apart, in nanometres.</summary>
    public const int Shortest = 390,
        Longest = 720;

    private static readonly (Vector3 Seen, float Chance, float Before)[] Bands = Table();

    /// <summary>
    /// Index of refraction at a wavelength by Cauchy's two terms, A + B / λ² (OpenPBR Surface 1.1, "Dispersion", from memory).
    /// </summary>
    /// <param name="index">At the line d, 587.6 nm.</param>
    /// <param name="inverseAbbe">1 over the Abbe number, 0 for no dispersion.</param>
    public static float IndexAt(float index, float inverseAbbe, float nanometres)
    {
        var b = (index - 1f) * inverseAbbe / (1f / (F * F) - 1f / (C * C));
        var micrometres = nanometres * 1e-3f;
        return MathF.Max(1f, index + b * (1f / (micrometres * micrometres) - 1f / (D * D)));
    }

    /// <summary>A wavelength in nanometres for a number of 0..1.</summary>
    public static float Wavelength(float random)
    {
        int low = 0,
            high = Bands.Length - 1;
        while (low < high)
        {
            var middle = (low + high + 1) / 2;
            if (Bands[middle].Before <= random)
                low = middle;
            else
                high = middle - 1;
        }
        return Shortest + low + Math.Clamp((random - Bands[low].Before) / Bands[low].Chance, 0f, 0.999f);
    }

    /// <summary>
    /// What light of a wavelength that <see cref="Wavelength"/> chose counts in the working primaries; 1 in the mean. Spectral colours are
    /// outside of any primaries, so single numbers may be below 0.
    /// </summary>
    /// <param name="fromXyz">XYZ of equal-energy light to the working primaries, rows summing to 1.</param>
    public static Vector3 Weight(float nanometres, in Matrix4x4 fromXyz)
    {
        var band = Bands[Math.Clamp((int)nanometres - Shortest, 0, Bands.Length - 1)];
        return Vector3.TransformNormal(band.Seen, fromXyz) / band.Chance;
    }

    /// <summary>
    /// The eye's X, Y and Z: sums of lopsided Gaussians (Wyman, Sloan and Shirley 2013, table 1, from memory; held against the CIE's table
    /// in the tests).
    /// </summary>
    public static Vector3 Observer(float nanometres)
    {
        float Lobe(float middle, float below, float above)
        {
            var t = (nanometres - middle) / (nanometres < middle ? below : above);
            return MathF.Exp(-0.5f * t * t);
        }
        return new(
            1.056f * Lobe(599.8f, 37.9f, 31f) + 0.362f * Lobe(442f, 16f, 26.7f) - 0.065f * Lobe(501.1f, 20.4f, 26.2f),
            0.821f * Lobe(568.8f, 46.9f, 40.5f) + 0.286f * Lobe(530.9f, 16.3f, 31.1f),
            1.217f * Lobe(437f, 11.8f, 36f) + 0.681f * Lobe(459f, 26f, 13.8f)
        );
    }

    private static (Vector3, float, float)[] Table()
    {
        var seen = Enumerable.Range(Shortest, Longest - Shortest).Select(n => Observer(n + 0.5f)).ToArray();
        var all = seen.Aggregate(Vector3.Zero, (sum, v) => sum + v);
        var result = new (Vector3, float, float)[seen.Length];
        var before = 0f;
        for (var i = 0; i < seen.Length; i++)
        {
            var share = seen[i] / all;
            var chance = (share.X + share.Y + share.Z) / 3f;
            result[i] = (share, chance, before);
            before += chance;
        }
        return result;
    }
}
