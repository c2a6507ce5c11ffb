namespace Kiln.Demo;

/// <summary>Repeating noise over the unit square, from a seed. Every function has period 1 in x and y, so that maps tile.</summary>
public sealed class Noise(uint seed)
{
    private sealed record Lattice(int Cells, uint Layer, (float Sin, float Cos)[] Directions);

    private const int MostLattices = 1024;

    /// <summary>Directions of lattices that were asked for, found by open addressing.</summary>
    private readonly Lattice?[] lattices = new Lattice?[MostLattices];

    /// <summary>Smooth noise −1..1 with the given number of cells along a side.</summary>
    public float Gradient(float x, float y, int cells, uint layer = 0)
    {
        float fx = x * cells,
            fy = y * cells;
        int x0 = (int)MathF.Floor(fx),
            y0 = (int)MathF.Floor(fy);
        float tx = fx - x0,
            ty = fy - y0;
        float sx = tx * tx * tx * (tx * (tx * 6 - 15) + 10),
            sy = ty * ty * ty * (ty * (ty * 6 - 15) + 10);
        var directions = Directions(cells, layer);
        int left = Wrap(x0, cells),
            right = Wrap(x0 + 1, cells),
            top = Wrap(y0, cells) * cells,
            bottom = Wrap(y0 + 1, cells) * cells;
        float a = Rise(directions[top + left], tx, ty),
            b = Rise(directions[top + right], tx - 1, ty),
            c = Rise(directions[bottom + left], tx, ty - 1),
            d = Rise(directions[bottom + right], tx - 1, ty - 1);
        return 1.41f * (a + (b - a) * sx + (c - a) * sy + (a - b - c + d) * sx * sy);
    }

    /// <summary>Sum of octaves, about −1..1.</summary>
    public float Fractal(float x, float y, int cells, int octaves, uint layer = 0, float gain = 0.5f)
    {
        float sum = 0,
            weight = 1,
            total = 0;
        for (var o = 0; o < octaves; o++, cells *= 2, weight *= gain)
        {
            sum += weight * Gradient(x, y, cells, layer + (uint)o * 31);
            total += weight;
        }
        return sum / total * 1.6f;
    }

    /// <summary>Distance to the nearest of scattered points, in cells, and a random number of that point.</summary>
    public (float Distance, float Second, float Value) Cells(float x, float y, int cells, uint layer = 0)
    {
        float fx = x * cells,
            fy = y * cells;
        int x0 = (int)MathF.Floor(fx),
            y0 = (int)MathF.Floor(fy);
        float best = 9,
            second = 9,
            value = 0;
        for (var j = -1; j <= 1; j++)
        for (var i = -1; i <= 1; i++)
        {
            int cx = Wrap(x0 + i, cells),
                cy = Wrap(y0 + j, cells);
            float px = x0 + i + Random(cx, cy, layer + 1),
                py = y0 + j + Random(cx, cy, layer + 2);
            var d = MathF.Sqrt((px - fx) * (px - fx) + (py - fy) * (py - fy));
            if (d < best)
                (second, best, value) = (best, d, Random(cx, cy, layer + 3));
            else if (d < second)
                second = d;
        }
        return (best, second, value);
    }

    /// <summary>Evenly distributed 0..1 for a lattice point.</summary>
    public float Random(int x, int y, uint layer)
    {
        var h = seed ^ (uint)x * 0x9e3779b1u ^ (uint)y * 0x85ebca77u ^ layer * 0xc2b2ae3du;
        h = (h ^ (h >> 15)) * 0x2c1b3c6du;
        h = (h ^ (h >> 12)) * 0x297a2d39u;
        return (h ^ (h >> 15)) / 4294967296f;
    }

    private static float Rise((float Sin, float Cos) direction, float dx, float dy) => direction.Cos * dx + direction.Sin * dy;

    private (float Sin, float Cos)[] Directions(int cells, uint layer)
    {
        for (var slot = (int)((uint)cells * 31 + layer) & (MostLattices - 1); ; slot = slot + 1 & (MostLattices - 1))
        {
            var found = Volatile.Read(ref lattices[slot]);
            if (found is null)
                found = Interlocked.CompareExchange(ref lattices[slot], Made(cells, layer), null) ?? lattices[slot]!;
            if (found.Cells == cells && found.Layer == layer)
                return found.Directions;
        }
    }

    private Lattice Made(int cells, uint layer)
    {
        var directions = new (float, float)[cells * cells];
        for (var i = 0; i < directions.Length; i++)
            directions[i] = MathF.SinCos(Random(i % cells, i / cells, layer) * MathF.Tau);
        return new(cells, layer, directions);
    }

    private static int Wrap(int i, int n) => (i % n + n) % n;
}
