using System.Numerics;

namespace Kiln.Proof.Geometry;

/// <summary>
/// What each vertex of a form sees, for pictures that cannot trace rays: how light from the sky reaches it, what of the floor, and where
/// its own form stands in the way. In real spherical harmonics of three bands about the vertical axis, so that a light that turns about it
/// mixes two numbers at a time (Ramamoorthi and Hanrahan 2001 for irradiance; Sloan, Kautz and Snyder 2002 for the transfer).
/// </summary>
/// <param name="Numbers"><see cref="PerVertex"/> numbers a vertex: nine of the transfer of light from the sky to irradiance over π, one of
/// the floor's share of it, nine of the visibility.</param>
/// <param name="Floor">Share of the sky that a place of the floor sees, by cosine, on a square of <see cref="FloorMetres"/> about the
/// middle of the form; <see cref="FloorSide"/> on a side, row by row along z.</param>
public sealed record FormOcclusion(float[] Numbers, float[] Floor)
{
    public const int PerVertex = 19,
        Bands = 9,
        FloorSide = 48;
    public const float FloorMetres = 3;

    /// <summary>Rays a vertex, and a place of the floor. Spread evenly; the bands smooth what noise is left.</summary>
    private const int Rays = 96,
        FloorRays = 128;
    private const float Clearance = 1e-4f,
        Everywhere = 4 * MathF.PI;

    /// <param name="onFloor">Whether the form stands on the floor; without one, what goes down is sky as well.</param>
    public static FormOcclusion Of(Mesh form, bool onFloor)
    {
        var bvh = BvhCacheOf(form);
        var floor = new float[FloorSide * FloorSide];
        Parallel.For(0, floor.Length, i => floor[i] = FloorAt(bvh, FloorPlace(i)));
        var numbers = new float[form.Positions.Length * PerVertex];
        Parallel.For(0, form.Positions.Length, i => Vertex(bvh, form, i, onFloor ? floor : null, numbers.AsSpan(i * PerVertex, PerVertex)));
        return new(numbers, floor);
    }

    private static Bvh BvhCacheOf(Mesh form) =>
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

    /// <summary>Directions spread evenly over the sphere (Fibonacci lattice).</summary>
    private static Vector3 Even(int i, int count)
    {
        var z = 1 - (2 * i + 1f) / count;
        var (sin, cos) = MathF.SinCos(i * 2.399963f);
        var r = MathF.Sqrt(MathF.Max(0, 1 - z * z));
        return new(r * cos, z, r * sin);
    }

    private static float FloorAt(Bvh bvh, Vector3 place)
    {
        float seen = 0,
            all = 0;
        for (var i = 0; i < FloorRays; i++)
        {
            var d = Even(i, FloorRays);
            if (d.Y <= 0)
                continue;
            all += d.Y;
            if (!bvh.Occluded(place + new Vector3(0, Clearance, 0), d, 0, float.PositiveInfinity))
                seen += d.Y;
        }
        return seen / all;
    }

    private static float SeenByFloor(float[] floor, Vector3 at)
    {
        float x = (at.X / FloorMetres + 0.5f) * FloorSide,
            z = (at.Z / FloorMetres + 0.5f) * FloorSide;
        return x >= 0 && x < FloorSide && z >= 0 && z < FloorSide ? floor[(int)z * FloorSide + (int)x] : 1;
    }

    private static void Vertex(Bvh bvh, Mesh form, int i, float[]? floor, Span<float> to)
    {
        var normal = form.Normals[i];
        var origin = form.Positions[i] + normal * (5 * Clearance);
        Span<float> basis = stackalloc float[Bands];
        to.Clear();
        for (var k = 0; k < 2 * Rays; k++)
        {
            var d = Even(k, 2 * Rays);
            var cos = Vector3.Dot(d, normal);
            if (form.IsSheet)
                cos = MathF.Abs(cos);
            Basis(d, basis);
            // What lies behind the surface is asked by no reflection; it counts as seen, so that the bands stay smooth.
            if (cos > 0 && bvh.Occluded(origin, d, 0, float.PositiveInfinity))
                continue;
            for (var b = 0; b < Bands; b++)
                to[10 + b] += basis[b] * (Everywhere / (2 * Rays));
            if (cos <= 0)
                continue;
            var weight = cos * (Everywhere / (2 * Rays)) / MathF.PI;
            if (floor is not null && d.Y < 0)
                to[9] += weight * SeenByFloor(floor, origin + d * (origin.Y / -d.Y));
            else
                for (var b = 0; b < Bands; b++)
                    to[b] += basis[b] * weight;
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
