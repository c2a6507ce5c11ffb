using System.Numerics;
using Kiln.Colour.Configs;
using Kiln.Colour.Operations;

namespace Kiln.Colour.Tests.Configs;

/// <summary>Every built-in transform that is supported, forwards and, where it can be, backwards, against OpenColorIO 2.1's own.</summary>
public class BuiltinsAgainstOpenColorIO
{
    public static TheoryData<string> Styles() => [.. Builtins.Styles];

    [Theory]
    [MemberData(nameof(Styles))]
    public void AgreesBothWays(string style)
    {
        float[] levels =
            style.Contains("to_ACES2065-1", StringComparison.Ordinal) && !style.StartsWith("ACEScg", StringComparison.Ordinal)
            || style.Contains("ST-2084_to", StringComparison.Ordinal)
            || style.Contains("LOG_to", StringComparison.Ordinal)
                ? [0.02f, 0.1f, 0.35f, 0.5f, 0.75f]
                : [-0.05f, 0.0005f, 0.02f, 0.18f, 0.6f, 1f, 3f];
        Vector3[] colours = [.. from r in levels from g in levels from b in levels select new Vector3(r, g, b)];
        var ours = new ColourChain(Builtins.Find(style));
        var theirs = OutsideColour.Convert($"o.BuiltinTransform('{style}')", colours);
        // The tables of theirs: ACEScc and ST 2084 are 4096 entries; the ACES outputs have splines in single precision.
        var tolerance = style switch
        {
            _ when style.StartsWith("ACES-OUTPUT", StringComparison.Ordinal) => 2e-3f,
            _ when style.StartsWith("ACEScc_", StringComparison.Ordinal) => 1e-3f,
            _ when style.Contains("2084", StringComparison.Ordinal) || style.Contains("PQ", StringComparison.Ordinal) => 1e-3f,
            _ => 1e-4f,
        };
        // Where a colour leaves AP0, their ACEScc stops at zero; the standard does not.
        for (var i = 0; i < colours.Length; i++)
            if (!style.StartsWith("ACEScc_", StringComparison.Ordinal) || theirs[i] is { X: > 0, Y: > 0, Z: > 0 })
                Close(theirs[i], ours.Apply(colours[i]), tolerance, $"{style} of {colours[i]}");
        if (style.StartsWith("ACES-OUTPUT", StringComparison.Ordinal))
            return;
        var back = ours.Inverse();
        // Displays cut off what is below black; only what they can show comes back.
        foreach (var c in colours.Where(c => ours.Apply(c) is { X: > 0.001f, Y: > 0.001f, Z: > 0.001f }))
            Close(c, back.Apply(ours.Apply(c)), 2e-3f, $"{style} and back of {c}");
    }

    internal static void Close(Vector3 expected, Vector3 actual, float tolerance, string what)
    {
        // Where the reference has no answer (a root of a negative number), ours has to have one.
        if (float.IsNaN(expected.X + expected.Y + expected.Z))
        {
            Assert.True(float.IsFinite(actual.X + actual.Y + actual.Z), what);
            return;
        }
        var scale = MathF.Max(1, MathF.Max(MathF.Abs(expected.X), MathF.Max(MathF.Abs(expected.Y), MathF.Abs(expected.Z))));
        var error = Vector3.Abs(expected - actual) / scale;
        Assert.True(MathF.Max(error.X, MathF.Max(error.Y, error.Z)) <= tolerance, $"{what}: expected {expected}, was {actual}");
    }
}
