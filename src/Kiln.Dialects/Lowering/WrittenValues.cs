using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;

namespace Kiln.Dialects.Lowering;

/// <summary>A colour constant as a dialect writes it: in the profile's value space, limited to what the input can hold.</summary>
/// <param name="Exact">In the value space, not limited.</param>
/// <param name="Written">Limited, and rounded to six decimals: a tint that came in as 0.8 goes out as 0.8.</param>
public readonly record struct WrittenColour(ColourSpace Space, Vector3 Exact, Vector3 Written)
{
    private const float Rounding = 1e-5f;

    public bool IsClipped => Vector3.Abs(Exact - Written) is var d && MathF.Max(d.X, MathF.Max(d.Y, d.Z)) > Rounding;

    /// <param name="value">Linear, in the working space.</param>
    public static WrittenColour Of(DialectProfile profile, DialectInput input, WorkingSpace working, Vector3 value)
    {
        var space = profile.ValueSpace == "document" ? working.Space : ColourSpace.Find(profile.ValueSpace);
        var exact = ColourTransform.Between(working.Space, space).Apply(value);
        // A document of nodes may hold light above 1; a format of factors states its limits. Colours outside the primaries are clipped in
        // both.
        var limited = Vector3.Max(exact, new(MathF.Min(0, input.Low)));
        if (profile.Structure == NetworkStructure.Slots)
            limited = Vector3.Clamp(exact, new(input.Low), new(input.High));
        return new(space, exact, new(MathF.Round(limited.X, 6), MathF.Round(limited.Y, 6), MathF.Round(limited.Z, 6)));
    }
}
