using System.Numerics;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Evaluation;

/// <summary>
/// Repeats broken up: over a lattice of triangles each corner shows the picture moved, and turned, by chance; between corners they are
/// mixed by their barycentric weights to a power
/// (Heitz and Neyret 2018, "High-performance by-example noise using a histogram-preserving blending operator"; the power in place of their
/// histograms after Mikkelsen 2022, "Practical real-time hex-tiling").
/// The lattice closes after one unit of UV, so that what is baked repeats.
/// </summary>
public sealed class TileScatter
{
    /// <summary>Mikkelsen's exponent, from memory: high enough to keep contrast, low enough to hide where tiles meet.</summary>
    private const int Power = 7;

    private readonly int cells;
    private readonly float turn;
    private readonly uint seed;

    /// <summary>One of the three pictures that are mixed at a point.</summary>
    /// <param name="Middle">What it is turned about, in units of the surface's UV.</param>
    /// <param name="Shift">In repeats of the picture.</param>
    public readonly record struct Corner(Vector2 Middle, Vector2 Shift, float Cos, float Sin, float Weight)
    {
        /// <summary>Where this corner's picture is looked up for a point: turned back about the middle.</summary>
        public Vector2 Place(Vector2 uv)
        {
            var d = uv - Middle;
            return Middle + new Vector2(Cos * d.X + Sin * d.Y, Cos * d.Y - Sin * d.X);
        }
    }

    private TileScatter(TileVariation variation, Placement placement, Reading reading)
    {
        (cells, turn, seed) = (variation.Cells, variation.RotationDegrees * MathF.PI / 180f, (uint)variation.Seed);
        var (uu, uv, vu, vv) = placement.Linear;
        IsDirection = reading.Kind == ReadingKind.Direction;
        // A mirrored picture, and a green channel that points down, see the turn the other way round.
        Sense = (uu * vv - uv * vu < 0 ? -1 : 1) * (reading.NormalY == NormalY.Down ? -1 : 1);
    }

    public static TileScatter? Of(Placement placement, Reading reading) =>
        placement.Variation is { } variation ? new(variation, placement, reading) : null;

    public bool IsDirection { get; }

    /// <summary>1, or −1 where the picture sees a turn the other way round.</summary>
    public float Sense { get; }

    /// <summary>The three corners around a point; their weights sum to one.</summary>
    public void At(Vector2 uv, Span<Corner> corners)
    {
        // Rows are half a cell further each: (i, j) stands at (i + j/2, j).
        Vector2 p = uv * cells,
            skewed = new(p.X - p.Y * 0.5f, p.Y);
        int i = (int)MathF.Floor(skewed.X),
            j = (int)MathF.Floor(skewed.Y);
        float fx = skewed.X - i,
            fy = skewed.Y - j;
        if (fx + fy < 1)
        {
            corners[0] = CornerAt(i, j, 1 - fx - fy);
            corners[1] = CornerAt(i + 1, j, fx);
            corners[2] = CornerAt(i, j + 1, fy);
        }
        else
        {
            corners[0] = CornerAt(i + 1, j + 1, fx + fy - 1);
            corners[1] = CornerAt(i, j + 1, 1 - fx);
            corners[2] = CornerAt(i + 1, j, 1 - fy);
        }
        var sum = corners[0].Weight + corners[1].Weight + corners[2].Weight;
        for (var k = 0; k < 3; k++)
            corners[k] = corners[k] with { Weight = corners[k].Weight / sum };
    }

    private Corner CornerAt(int i, int j, float weight)
    {
        // The same corner one unit of UV to the right or above has the same chance: cells are even, so half a row's shift closes as well.
        var rows = (int)MathF.Floor((float)j / cells);
        int row = j - rows * cells,
            column = Wrapped(i + rows * (cells / 2));
        var h = Hash((uint)column * 0x8da6b343u ^ (uint)row * 0xd8163841u ^ seed * 0xcb1ab31fu);
        var (shiftU, shiftV, angle) = (Unit(h), Unit(h = Hash(h + 0x9e3779b9u)), (Unit(Hash(h + 0x9e3779b9u)) * 2 - 1) * turn);
        var (sin, cos) = MathF.SinCos(angle);
        var w = MathF.Max(0, weight);
        return new(new Vector2(i + j * 0.5f, j) / cells, new(shiftU, shiftV), cos, sin, MathF.Pow(w, Power));
    }

    /// <summary>A stored direction of a corner, as slopes turned with its picture: of relief the slopes are mixed.</summary>
    public Vector3 Slopes(Vector3 stored, in Corner corner)
    {
        var n = 2 * stored - Vector3.One;
        var z = MathF.Max(n.Z, 1e-3f);
        float x = n.X / z,
            y = n.Y / z,
            sin = corner.Sin * Sense;
        return new(corner.Cos * x - sin * y, sin * x + corner.Cos * y, 1);
    }

    /// <summary>Mixed slopes as a stored direction again.</summary>
    public static Vector3 Stored(Vector3 slopes) => (Vector3.Normalize(slopes) + Vector3.One) * 0.5f;

    private int Wrapped(int i) => (i % cells + cells) % cells;

    /// <summary>Finaliser of MurmurHash3 (Appleby, public domain).</summary>
    private static uint Hash(uint h)
    {
        h ^= h >> 16;
        h *= 0x85ebca6b;
        h ^= h >> 13;
        h *= 0xc2b2ae35;
        return h ^ h >> 16;
    }

    private static float Unit(uint h) => (h >> 8) * (1f / (1 << 24));
}
