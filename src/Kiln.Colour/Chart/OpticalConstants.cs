using System.Numerics;

namespace Kiln.Colour.Chart;

/// <summary>One bound oscillator: strength, damping and resonance in electronvolts.</summary>
public readonly record struct Oscillator(double Strength, double DampingEv, double ResonanceEv);

/// <summary>
/// The complex permittivity of a metal as free and bound electrons: the Lorentz-Drude model with the parameters of
/// Rakić, Djurišić, Elazar and Majewski, "Optical properties of metallic films for vertical-cavity optoelectronic devices", Applied Optics
/// 37 (1998), tables 1 and 2.
/// </summary>
public sealed record OpticalConstants(string Metal, double PlasmaEv, double FreeStrength, double FreeDampingEv, params Oscillator[] Bound)
{
    /// <summary>Energy of a photon times its wavelength: hc in eV nm (CODATA 2018).</summary>
    private const double EvNanometres = 1239.841984;

    public static readonly OpticalConstants Silver = new(
        "silver",
        9.01,
        0.845,
        0.048,
        new(0.065, 3.886, 0.816),
        new(0.124, 0.452, 4.481),
        new(0.011, 0.065, 8.185),
        new(0.840, 0.916, 9.083),
        new(5.646, 2.419, 20.29)
    );
    public static readonly OpticalConstants Aluminium = new(
        "aluminium",
        14.98,
        0.523,
        0.047,
        new(0.227, 0.333, 0.162),
        new(0.050, 0.312, 1.544),
        new(0.166, 1.351, 1.808),
        new(0.030, 3.382, 3.473)
    );
    public static readonly OpticalConstants Gold = new(
        "gold",
        9.03,
        0.760,
        0.053,
        new(0.024, 0.241, 0.415),
        new(0.010, 0.345, 0.830),
        new(0.071, 0.870, 2.969),
        new(0.601, 2.494, 4.304),
        new(4.384, 2.214, 13.32)
    );
    public static readonly OpticalConstants Copper = new(
        "copper",
        10.83,
        0.575,
        0.030,
        new(0.061, 0.378, 0.291),
        new(0.104, 1.056, 2.957),
        new(0.723, 3.213, 5.300),
        new(0.638, 4.305, 11.18)
    );
    public static readonly OpticalConstants Chromium = new(
        "chromium",
        10.75,
        0.168,
        0.047,
        new(0.151, 3.175, 0.121),
        new(0.150, 1.305, 0.543),
        new(1.149, 2.676, 1.970),
        new(0.825, 1.335, 8.775)
    );
    public static readonly OpticalConstants Titanium = new(
        "titanium",
        7.29,
        0.148,
        0.082,
        new(0.899, 2.276, 0.777),
        new(0.393, 2.518, 1.545),
        new(0.187, 1.663, 2.509),
        new(0.001, 1.762, 19.43)
    );

    /// <summary>Relative permittivity at a wavelength in vacuum; the imaginary part is positive where light is absorbed.</summary>
    public Complex Permittivity(double nanometres)
    {
        var w = EvNanometres / nanometres;
        var plasma = PlasmaEv * PlasmaEv;
        var result = 1 - FreeStrength * plasma / (w * new Complex(w, FreeDampingEv));
        foreach (var b in Bound)
            result += b.Strength * plasma / new Complex(b.ResonanceEv * b.ResonanceEv - w * w, -w * b.DampingEv);
        return result;
    }

    /// <summary>
    /// Share of light that the polished metal returns at normal incidence: |(m − 1)/(m + 1)|² with m = √ε = n + ik (Fresnel).
    /// </summary>
    public double Reflectance(double nanometres)
    {
        var index = Complex.Sqrt(Permittivity(nanometres));
        var amplitude = (index - 1) / (index + 1);
        return amplitude.Real * amplitude.Real + amplitude.Imaginary * amplitude.Imaginary;
    }
}
