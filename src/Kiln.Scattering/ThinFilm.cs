using System.Numerics;

namespace Kiln.Scattering;

/// <summary>
/// Reflectance of an interface that carries a thin transparent film: the sum of all bounces within it (Airy), averaged over the
/// sensitivities of the
/// eye in closed form, each a Gaussian over wave number (Belcour and Barla 2017, equations 7 to 11 and their appendix for the Gaussians).
/// </summary>
/// <remarks>The three numbers of a reflectance are worked out for X, Y and Z of equal-energy light and brought to the working primaries so
/// that a flat reflectance stays flat.</remarks>
public readonly struct ThinFilm
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

    private readonly Wide nanometres,
        ior;

    public ThinFilm(float nanometres, float ior)
        : this(Of(nanometres), Of(ior)) { }

    internal ThinFilm(Wide nanometres, Wide ior) => (this.nanometres, this.ior) = (nanometres, ior);

    /// <summary>Reflectance at <paramref name="cos"/> over a dielectric of index <paramref name="below"/>.</summary>
    /// <param name="fromXyz">XYZ of equal-energy light to the working primaries, rows summing to 1.</param>
    public Vector3 OverDielectric(float cos, float below, in Matrix4x4 fromXyz) => OverDielectric(Of(cos), Of(below), fromXyz)[0];

    internal Wide3 OverDielectric(Wide cos, Wide below, in Matrix4x4 fromXyz)
    {
        var (n, cosFilm, parallel, perpendicular) = Outer(cos);
        var (p, s) = Fresnel.Amplitudes(cosFilm, below / n);
        return Mean(One(parallel, new Wide3(p), cosFilm * n), One(perpendicular, new Wide3(s), cosFilm * n), fromXyz);
    }

    /// <summary>
    /// Reflectance over a metal by its reflectance at 0° and its tint at about 82°. Approximated: the metal reflects inside the film as it
    /// does in
    /// air, the same in both polarisations, and shifts no phase beyond the change of sign.
    /// </summary>
    public Vector3 OverMetal(float cos, Vector3 f0, Vector3 tint, in Matrix4x4 fromXyz) =>
        OverMetal(Of(cos), Wide3.Of(f0), Wide3.Of(tint), fromXyz)[0];

    internal Wide3 OverMetal(Wide cos, in Wide3 f0, in Wide3 tint, in Matrix4x4 fromXyz)
    {
        var (n, cosFilm, parallel, perpendicular) = Outer(cos);
        var amplitude = Wide3.Sqrt(Wide3.Min(Wide3.Max(Fresnel.F82(cosFilm, f0, tint), Wide3.Zero), new Wide3(Of(0.9999f))));
        return Mean(One(parallel, amplitude, cosFilm * n), One(perpendicular, -amplitude, cosFilm * n), fromXyz);
    }

    private (Wide Index, Wide Cosine, Wide Parallel, Wide Perpendicular) Outer(Wide cos)
    {
        cos = Clamp(cos, Of(1e-4f), Wide.One);
        // A film of nothing has no interface of its own: its index fades in over 30 nm (Belcour and Barla 2017, published code).
        var n = Max(Wide.One + (ior - Wide.One) * SmoothStep(nanometres * (1f / 30f)), Of(1.0001f));
        var (parallel, perpendicular) = Fresnel.Amplitudes(cos, n);
        return (n, Sqrt(Wide.One - (Wide.One - cos * cos) / (n * n)), parallel, perpendicular);
    }

    private static Wide3 Mean(in Wide3 parallel, in Wide3 perpendicular, in Matrix4x4 fromXyz)
    {
        var v = (parallel + perpendicular) * 0.5f;
        // Rows, as System.Numerics multiplies them.
        return Wide3.Unit(
            new(
                v.X * fromXyz.M11 + v.Y * fromXyz.M21 + v.Z * fromXyz.M31,
                v.X * fromXyz.M12 + v.Y * fromXyz.M22 + v.Z * fromXyz.M32,
                v.X * fromXyz.M13 + v.Y * fromXyz.M23 + v.Z * fromXyz.M33
            )
        );
    }

    /// <summary>
    /// One polarisation: |r|² of r = r₁ + (1 − r₁²) r₂ e^(iδ) Σ(−r₁ r₂ e^(iδ))^k as a series of cosines of δ, each averaged over the
    /// sensitivities.
    /// </summary>
    private Wide3 One(Wide outer, in Wide3 below, Wide pathPerThickness)
    {
        Wide r = outer * outer,
            through = Wide.One - r;
        var all = below * below * (through * through) / (Wide3.One - below * below * r);
        var sum = new Wide3(r) + all;
        var order = all - new Wide3(through);
        var metres = pathPerThickness * nanometres * 1e-9f;
        for (var m = 1; m <= Orders; m++)
        {
            order *= below * Negative(outer);
            sum += order * Sensitivity(metres * (2f * m)) * 2f;
        }
        return sum;
    }

    /// <summary>Fourier transform of the sensitivities at an optical path difference, in metres; 1 at 0.</summary>
    private static Wide3 Sensitivity(Wide path)
    {
        Wide Gaussian(float value, float position, float variance)
        {
            var (_, cos) = SinCosTurns(path * position);
            var phase = path * (2f * MathF.PI);
            return value * MathF.Sqrt(2f * MathF.PI * variance) / Normal * cos * Exp(-variance * phase * phase);
        }
        return new(
            Gaussian(Values.X, Positions.X, Variances.X) + Gaussian(SecondValue, SecondPosition, SecondVariance),
            Gaussian(Values.Y, Positions.Y, Variances.Y),
            Gaussian(Values.Z, Positions.Z, Variances.Z)
        );
    }

    private static Wide SmoothStep(Wide x)
    {
        x = Unit(x);
        return x * x * (Of(3f) - 2f * x);
    }
}
