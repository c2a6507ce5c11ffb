using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Tests;

/// <summary>
/// All pairs of spaces against OpenColorIO 2.1: to ACES2065-1 by its built-in transforms where it has them (matrices and curves of its
/// own),
/// by its Matrix and Exponent arithmetic on the published primaries where it has not (Display P3, Adobe RGB).
/// </summary>
public class SpacesAgainstOpenColorIO
{
    private const string SrgbCurve = "o.ExponentWithLinearTransform(gamma=[2.4,2.4,2.4,1],offset=[0.055,0.055,0.055,0])";
    private static readonly string Rec709ToAp0 = "o.BuiltinTransform('UTILITY - ACES-AP0_to_CIE-XYZ-D65_BFD', o.TRANSFORM_DIR_INVERSE)";

    private static readonly Dictionary<string, string> ToAp0 = new()
    {
        ["lin_ap0"] = "",
        ["acescg"] = "o.BuiltinTransform('ACEScg_to_ACES2065-1')",
        ["acescct"] = "o.BuiltinTransform('ACEScct_to_ACES2065-1')",
        // OpenColorIO's built-in ACEScc is a table of 4096 entries; its own logarithm is exact (S-2014-003, above the toe).
        ["acescc"] =
            "o.LogAffineTransform(logSideSlope=[1/17.52]*3, logSideOffset=[9.72/17.52]*3, "
            + "direction=o.TRANSFORM_DIR_INVERSE),o.BuiltinTransform('ACEScg_to_ACES2065-1')",
        ["cie_xyz_d65"] = Rec709ToAp0,
        ["srgb_texture"] = "o.BuiltinTransform('DISPLAY - CIE-XYZ-D65_to_sRGB', o.TRANSFORM_DIR_INVERSE)," + Rec709ToAp0,
        ["g22_rec709"] = "o.BuiltinTransform('DISPLAY - CIE-XYZ-D65_to_G2.2-REC.709', o.TRANSFORM_DIR_INVERSE)," + Rec709ToAp0,
    };

    private static string Group(string from)
    {
        var space = ColourSpace.Find(from);
        if (from is "lin_ap0" or "acescg" or "acescct" or "acescc" or "cie_xyz_d65" or "srgb_texture" or "g22_rec709")
            return ToAp0[from];
        // The rest: decode by OpenColorIO's curves, primaries by the published xy (here through numpy-free arithmetic of our test).
        var curve = from switch
        {
            "srgb_displayp3" => SrgbCurve + ",",
            "adobergb" => "o.ExponentTransform([563/256,563/256,563/256,1]),",
            "g18_rec709" => "o.ExponentTransform([1.8,1.8,1.8,1]),",
            _ => "",
        };
        return curve + OutsideColour.Matrix(PublishedMatrices.ToXyzD65(space.Id.Text)) + "," + Rec709ToAp0;
    }

    public static TheoryData<string> Spaces()
    {
        var data = new TheoryData<string>();
        foreach (var space in ColourSpace.All.Where(s => !s.IsRaw))
            data.Add(space.Id.Text);
        return data;
    }

    private static Vector3[] Grid(float low, float high)
    {
        var steps = new[] { 0f, 0.03f, 0.18f, 0.5f, 0.8f, 1f }.Select(t => low + (high - low) * t).ToArray();
        return [.. from r in steps from g in steps from b in steps select new Vector3(r, g, b)];
    }

    [Theory]
    [MemberData(nameof(Spaces))]
    public void ToAces2065AgreesWithinTheStatedError(string from)
    {
        var space = ColourSpace.Find(from);
        var colours = space.IsLinear ? Grid(-0.1f, 4f) : Grid(0.02f, 1f);
        var transform = $"o.GroupTransform([{Group(from)}])";
        var theirs = OutsideColour.Convert(transform, colours);
        var ours = ColourTransform.Between(space, ColourSpace.LinAp0);
        for (var i = 0; i < colours.Length; i++)
        {
            var mine = ours.Apply(colours[i]);
            // Relative to the largest component: small components are differences of large ones.
            var scale = MathF.Max(1e-3f, MathF.Max(MathF.Abs(theirs[i].X), MathF.Max(MathF.Abs(theirs[i].Y), MathF.Abs(theirs[i].Z))));
            var tolerance = space.IsLinear ? 1e-5f : 2e-5f;
            var error = Vector3.Abs(mine - theirs[i]);
            var worst = MathF.Max(error.X, MathF.Max(error.Y, error.Z)) / (space.IsLinear ? scale : MathF.Max(1f, scale));
            Assert.True(worst <= tolerance, $"{from} {colours[i]}: {mine} against {theirs[i]}, error {worst:G3}");
        }
    }

    [Theory]
    [MemberData(nameof(Spaces))]
    public void EveryPairComesBack(string id)
    {
        foreach (var other in ColourSpace.All.Where(s => !s.IsRaw))
        {
            var there = ColourTransform.Between(ColourSpace.Find(id), other);
            var back = ColourTransform.Between(other, ColourSpace.Find(id));
            foreach (var c in new[] { new Vector3(0.4f, 0.45f, 0.42f), new Vector3(0.5f, 0.5f, 0.5f) })
            {
                var error = Vector3.Abs(back.Apply(there.Apply(c)) - c);
                Assert.True(error.X + error.Y + error.Z < 2e-5f, $"{id} → {other.Id} → {id}: {error}");
            }
        }
    }
}

/// <summary>
/// Matrices worked out here from the published primaries by Cramer's rule, independently of the product's code path:
/// ITU-R BT.709-6, BT.2020-2, SMPTE EG 432-1, Adobe RGB (1998) 2005-05; all with D65 (0.3127, 0.3290).
/// </summary>
internal static class PublishedMatrices
{
    public static Matrix3 ToXyzD65(string id)
    {
        double[] p = id switch
        {
            "lin_rec2020" => [0.708, 0.292, 0.170, 0.797, 0.131, 0.046],
            "srgb_displayp3" or "lin_displayp3" => [0.680, 0.320, 0.265, 0.690, 0.150, 0.060],
            "adobergb" or "lin_adobergb" => [0.64, 0.33, 0.21, 0.71, 0.15, 0.06],
            _ => [0.64, 0.33, 0.30, 0.60, 0.15, 0.06],
        };
        double[] w = [0.3127 / 0.3290, 1, (1 - 0.3127 - 0.3290) / 0.3290];
        double[] c(int i) => [p[2 * i], p[2 * i + 1], 1 - p[2 * i] - p[2 * i + 1]];
        double Det(double[] a, double[] b, double[] d) =>
            a[0] * (b[1] * d[2] - d[1] * b[2]) - b[0] * (a[1] * d[2] - d[1] * a[2]) + d[0] * (a[1] * b[2] - b[1] * a[2]);
        double[] r = c(0),
            g = c(1),
            bl = c(2);
        var all = Det(r, g, bl);
        double sr = Det(w, g, bl) / all,
            sg = Det(r, w, bl) / all,
            sb = Det(r, g, w) / all;
        return new(r[0] * sr, g[0] * sg, bl[0] * sb, r[1] * sr, g[1] * sg, bl[1] * sb, r[2] * sr, g[2] * sg, bl[2] * sb);
    }
}
