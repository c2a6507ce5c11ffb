using System.Numerics;

namespace Kiln.Scattering;

/// <summary>
/// Reflectance of an interface that carries a thin transparent film: the sum of all bounces within it (Airy), averaged over the
/// sensitivities of the
/// eye in closed form, each a Gaussian over wave number (Belcour and Barla 2017, equations 7 to 11 and their appendix for the Gaussians).
/// </summary>
/// <remarks>The three numbers of a reflectance are worked out for X, Y and Z of equal-energy light and brought to the working primaries so
/// that a flat reflectance stays flat.</remarks>
public readonly struct ThinFilm(float nanometres, float ior)
{
    // Value, position and variance of the Gaussians for X, Y and Z; X has a second one. From the paper's published code.
    private static readonly Vector3 Values = new(5.4856e-13f, 4.4201e-13f, 5.2481e-13f),
        Positions = new(1.6810e+06f, 1.7953e+06f, 2.2084e+06f),
        Variances = new(4.3278e+09f, 9.3046e+09f, 6.6121e+09f);
    private const float SecondValue = 9.7470e-14f,
        SecondPosition = 2.2399e+06f,
        SecondVariance = 4.5282e+09f,
        Normal = 1.0685e-7f;

    /// <summary>Bounces that are summed one by one; the mean of the rest is in the constant term.</summary>
    private const int Orders = 3;

    /// <summary>Reflectance at <paramref name="cos"/> over a dielectric of index <paramref name="below"/>.</summary>
    /// <param name="fromXyz">XYZ of equal-energy light to the working primaries, rows summing to 1.</param>
    public Vector3 OverDielectric(float cos, float below, in Matrix4x4 fromXyz)
    {
        var (n, cosFilm, parallel, perpendicular) = Outer(cos);
        var (p, s) = Fresnel.Amplitudes(cosFilm, below / n);
        return Mean(One(parallel, new Vector3(p), cosFilm * n), One(perpendicular, new Vector3(s), cosFilm * n), fromXyz);
    }

    /// <summary>
    /// Reflectance over a metal by its reflectance at 0° and its tint at about 82°. Approximated: the metal reflects inside the film as it
    /// does in
    /// air, the same in both polarisations, and shifts no phase beyond the change of sign.
    /// </summary>
    public Vector3 OverMetal(float cos, Vector3 f0, Vector3 tint, in Matrix4x4 fromXyz)
    {
        var (n, cosFilm, parallel, perpendicular) = Outer(cos);
        var amplitude = Vector3.SquareRoot(Vector3.Clamp(Fresnel.F82(cosFilm, f0, tint), Vector3.Zero, new(0.9999f)));
        return Mean(One(parallel, amplitude, cosFilm * n), One(perpendicular, -amplitude, cosFilm * n), fromXyz);
    }

    private (float Index, float Cosine, float Parallel, float Perpendicular) Outer(float cos)
    {
        cos = Math.Clamp(cos, 1e-4f, 1f);
        // A film of nothing has no interface of its own: its index fades in over 30 nm (Belcour and Barla 2017, published code).
        var n = MathF.Max(1.0001f, 1f + (ior - 1f) * SmoothStep(nanometres / 30f));
        var (parallel, perpendicular) = Fresnel.Amplitudes(cos, n);
        return (n, MathF.Sqrt(1f - (1f - cos * cos) / (n * n)), parallel, perpendicular);
    }

    private static Vector3 Mean(Vector3 parallel, Vector3 perpendicular, in Matrix4x4 fromXyz) =>
        Vector3.Clamp(Vector3.TransformNormal(0.5f * (parallel + perpendicular), fromXyz), Vector3.Zero, Vector3.One);

    /// <summary>
    /// One polarisation: |r|² of r = r₁ + (1 − r₁²) r₂ e^(iδ) Σ(−r₁ r₂ e^(iδ))^k as a series of cosines of δ, each averaged over the
    /// sensitivities.
    /// </summary>
    private Vector3 One(float outer, Vector3 below, float pathPerThickness)
    {
        float r = outer * outer,
            through = 1f - r;
        var all = through * through * below * below / (Vector3.One - below * below * r);
        var sum = new Vector3(r) + all;
        var order = all - new Vector3(through);
        for (var m = 1; m <= Orders; m++)
        {
            order *= -outer * below;
            sum += 2f * order * Sensitivity(m * 2f * pathPerThickness * nanometres * 1e-9f);
        }
        return sum;
    }

    /// <summary>Fourier transform of the sensitivities at an optical path difference, in metres; 1 at 0.</summary>
    private static Vector3 Sensitivity(float path)
    {
        var phase = 2f * MathF.PI * path;
        var cos = new Vector3(MathF.Cos(Positions.X * phase), MathF.Cos(Positions.Y * phase), MathF.Cos(Positions.Z * phase));
        var damp = new Vector3(
            MathF.Exp(-Variances.X * phase * phase),
            MathF.Exp(-Variances.Y * phase * phase),
            MathF.Exp(-Variances.Z * phase * phase)
        );
        var xyz = Values * Vector3.SquareRoot(2f * MathF.PI * Variances) * cos * damp;
        xyz.X +=
            SecondValue
            * MathF.Sqrt(2f * MathF.PI * SecondVariance)
            * MathF.Cos(SecondPosition * phase)
            * MathF.Exp(-SecondVariance * phase * phase);
        return xyz / Normal;
    }

    private static float SmoothStep(float x)
    {
        x = Math.Clamp(x, 0f, 1f);
        return x * x * (3f - 2f * x);
    }
}
