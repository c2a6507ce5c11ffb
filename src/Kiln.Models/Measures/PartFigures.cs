using System.Numerics;

namespace Kiln.Models.Measures;

/// <summary>How a part stands and how its maps lie on it, in numbers that are kept with it.</summary>
/// <param name="Middle">Of its box, in metres, along the file's axes.</param>
/// <param name="HasNormals">Whether the file says in which directions it is shaded.</param>
/// <param name="BackNormals">Share of its triangles, by count, of which a normal points to the back, or nowhere.</param>
/// <param name="Density">So many widths of the picture are one metre, in the median; null where it has no UVs.</param>
/// <param name="Uvs">Of its first set of UVs; null where it has none.</param>
public sealed record PartFigures(IReadOnlyList<float> Middle, bool HasNormals, double BackNormals, double? Density, UvMeasures? Uvs)
{
    public static PartFigures Of(ModelPart part)
    {
        var (min, max) = PartMeasures.Bounds([part]);
        var middle = part.Positions.Length > 0 ? (min + max) / 2 : default;
        var set = part.UvSets is [var first, ..] && Enumerable.Range(0, part.Triangles).Any(first.Has) ? first : null;
        return new(
            [middle.X, middle.Y, middle.Z],
            part.HasNormals,
            part.Normals is { } normals ? Back(part, normals) : 0,
            set is null ? null : UvMeasures.MedianDensity([(part, set)]),
            set is null ? null : UvMeasures.Of(part, set)
        );
    }

    private static double Back(ModelPart part, NormalSet normals)
    {
        var (back, all) = (0, 0);
        for (var t = 0; t < part.Triangles; t++)
        {
            var (a, b, c) = PartMeasures.Of(part, t);
            var face = Vector3.Cross(b - a, c - a);
            if (!(face.LengthSquared() > 0))
                continue;
            all++;
            for (var corner = 0; corner < 3; corner++)
            {
                var at = normals.Corners[3 * t + corner];
                if (at < 0 || Vector3.Dot(normals.Directions[at], face) > 0)
                    continue;
                back++;
                break;
            }
        }
        return all == 0 ? 0 : (double)back / all;
    }
}
