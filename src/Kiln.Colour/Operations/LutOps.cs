using System.Numerics;
using Kiln.Colour.Configs;

namespace Kiln.Colour.Operations;

/// <summary>
/// A table for each channel over a range, values between entries in a straight line, the first and last entry beyond the ends.
/// </summary>
public sealed record Lut1DOp : ColourOp
{
    private readonly float[][] tables;
    private readonly float low,
        high;
    private readonly bool nearest,
        inverse;

    /// <param name="tables">Three tables of one length, at least two entries.</param>
    public Lut1DOp(float[][] tables, float low = 0, float high = 1, bool nearest = false, bool inverse = false)
    {
        (this.tables, this.low, this.high, this.nearest, this.inverse) = (tables, low, high, nearest, inverse);
        if (inverse)
            foreach (var table in tables)
                for (var i = 1; i < table.Length; i++)
                    if ((table[i] < table[i - 1]) != (table[^1] < table[0]) && table[i] != table[i - 1])
                        throw new ConfigException("a table that goes up and down is asked for backwards");
    }

    public override void Apply(Span<Vector4> pixels)
    {
        foreach (ref var p in pixels)
            p = inverse
                ? new(Back(p.X, tables[0]), Back(p.Y, tables[1]), Back(p.Z, tables[2]), p.W)
                : new(At(p.X, tables[0]), At(p.Y, tables[1]), At(p.Z, tables[2]), p.W);
    }

    private float At(float x, float[] table)
    {
        var at = (x - low) / (high - low) * (table.Length - 1);
        if (!(at > 0))
            return table[0];
        if (at >= table.Length - 1)
            return table[^1];
        if (nearest)
            return table[(int)(at + 0.5f)];
        var i = (int)at;
        return table[i] + (at - i) * (table[i + 1] - table[i]);
    }

    private float Back(float y, float[] table)
    {
        var falls = table[^1] < table[0];
        int from = 0,
            to = table.Length - 1;
        if (falls ? y >= table[0] : y <= table[0])
            return low + (high - low) * Flat(table, 0, 1) / to;
        if (falls ? y <= table[^1] : y >= table[^1])
            return low + (high - low) * Flat(table, to, -1) / to;
        var last = to;
        while (to - from > 1)
        {
            var middle = (from + to) / 2;
            if (falls ? table[middle] > y : table[middle] < y)
                from = middle;
            else
                to = middle;
        }
        var step = table[to] - table[from];
        return low + (high - low) * (from + (step == 0 ? 0 : (y - table[from]) / step)) / last;
    }

    /// <summary>The far end of a flat piece at an end of the table, from where on the inverse is meant.</summary>
    private static int Flat(float[] table, int at, int step)
    {
        var value = table[at];
        while (at + step >= 0 && at + step < table.Length && table[at + step] == value)
            at += step;
        return at;
    }

    public override ColourOp Inverse() => new Lut1DOp(tables, low, high, nearest, !inverse);
}

/// <summary>A cube of colours over 0 to 1 for each channel; blue runs fastest in memory.</summary>
public sealed record Lut3DOp(int Size, Vector3[] Entries, bool Tetrahedral) : ColourOp
{
    public override void Apply(Span<Vector4> pixels)
    {
        foreach (ref var p in pixels)
            p = new(Tetrahedral ? Tetrahedron(p) : Cube(p), p.W);
    }

    private Vector3 Entry(int r, int g, int b) => Entries[(r * Size + g) * Size + b];

    private (int R, int G, int B, Vector3 Part) Cell(Vector4 p)
    {
        // NaN becomes zero.
        var at = Vector3.Min(Vector3.Max(p.AsVector3(), Vector3.Zero), Vector3.One) * (Size - 1);
        int r = Math.Clamp((int)at.X, 0, Size - 2),
            g = Math.Clamp((int)at.Y, 0, Size - 2),
            b = Math.Clamp((int)at.Z, 0, Size - 2);
        return (r, g, b, at - new Vector3(r, g, b));
    }

    private Vector3 Cube(Vector4 p)
    {
        var (r, g, b, f) = Cell(p);
        var c00 = Vector3.Lerp(Entry(r, g, b), Entry(r, g, b + 1), f.Z);
        var c01 = Vector3.Lerp(Entry(r, g + 1, b), Entry(r, g + 1, b + 1), f.Z);
        var c10 = Vector3.Lerp(Entry(r + 1, g, b), Entry(r + 1, g, b + 1), f.Z);
        var c11 = Vector3.Lerp(Entry(r + 1, g + 1, b), Entry(r + 1, g + 1, b + 1), f.Z);
        return Vector3.Lerp(Vector3.Lerp(c00, c01, f.Y), Vector3.Lerp(c10, c11, f.Y), f.X);
    }

    /// <summary>The six tetrahedra around the diagonal (Kasson et al. 1995).</summary>
    private Vector3 Tetrahedron(Vector4 p)
    {
        var (r, g, b, f) = Cell(p);
        Vector3 first = Entry(r, g, b),
            last = Entry(r + 1, g + 1, b + 1);
        if (f.X > f.Y)
        {
            if (f.Y > f.Z)
                return (1 - f.X) * first + (f.X - f.Y) * Entry(r + 1, g, b) + (f.Y - f.Z) * Entry(r + 1, g + 1, b) + f.Z * last;
            return f.X > f.Z
                ? (1 - f.X) * first + (f.X - f.Z) * Entry(r + 1, g, b) + (f.Z - f.Y) * Entry(r + 1, g, b + 1) + f.Y * last
                : (1 - f.Z) * first + (f.Z - f.X) * Entry(r, g, b + 1) + (f.X - f.Y) * Entry(r + 1, g, b + 1) + f.Y * last;
        }
        if (f.Z > f.Y)
            return (1 - f.Z) * first + (f.Z - f.Y) * Entry(r, g, b + 1) + (f.Y - f.X) * Entry(r, g + 1, b + 1) + f.X * last;
        return f.Z > f.X
            ? (1 - f.Y) * first + (f.Y - f.Z) * Entry(r, g + 1, b) + (f.Z - f.X) * Entry(r, g + 1, b + 1) + f.X * last
            : (1 - f.Y) * first + (f.Y - f.X) * Entry(r, g + 1, b) + (f.X - f.Z) * Entry(r + 1, g + 1, b) + f.Z * last;
    }

    public override ColourOp Inverse() =>
        throw new ConfigException("a three-dimensional table is asked for backwards, which is not supported");
}
