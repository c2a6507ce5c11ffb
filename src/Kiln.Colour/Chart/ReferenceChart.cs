using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Chart;

public enum PatchKind
{
    Grey,
    Hue,
    Metal,
}

/// <summary>One patch: a reflecting colour stated as CIE xyY relative to D65, Y = 1 for a perfect white.</summary>
/// <param name="Statement">Where the statement comes from, in words.</param>
public sealed record ChartPatch(string Name, PatchKind Kind, double X, double Y, double Reflectance, string Statement)
{
    /// <summary>Linear components in a space: what a perfect reading of the patch gives.</summary>
    public Vector3 In(ColourSpace space) => ColourTransform.Between(ColourSpace.CieXyzD65, space).Apply(Xyz);

    public Vector3 Xyz => new((float)(X / Y * Reflectance), (float)Reflectance, (float)((1 - X - Y) / Y * Reflectance));
}

/// <summary>
/// Our own chart, by which a person proves the whole chain in one look: six greys of stated reflectance, twelve hues of stated xyY
/// (every 30° of CIELAB hue at L* 58, as far from grey as sRGB reaches evenly), and six metals from published optical constants.
/// Three rows fill the upper four fifths of a square: the greys, the circle of hues, the metals; the lowest fifth is left to the surface
/// under test.
/// </summary>
public static class ReferenceChart
{
    /// <summary>Height of the part that holds the patches, of a square of 1.</summary>
    public const float PatchPart = 0.8f;

    /// <summary>Empty space on each side of a patch.</summary>
    public const float Inset = 0.008f;

    /// <summary>Reflectance of what lies between the patches.</summary>
    public const float BoardGrey = 0.05f;

    /// <summary>Row by row from the top left, a row for each kind.</summary>
    public static readonly IReadOnlyList<ChartPatch> Patches =
    [
        Grey(0.90),
        Grey(0.59),
        Grey(0.36),
        Grey(0.18),
        Grey(0.09),
        Grey(0.03),
        Hue(15, 0.4098, 0.3161),
        Hue(45, 0.4343, 0.3629),
        Hue(75, 0.4220, 0.4073),
        Hue(105, 0.3799, 0.4369),
        Hue(135, 0.3221, 0.4349),
        Hue(165, 0.2647, 0.3937),
        Hue(195, 0.2369, 0.3317),
        Hue(225, 0.2209, 0.2857),
        Hue(255, 0.2114, 0.2431),
        Hue(285, 0.2421, 0.2336),
        Hue(315, 0.2936, 0.2453),
        Hue(345, 0.3560, 0.2746),
        Metal(OpticalConstants.Silver),
        Metal(OpticalConstants.Aluminium),
        Metal(OpticalConstants.Gold),
        Metal(OpticalConstants.Copper),
        Metal(OpticalConstants.Chromium),
        Metal(OpticalConstants.Titanium),
    ];

    /// <summary>Where a patch lies in the unit square: u to the right, v up.</summary>
    public static (Vector2 Low, Vector2 High) Place(int patch)
    {
        var row = (int)Patches[patch].Kind;
        var first = Patches.TakeWhile(p => (int)p.Kind < row).Count();
        float width = 1f / Patches.Count(p => (int)p.Kind == row),
            height = PatchPart / Enum.GetValues<PatchKind>().Length;
        var low = new Vector2((patch - first) * width, 1 - (row + 1) * height);
        return (low + new Vector2(Inset), low + new Vector2(width, height) - new Vector2(Inset));
    }

    private static ChartPatch Grey(double reflectance) =>
        new($"grey {reflectance * 100:0} %", PatchKind.Grey, Primaries.D65.X, Primaries.D65.Y, reflectance, "stated reflectance");

    private static ChartPatch Hue(int degrees, double x, double y) => new($"hue {degrees}°", PatchKind.Hue, x, y, 0.260, "stated xyY");

    private static ChartPatch Metal(OpticalConstants metal)
    {
        var (x, y, z) = StandardObserver.See(metal.Reflectance);
        return new(
            metal.Metal,
            PatchKind.Metal,
            x / (x + y + z),
            y / (x + y + z),
            y,
            "optical constants, Rakić et al. 1998, polished, seen straight on"
        );
    }
}
