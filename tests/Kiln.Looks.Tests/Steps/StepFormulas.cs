using System.Diagnostics;
using System.Globalization;
using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Steps.Arithmetic;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Kinds.Reliefs;

namespace Kiln.Looks.Tests.Steps;

/// <summary>
/// Each step that has a standard node gives the numbers of its published definition (MaterialX 1.39 specification, "Standard Nodes"); the
/// others those of their own source.
/// </summary>
public class StepFormulas
{
    private static readonly float[] Numbers = [-0.3f, 0, 0.05f, 0.18f, 0.5f, 0.77f, 1, 1.6f];

    [Fact]
    public void RemapIsTheStandardsRemapAndRange()
    {
        foreach (var x in Numbers)
        {
            // remap: outlow + (in − inlow) · (outhigh − outlow) / (inhigh − inlow).
            double mapped = 0.3 + (x - 0.1) * (0.9 - 0.3) / (0.8 - 0.1);
            Assert.Equal(mapped, Graphs.Of(x, new RemapStep(0.1f, 0.8f, 0.3f, 0.9f, false)), 1e-5);
            Assert.Equal(Math.Clamp(mapped, 0.3, 0.9), Graphs.Of(x, new RemapStep(0.1f, 0.8f, 0.3f, 0.9f, true)), 1e-5);
            // Turned over: the out range falls.
            Assert.Equal(
                Math.Clamp(0.9 + (x - 0.1) * (0.3 - 0.9) / 0.7, 0.3, 0.9),
                Graphs.Of(x, new RemapStep(0.1f, 0.8f, 0.9f, 0.3f, true)),
                1e-5
            );
        }
    }

    [Fact]
    public void InvertPowerGainAndClampAreTheStandards()
    {
        foreach (var x in Numbers)
        {
            Assert.Equal(1.0 - x, Graphs.Of(x, new InvertStep()), 1e-6);
            Assert.Equal(x <= 0 ? 0 : Math.Pow(x, 2.2), Graphs.Of(x, new PowerStep(2.2f)), 1e-5);
            Assert.Equal(x * 1.5 - 0.2, Graphs.Of(x, new GainStep(1.5f, -0.2f)), 1e-6);
            Assert.Equal(Math.Clamp(x, 0.1, 0.6), Graphs.Of(x, new ClampStep(0.1f, 0.6f)), 1e-6);
            // contrast: (in − pivot) · amount + pivot.
            Assert.Equal((x - 0.4) * 1.7 + 0.4, Graphs.Of(x, new GradeStep(Contrast: 1.7f, Pivot: 0.4f)), 1e-5);
            // occlusion: x · lerp(1, occlusion, amount).
            Assert.Equal(
                x * (1 + (0.25 - 1) * 0.3),
                Graphs.Of(x, new OcclusionStep(new Chain(new ConstantOrigin(LookValue.Of(0.25f))), new(0.3f))),
                1e-6
            );
        }
    }

    /// <summary>
    /// hsvadjust: convert to HSV, add to hue, multiply saturation and value, convert back; Python's colorsys is the other implementation.
    /// </summary>
    [Fact]
    public void TheGradesHueSaturationAndValueAreThoseOfColorsys()
    {
        var random = new Random(3);
        var cases = Enumerable
            .Range(0, 300)
            .Select(_ =>
                (
                    Colour: new Vector3(random.NextSingle(), random.NextSingle(), random.NextSingle()),
                    Amount: new Vector3(random.NextSingle() * 2 - 1, random.NextSingle() * 1.2f, random.NextSingle() * 1.5f)
                )
            )
            .ToList();
        var theirs = Python(
            """
            import sys, colorsys
            for line in sys.stdin:
                r, g, b, dh, s2, v2 = map(float, line.split())
                h, s, v = colorsys.rgb_to_hsv(r, g, b)
                print(*colorsys.hsv_to_rgb((h + dh) % 1.0, s * s2, v * v2))
            """,
            cases.Select(c =>
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{c.Colour.X:R} {c.Colour.Y:R} {c.Colour.Z:R} {c.Amount.X:R} {c.Amount.Y:R} {c.Amount.Z:R}"
                )
            )
        );
        foreach (var (c, line) in cases.Zip(theirs))
        {
            var v = line.Split(' ').Select(t => float.Parse(t, CultureInfo.InvariantCulture)).ToArray();
            var ours = Graphs.Of(c.Colour, new GradeStep(c.Amount.X * 360, c.Amount.Y, c.Amount.Z));
            Assert.True((ours - new Vector3(v[0], v[1], v[2])).Length() < 2e-5f, $"{c}: {ours} against {line}");
        }
    }

    [Fact]
    public void CurvesGoThroughTheirPointsRiseWhereTheyRiseAndNeverOvershoot()
    {
        // "RPN 14" of Fritsch and Carlson 1980, table 4.1 (from memory): flat, a steep rise, flat again, where ordinary splines overshoot.
        CurvePoint[] points =
        [
            new(7.99f, 0),
            new(8.09f, 2.76429e-5f),
            new(8.19f, 4.37498e-2f),
            new(8.7f, 0.169183f),
            new(9.2f, 0.469428f),
            new(10, 0.943740f),
            new(12, 0.998636f),
            new(15, 0.999919f),
            new(20, 0.999994f),
        ];
        var curve = MonotoneCurve.Prepare(points);
        foreach (var p in points)
            Assert.Equal(p.Y, MonotoneCurve.At(curve.AsSpan(), p.X), 1e-6f);
        var before = 0f;
        for (var x = 7.5f; x < 21; x += 0.003f)
        {
            var y = MonotoneCurve.At(curve.AsSpan(), x);
            Assert.True(y >= before - 1e-6f && y <= 0.999994f + 1e-6f, $"at {x}: {y} after {before}");
            before = y;
        }
        // Smooth: the slope has no jumps. Halving the step halves its change.
        float Slope(float x, float h) => (MonotoneCurve.At(curve.AsSpan(), x + h) - MonotoneCurve.At(curve.AsSpan(), x - h)) / (2 * h);
        foreach (var p in points.Skip(1).SkipLast(1))
            Assert.Equal(Slope(p.X - 1e-3f, 5e-4f), Slope(p.X + 1e-3f, 5e-4f), 0.06f);
        // A curve of two points is the line between them, and stays at its ends.
        var line = MonotoneCurve.Prepare([new(0, 0.2f), new(1, 0.8f)]);
        Assert.Equal(0.5f, MonotoneCurve.At(line.AsSpan(), 0.5f), 1e-6f);
        Assert.Equal((0.2f, 0.8f), (MonotoneCurve.At(line.AsSpan(), -3), MonotoneCurve.At(line.AsSpan(), 9)));
        // A hill keeps its height.
        var hill = MonotoneCurve.Prepare([new(0, 0), new(0.5f, 1), new(1, 0)]);
        Assert.All(Enumerable.Range(0, 101), i => Assert.InRange(MonotoneCurve.At(hill.AsSpan(), i / 100f), 0, 1));
    }

    /// <summary>Barré-Brisebois and Hill, "Blending in Detail" (2012), their shader code for encoded maps, word for word.</summary>
    [Fact]
    public void DetailIsLaidOnByReorientedNormalMapping()
    {
        var random = new Random(5);
        Vector3 Encoded() =>
            Vector3.Normalize(new(random.NextSingle() * 1.2f - 0.6f, random.NextSingle() * 1.2f - 0.6f, 1)) * 0.5f + new Vector3(0.5f);
        for (var i = 0; i < 200; i++)
        {
            Vector3 base1 = Encoded(),
                detail = Encoded();
            Vector3 t = base1 * new Vector3(2, 2, 2) + new Vector3(-1, -1, 0),
                u = detail * new Vector3(-2, -2, 2) + new Vector3(1, 1, -1);
            var expected = Vector3.Normalize(t * Vector3.Dot(t, u) - u * t.Z);
            var ours = ReliefCombining.Reorient(base1 * 2 - Vector3.One, detail * 2 - Vector3.One);
            Assert.True((ours - expected).Length() < 1e-5f, $"{ours} against {expected}");
        }
        // Flat detail changes nothing; a detail on flat ground is itself.
        var tilted = Vector3.Normalize(new(0.3f, -0.2f, 1));
        Assert.True((ReliefCombining.Reorient(tilted, Vector3.UnitZ) - tilted).Length() < 1e-6f);
        Assert.True((ReliefCombining.Reorient(Vector3.UnitZ, tilted) - tilted).Length() < 1e-6f);
    }

    [Fact]
    public void ReliefsAddOrBlendTheirSlopes()
    {
        Vector3 One(float p, float q) => Vector3.Normalize(new(-p, -q, 1));
        Chain Decoded(float p, float q) =>
            new(new ConstantOrigin(Graphs.Colour(One(p, q) * 0.5f + new Vector3(0.5f))), [new DecodeNormalStep(new(1)) { Id = "d" }]);
        Vector3 Combine(CombineMode mode, float own, float other)
        {
            var chain = Decoded(0.4f, -0.2f);
            return Graphs.Of(
                ((ConstantOrigin)chain.Origin).Value,
                chain.Steps[0],
                new CombineStep(mode, Decoded(-0.1f, 0.6f), new(own), new(other))
            );
        }
        void Slopes(Vector3 n, float p, float q)
        {
            Assert.Equal(1, n.Length(), 1e-5f);
            Assert.Equal(p, -n.X / n.Z, 1e-4f);
            Assert.Equal(q, -n.Y / n.Z, 1e-4f);
        }
        Slopes(Combine(CombineMode.Additive, 1, 1), 0.3f, 0.4f);
        Slopes(Combine(CombineMode.Additive, 0.5f, 2), 0.2f - 0.2f, -0.1f + 1.2f);
        Slopes(Combine(CombineMode.Blended, 1, 1), 0.15f, 0.2f);
        Slopes(Combine(CombineMode.Blended, 3, 1), (1.2f - 0.1f) / 4, (-0.6f + 0.6f) / 4);
        Slopes(Combine(CombineMode.Detail, 1, 0), 0.4f, -0.2f);
    }

    [Fact]
    public void ConvertingIsTheColourSpacesOwn()
    {
        var expected = ColourTransform.Between(ColourSpace.SrgbTexture, ColourSpace.LinRec2020).Apply(new(0.2f, 0.5f, 0.9f));
        Assert.True((Graphs.Of(new Vector3(0.2f, 0.5f, 0.9f), new ConvertStep("srgb_texture", "lin_rec2020")) - expected).Length() < 1e-6f);
        Assert.Equal(
            new Vector3(0.1f, 0.2f, 0.3f),
            Graphs.Of(0.1f, new PackStep(new(LookValue.Of(0.2f)), new(LookValue.Of(0.3f))), new BlurStep(0.1f)) is var _
                ? Graphs.Of(LookValue.Of(0.1f), new PackStep(new(LookValue.Of(0.2f)), new(LookValue.Of(0.3f))))
                : default
        );
    }

    internal static string[] Python(string script, IEnumerable<string> input)
    {
        using var process = Process.Start(
            new ProcessStartInfo("/usr/bin/python3", ["-c", script])
            {
                RedirectStandardInput = true,
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        foreach (var line in input)
            process.StandardInput.WriteLine(line);
        process.StandardInput.Close();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, process.StandardError.ReadToEnd());
        return output.Split('\n', StringSplitOptions.RemoveEmptyEntries);
    }
}
