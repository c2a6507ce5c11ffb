using System.Numerics;

namespace Kiln.Proof.Geometry.Occlusion;

/// <summary>
/// What each vertex of a form sees, for pictures that cannot trace rays: a bit for each cell of directions (<see cref="SkyCells"/>) in
/// which the form does not stand in its own way, and how much of what lies about each direction that is, in real spherical harmonics of
/// three bands (Sloan, Kautz and Snyder 2002). Whoever knows the light of each cell has the light that arrives.
/// </summary>
/// <param name="Seen"><see cref="SkyCells.Words"/> words a vertex, the first cell the lowest bit of the first. Cells behind the surface are
/// not seen, but by a sheet, which has two sides.</param>
/// <param name="Visible"><see cref="Bands"/> numbers a vertex.</param>
/// <param name="Floor"><see cref="SkyCells.WordsAbove"/> words for each place of the floor on a square of <see cref="FloorMetres"/> about
/// the middle of the form; <see cref="FloorSide"/> on a side, row by row along z.</param>
public sealed record FormOcclusion(uint[] Seen, float[] Visible, uint[] Floor)
{
    public const int Bands = 9,
        FloorSide = 64;
    public const float FloorMetres = 3;

    private const float Clearance = 1e-4f;

    public static FormOcclusion Of(Mesh form) => Of(form, [.. Enumerable.Range(0, form.Positions.Length)]);

    /// <param name="asked">Numbers of the vertices that are asked, in the order of what is said of them.</param>
    public static FormOcclusion Of(Mesh form, IReadOnlyList<int> asked)
    {
        var bvh = BvhOf(form);
        var floor = new uint[FloorSide * FloorSide * SkyCells.WordsAbove];
        Parallel.For(0, FloorSide * FloorSide, i =>
            OfFloor(bvh, FloorPlace(i), floor.AsSpan(i * SkyCells.WordsAbove, SkyCells.WordsAbove))
        );
        var count = asked.Count;
        var (seen, visible) = (new uint[count * SkyCells.Words], new float[count * Bands]);
        Parallel.For(0, count, i =>
            OfVertex(bvh, form, asked[i], seen.AsSpan(i * SkyCells.Words, SkyCells.Words), visible.AsSpan(i * Bands, Bands))
        );
        return new(seen, visible, floor);
    }

    private static Bvh BvhOf(Mesh form) =>
        new([
            .. Enumerable
                .Range(0, form.Triangles)
                .Select(t =>
                    (form.Positions[form.Indices[3 * t]], form.Positions[form.Indices[3 * t + 1]], form.Positions[form.Indices[3 * t + 2]])
                ),
        ]);

    private static Vector3 FloorPlace(int i) =>
        new(
            (i % FloorSide + 0.5f) / FloorSide * FloorMetres - FloorMetres / 2,
            0,
            (i / FloorSide + 0.5f) / FloorSide * FloorMetres - FloorMetres / 2
        );

    private static void OfFloor(Bvh bvh, Vector3 place, Span<uint> seen)
    {
        for (var k = 0; k < SkyCells.Above; k++)
            if (!bvh.Occluded(place + new Vector3(0, Clearance, 0), SkyCells.Directions[k], 0, float.PositiveInfinity))
                seen[k >> 5] |= 1u << (k & 31);
    }

    private static void OfVertex(Bvh bvh, Mesh form, int i, Span<uint> seen, Span<float> visible)
    {
        var normal = form.Normals[i];
        Span<float> basis = stackalloc float[Bands];
        for (var k = 0; k < SkyCells.Directions.Length; k++)
        {
            var d = SkyCells.Directions[k];
            var cos = Vector3.Dot(d, normal);
            var isAsked = cos > 0 || form.IsSheet;
            var origin = form.Positions[i] + normal * (cos < 0 ? -5 * Clearance : 5 * Clearance);
            if (isAsked && bvh.Occluded(origin, d, 0, float.PositiveInfinity))
                continue;
            if (isAsked)
                seen[k >> 5] |= 1u << (k & 31);
            // What lies behind the surface is asked by no reflection; it counts as visible, so that the bands stay smooth.
            Basis(d, basis);
            for (var b = 0; b < Bands; b++)
                visible[b] += basis[b] * SkyCells.SolidAngles[k];
        }
    }

    /// <summary>The nine harmonics of a direction, y the axis: bands 0, 1 (three), 2 (five), each by falling order.</summary>
    public static void Basis(Vector3 d, Span<float> to)
    {
        to[0] = 0.28209479f;
        to[1] = 0.48860251f * d.X;
        to[2] = 0.48860251f * d.Y;
        to[3] = 0.48860251f * d.Z;
        to[4] = 0.54627422f * (d.Z * d.Z - d.X * d.X);
        to[5] = 1.09254843f * d.X * d.Y;
        to[6] = 0.31539157f * (3 * d.Y * d.Y - 1);
        to[7] = 1.09254843f * d.Y * d.Z;
        to[8] = 1.09254843f * d.X * d.Z;
    }
}
