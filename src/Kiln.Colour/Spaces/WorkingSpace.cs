using System.Numerics;

namespace Kiln.Colour.Spaces;

/// <summary>
/// The linear space in which maps are evaluated, mixed and lit: ACEScg, or linear Rec.709 for studios that deliver to gamma displays only.
/// </summary>
public sealed class WorkingSpace
{
    public static readonly WorkingSpace AcesCg = new(ColourSpace.AcesCg),
        LinRec709 = new(ColourSpace.LinRec709);

    public static readonly IReadOnlyList<WorkingSpace> All = [AcesCg, LinRec709];

    private WorkingSpace(ColourSpace space)
    {
        Space = space;
        var m = space.Primaries!.ToXyz();
        LuminanceWeights = new((float)m.M21, (float)m.M22, (float)m.M23);
    }

    public ColourSpace Space { get; }

    /// <summary>The identifier of its space, <c>acescg</c> or <c>lin_rec709</c>.</summary>
    public string Id => Space.Id.Text;

    /// <summary>What each primary gives to luminance: the Y row of the matrix to CIE XYZ (SMPTE RP 177).</summary>
    public Vector3 LuminanceWeights { get; }

    /// <exception cref="ArgumentException">The space is not one to work in.</exception>
    public static WorkingSpace Find(string id) =>
        All.FirstOrDefault(w => w.Id == id)
        ?? throw new ArgumentException($"The working space is {string.Join(" or ", All.Select(w => w.Id))}, not '{id}'.");
}
