using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Intake.Content;

/// <summary>
/// Whether a float picture was converted from a display-sized space already. The evidence is one-sided: taken as the wider space, saturated
/// colours of
/// Rec.709 come close to Rec.709's boundary and none crosses it; a picture without such colours says nothing, and so does one that was
/// painted in the wider space.
/// </summary>
public static class ConvertedEvidence
{
    /// <summary>
    /// Below this share of the largest component a pixel stands at the boundary, or (negative) beyond it. Common practice, no source.
    /// </summary>
    private const float Near = 0.04f,
        Beyond = -0.004f;

    /// <summary>Shares of the pixels with light that must stand at the boundary, and that may be beyond it (filters overshoot).</summary>
    private const float LeastNear = 0.01f,
        MostBeyond = 0.0005f;

    /// <summary>Darker pixels have no reliable hue.</summary>
    private const float Dark = 0.004f;

    /// <returns>The space that the picture is in by its pixels (acescg or lin_ap0); null where they do not tell.</returns>
    public static SpaceId? Of(ImageBuffer copy)
    {
        if (!copy.Type.IsFloat() || copy.ChannelCount < 3)
            return null;
        // The widest first: what is in ACEScg would cross the boundary if taken as ACES2065-1, but not the other way round.
        return new[] { ColourSpace.LinAp0, ColourSpace.AcesCg }.FirstOrDefault(s => Fills709(copy, s))?.Id;
    }

    private static bool Fills709(ImageBuffer copy, ColourSpace taken)
    {
        var toRec709 = ColourTransform.Between(taken, ColourSpace.LinRec709);
        int lit = 0,
            near = 0,
            beyond = 0,
            n = copy.ChannelCount;
        var row = new float[copy.Width * n];
        for (var y = 0; y < copy.Height; y++)
        {
            copy.ReadRow(y, row);
            for (var i = 0; i < row.Length; i += n)
            {
                var c = toRec709.Apply(new Vector3(row[i], row[i + 1], row[i + 2]));
                float most = MathF.Max(c.X, MathF.Max(c.Y, c.Z)),
                    least = MathF.Min(c.X, MathF.Min(c.Y, c.Z));
                if (most < Dark)
                    continue;
                lit++;
                near += least < Near * most ? 1 : 0;
                beyond += least < Beyond * most ? 1 : 0;
            }
        }
        return lit > 0 && near >= LeastNear * lit && beyond <= MostBeyond * lit;
    }
}
