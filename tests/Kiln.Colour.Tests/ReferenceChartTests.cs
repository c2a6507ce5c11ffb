using System.Globalization;
using System.Numerics;
using Kiln.Colour.Chart;
using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Colour.Tests;

/// <summary>
/// The chart states what it states by published tables; each is compared with a second copy of them from Debian's packages.
/// </summary>
public class ReferenceChartTests
{
    /// <summary>Debian's colord-data 1.4.6 carries the CIE tables: ISO/CIE 11664-1 and -2.</summary>
    [Fact]
    public void TheObserverAndItsDaylightAreTheCies()
    {
        var observer = Spectra("/usr/share/colord/cmf/CIE1931-2deg-XYZ.cmf", out var first);
        var daylight = Spectra("/usr/share/colord/illuminant/CIE-D65.sp", out var firstLight);
        using var reader = new StreamReader(
            typeof(StandardObserver).Assembly.GetManifestResourceStream("Kiln.Colour.Chart.cie-1931-d65.csv")!
        );
        var rows = reader
            .ReadToEnd()
            .Split('\n')
            .Where(l => l.Length > 0 && l[0] != '#')
            .Select(l => l.Split(',').Select(v => double.Parse(v, CultureInfo.InvariantCulture)).ToArray())
            .ToList();
        Assert.Equal(81, rows.Count);
        foreach (var row in rows)
        {
            for (var i = 0; i < 3; i++)
                Assert.Equal(observer[i][(int)(row[0] - first) / 5], row[i + 1], 1e-8);
            Assert.Equal(daylight[0][(int)(row[0] - firstLight) / 5], row[4], 1e-6);
        }
    }

    /// <summary>Rakić et al. 1998 as Debian's python3-meep 1.25 carries it.</summary>
    [Fact]
    public void TheMetalsHaveTheirPublishedOpticalConstants()
    {
        (string Symbol, OpticalConstants Ours)[] metals =
        [
            ("Ag", OpticalConstants.Silver),
            ("Al", OpticalConstants.Aluminium),
            ("Au", OpticalConstants.Gold),
            ("Cu", OpticalConstants.Copper),
            ("Cr", OpticalConstants.Chromium),
            ("Ti", OpticalConstants.Titanium),
        ];
        var said = OutsideColour
            .Python(
                """
                import runpy, sys, types
                import numpy
                # The tables alone: the package itself wants plotting libraries. What its medium does with them is two lines.
                class Term:
                    def __init__(self, frequency=0, gamma=0, sigma=0, **other): self.f, self.g, self.s = frequency, gamma, sigma
                class Drude(Term):
                    def at(self, f): return -self.s * self.f**2 / (f * f + 1j * f * self.g)
                class Lorentzian(Term):
                    def at(self, f): return self.s * self.f**2 / (self.f**2 - f * f - 1j * f * self.g)
                class Medium:
                    def __init__(self, epsilon=1.0, E_susceptibilities=(), **other): self.e, self.terms = epsilon, E_susceptibilities
                    def epsilon(self, f): return self.e + sum(t.at(f) for t in self.terms)
                meep = types.ModuleType('meep')
                meep.Medium, meep.DrudeSusceptibility, meep.LorentzianSusceptibility = Medium, Drude, Lorentzian
                meep.Vector3 = lambda *a: numpy.array(a)
                meep.__getattr__ = lambda name: lambda *a, **k: None
                sys.modules['meep'] = meep
                m = types.SimpleNamespace(**runpy.run_path('/usr/lib/python3/dist-packages/meep/materials.py'))
                for name in ('Ag', 'Al', 'Au', 'Cu', 'Cr', 'Ti'):
                    for nm in range(400, 701, 50):
                        e = getattr(m, name).epsilon(1000.0 / nm)
                        print(name, nm, repr(float(e.real)), repr(float(e.imag)))
                """
            )
            .Where(l => l.Split(' ').Length == 4)
            .ToArray();
        Assert.Equal(6 * 7, said.Length);
        foreach (var parts in said.Select(l => l.Split(' ')))
        {
            var ours = metals.First(m => m.Symbol == parts[0]).Ours.Permittivity(double.Parse(parts[1], CultureInfo.InvariantCulture));
            var theirs = new Complex(
                double.Parse(parts[2], CultureInfo.InvariantCulture),
                double.Parse(parts[3], CultureInfo.InvariantCulture)
            );
            Assert.True((ours - theirs).Magnitude < 1e-4 * theirs.Magnitude, $"{parts[0]} at {parts[1]} nm: {ours} against {theirs}");
        }
    }

    [Fact]
    public void APerfectReflectorIsTheWhiteOfD65()
    {
        var (x, y, z) = StandardObserver.See(_ => 1);
        var (wx, wy, wz) = Primaries.D65.ToXyz();
        Assert.True(Math.Abs(wx - x) + Math.Abs(wy - y) + Math.Abs(wz - z) < 1e-9, $"{x} {y} {z}");
    }

    /// <summary>OpenColorIO 2.1's built-in from CIE XYZ of D65 to an sRGB display, whose curve is piecewise like the standard's.</summary>
    [Fact]
    public void EveryPatchIsTheSrgbColourThatOpenColorIOMakesOfIt()
    {
        var theirs = OutsideColour.Convert(
            "o.BuiltinTransform('DISPLAY - CIE-XYZ-D65_to_sRGB')",
            [.. ReferenceChart.Patches.Select(p => p.Xyz)]
        );
        foreach (var (patch, expected) in ReferenceChart.Patches.Zip(theirs))
        {
            var ours = patch.In(ColourSpace.SrgbTexture);
            Assert.True((ours - expected).Length() < 5e-5f, $"{patch.Name}: {ours} against {expected}");
        }
    }

    [Fact]
    public void TheMapHoldsEveryPatchWhereItSaysSo()
    {
        var map = ChartMap.Draw(512, ColourSpace.SrgbTexture, SampleType.U16);
        foreach (var (patch, i) in ReferenceChart.Patches.Select((p, i) => (p, i)))
        {
            var (low, high) = ReferenceChart.Place(i);
            var middle = (low + high) / 2;
            int x = (int)(middle.X * 512),
                y = (int)((1 - middle.Y) * 512);
            var stored = new Vector3(map[x, y, 0], map[x, y, 1], map[x, y, 2]);
            var stated = Vector3.Clamp(patch.In(ColourSpace.SrgbTexture), Vector3.Zero, Vector3.One);
            Assert.True((stored - stated).Length() < 3e-5f, $"{patch.Name}: {stored} against {stated}");
        }
    }

    private static double[][] Spectra(string path, out double first)
    {
        var text = File.ReadAllText(path);
        first = double.Parse(text.Split("SPECTRAL_START_NM")[1].Split('\n')[0], CultureInfo.InvariantCulture);
        return
        [
            .. text.Split("BEGIN_DATA\n")[1]
                .Split("END_DATA")[0]
                .Trim()
                .Split('\n')
                .Select(l =>
                    l.Split((char[])[' ', '\t'], StringSplitOptions.RemoveEmptyEntries)
                        .Select(v => double.Parse(v, CultureInfo.InvariantCulture))
                        .ToArray()
                ),
        ];
    }
}
