using System.Numerics;
using Kiln.Looks.Document;

namespace Kiln.Looks.Steps.Arithmetic;

/// <summary>
/// Noise that repeats with the picture it stands for, 0..1. Gradient: Perlin, "Improving Noise", SIGGRAPH 2002, in two dimensions with the
/// lattice wrapped;
/// fractal: octaves of it, each with twice the cells; cell: distance to the nearest of one random point a cell (Worley, SIGGRAPH 1996),
/// wrapped.
/// </summary>
public static class TileableNoise
{
    /// <summary>The greatest value of two-dimensional gradient noise with unit gradients is √½; this brings it to ½.</summary>
    private const float ToHalf = 0.70710678f;

    /// <param name="at">In units of one repeat.</param>
    /// <param name="footprint">Side of the square that is asked for, in the same units: finer octaves fade to their mean.</param>
    public static float At(NoiseField noise, Vector2 at, float footprint)
    {
        if (noise.Kind == NoiseKind.Cell)
            return Cell(at * noise.Cells, noise.Cells, (uint)noise.Seed);
        float sum = 0,
            weight = 1,
            total = 0;
        var cells = noise.Cells;
        var octaves = noise.Kind == NoiseKind.Fractal ? noise.Octaves : 1;
        for (var octave = 0; octave < octaves; octave++, cells *= 2, weight *= noise.Gain)
        {
            // Half a cell in the footprint: as good as its mean, which is zero.
            var fade = Math.Clamp(2 - 2 * footprint * cells, 0, 1);
            if (fade > 0)
                sum += weight * fade * Gradient(at * cells, cells, (uint)(noise.Seed + octave * 7919));
            total += weight;
        }
        return Math.Clamp(0.5f + ToHalf * sum / total, 0, 1);
    }

    private static float Gradient(Vector2 p, int period, uint seed)
    {
        int x0 = (int)MathF.Floor(p.X),
            y0 = (int)MathF.Floor(p.Y);
        float fx = p.X - x0,
            fy = p.Y - y0,
            u = Fade(fx),
            v = Fade(fy);
        float Corner(int dx, int dy)
        {
            var (sin, cos) = MathF.SinCos(2 * MathF.PI * Unit(Wrapped(x0 + dx, period), Wrapped(y0 + dy, period), seed));
            return cos * (fx - dx) + sin * (fy - dy);
        }
        float low = Corner(0, 0),
            high = Corner(0, 1);
        low += (Corner(1, 0) - low) * u;
        high += (Corner(1, 1) - high) * u;
        return low + (high - low) * v;
    }

    /// <summary>The gradients of a lattice, x and y of each point, row by row; pinned, as eight are read at once.</summary>
    internal static float[] Gradients(int cells, uint seed)
    {
        var gradients = GC.AllocateArray<float>(2 * cells * cells, pinned: true);
        for (var i = 0; i < cells * cells; i++)
            (gradients[2 * i + 1], gradients[2 * i]) = MathF.SinCos(2 * MathF.PI * Unit(i % cells, i / cells, seed));
        return gradients;
    }

    private static float Cell(Vector2 p, int period, uint seed)
    {
        int x0 = (int)MathF.Floor(p.X),
            y0 = (int)MathF.Floor(p.Y);
        var nearest = float.MaxValue;
        for (var dy = -1; dy <= 1; dy++)
        for (var dx = -1; dx <= 1; dx++)
        {
            int x = Wrapped(x0 + dx, period),
                y = Wrapped(y0 + dy, period);
            var point = new Vector2(x0 + dx + Unit(x, y, seed), y0 + dy + Unit(x, y, seed ^ 0x9e3779b9));
            nearest = MathF.Min(nearest, Vector2.DistanceSquared(p, point));
        }
        return MathF.Min(1, MathF.Sqrt(nearest));
    }

    /// <summary>6t⁵ − 15t⁴ + 10t³ (Perlin 2002).</summary>
    private static float Fade(float t) => t * t * t * (t * (t * 6 - 15) + 10);

    private static int Wrapped(int i, int period) => (i % period + period) % period;

    /// <summary>An evenly spread number 0..1 of a lattice point (finaliser of MurmurHash3, Appleby, public domain).</summary>
    private static float Unit(int x, int y, uint seed)
    {
        var h = (uint)x * 0x8da6b343 ^ (uint)y * 0xd8163841 ^ seed * 0xcb1ab31f;
        h ^= h >> 16;
        h *= 0x85ebca6b;
        h ^= h >> 13;
        h *= 0xc2b2ae35;
        h ^= h >> 16;
        return (h >> 8) * (1f / (1 << 24));
    }
}
