using System.Numerics;
using Kiln.Models;
using Kiln.Models.Measures;
using Kiln.Pixels;

namespace Kiln.Analysis.Models;

/// <summary>
/// Parts drawn as they lie over their map: V upwards, whole tiles. What lies over each other is dark, what is mirrored is hatched; borders
/// of islands are lines, edges within them are fine ones.
/// </summary>
public sealed class UvSheet
{
    /// <summary>What is farther out is not drawn.</summary>
    private const int MostTiles = 12;

    /// <summary>Of more triangles no lines are drawn: they would be finer than pixels, and their edges fill the memory.</summary>
    private const int MostLined = 1_000_000;

    private const int Hatch = 8;
    private const float Dimmed = 0.55f,
        Fine = 0.35f;

    private static readonly Vector3 Ink = new(0.09f, 0.1f, 0.12f),
        Halo = new(0.97f, 0.96f, 0.94f),
        Twice = new(72 / 255f, 92 / 255f, 138 / 255f);

    private readonly IReadOnlyList<(ModelPart Part, UvSet Set)> parts;
    private readonly double scale;

    /// <param name="longest">Pixels of the longer side.</param>
    public UvSheet(IReadOnlyList<(ModelPart Part, UvSet Set)> parts, int longest)
    {
        this.parts = parts;
        var (min, max) = (Vector2.Zero, Vector2.One);
        foreach (var (part, set) in parts)
            for (var t = 0; t < part.Triangles; t++)
                if (set.Has(t))
                {
                    var (a, b, c) = set.Of(t);
                    min = Vector2.Min(min, Vector2.Min(a, Vector2.Min(b, c)) + new Vector2(1e-4f));
                    max = Vector2.Max(max, Vector2.Max(a, Vector2.Max(b, c)) - new Vector2(1e-4f));
                }
        // Whole tiles, the first one always among them.
        From = Vector2.Max(new(MathF.Floor(min.X), MathF.Floor(min.Y)), new(1 - MostTiles));
        To = Vector2.Min(new(MathF.Ceiling(max.X), MathF.Ceiling(max.Y)), From + new Vector2(MostTiles));
        var size = To - From;
        scale = longest / Math.Max(size.X, size.Y);
        (Width, Height) = ((int)Math.Round(size.X * scale), (int)Math.Round(size.Y * scale));
    }

    /// <summary>The lower left corner of what is drawn, in UV.</summary>
    public Vector2 From { get; }

    public Vector2 To { get; }

    public int Width { get; }

    public int Height { get; }

    /// <summary>UV in the middle of a pixel; rows count downwards.</summary>
    public Vector2 At(int x, int y) => new((float)(From.X + (x + 0.5) / scale), (float)(To.Y - (y + 0.5) / scale));

    private Vector2 Pixel(Vector2 uv) => new((float)((uv.X - From.X) * scale), (float)((To.Y - uv.Y) * scale));

    /// <summary>The drawing, 8 bits for display.</summary>
    /// <param name="under">The map at a pixel, as it is shown, 0..1.</param>
    public ImageBuffer Draw(UvTone tone, Func<int, int, Vector3> under)
    {
        var (counts, mirrored, values) = (new byte[Width * Height], new bool[Width * Height], new float[Width * Height]);
        var median = tone == UvTone.Density ? UvMeasures.MedianDensity(parts) ?? 1 : 1;
        foreach (var (part, set) in parts)
            for (var t = 0; t < part.Triangles; t++)
                if (set.Has(t))
                {
                    var value = (float)(
                        tone == UvTone.Stretch ? UvMeasures.Stretch(part, set, t)
                        : tone == UvTone.Density
                            ? Math.Max(UvMeasures.Density(part, set, t) / median, median / UvMeasures.Density(part, set, t))
                        : 0
                    );
                    var isMirrored = UvMeasures.Signed(set.Of(t)) < 0;
                    Fill(set.Of(t), at =>
                    {
                        counts[at] = (byte)Math.Min(counts[at] + 1, byte.MaxValue);
                        mirrored[at] |= isMirrored;
                        values[at] = Math.Max(values[at], value);
                    });
                }
        var shown = new Vector3[Width * Height];
        var steps = UvSteps.Of(tone);
        Parallel.For(0, Height, y =>
        {
            for (var x = 0; x < Width; x++)
            {
                var at = y * Width + x;
                shown[at] = Surface(
                    under(x, y),
                    counts[at],
                    tone == UvTone.Layout ? null : steps.First(s => s.UpTo is null || values[at] <= s.UpTo)
                );
                if (mirrored[at] && (x + y) % Hatch < 2)
                    shown[at] = Vector3.Lerp(shown[at], Ink, 0.6f);
            }
        });
        Tiles(shown);
        if (parts.Sum(p => (long)p.Part.Triangles) <= MostLined)
            Edges(shown);
        var picture = new ImageBuffer(Width, Height, ImageBuffer.Rgb, SampleType.U8);
        for (var i = 0; i < shown.Length; i++)
        for (var c = 0; c < 3; c++)
            picture.Data[3 * i + c] = (byte)MathF.Round(Math.Clamp(shown[i][c], 0, 1) * 255);
        return picture;
    }

    private static Vector3 Surface(Vector3 under, int count, UvStep? step)
    {
        if (count == 0)
            return Vector3.Lerp(under, Halo, Dimmed);
        if (step is not null)
            return new Vector3(step.Red, step.Green, step.Blue) / 255;
        return count == 1 ? under : Vector3.Lerp(under, Twice, 0.6f);
    }

    /// <summary>Told of each pixel whose middle lies in a triangle.</summary>
    private void Fill((Vector2 A, Vector2 B, Vector2 C) of, Action<int> pixel)
    {
        var (a, b, c) = (Pixel(of.A), Pixel(of.B), Pixel(of.C));
        if (Cross(a, b, c) < 0)
            (b, c) = (c, b);
        int x0 = (int)Math.Clamp(Math.Min(a.X, Math.Min(b.X, c.X)), 0, Width),
            x1 = (int)Math.Clamp(Math.Ceiling(Math.Max(a.X, Math.Max(b.X, c.X))), 0, Width),
            y0 = (int)Math.Clamp(Math.Min(a.Y, Math.Min(b.Y, c.Y)), 0, Height),
            y1 = (int)Math.Clamp(Math.Ceiling(Math.Max(a.Y, Math.Max(b.Y, c.Y))), 0, Height);
        for (var y = y0; y < y1; y++)
        for (var x = x0; x < x1; x++)
        {
            var p = new Vector2(x + 0.5f, y + 0.5f);
            if (IsLeft(a, b, p) && IsLeft(b, c, p) && IsLeft(c, a, p))
                pixel(y * Width + x);
        }
    }

    private static double Cross(Vector2 a, Vector2 b, Vector2 p) =>
        ((double)b.X - a.X) * ((double)p.Y - a.Y) - ((double)b.Y - a.Y) * ((double)p.X - a.X);

    /// <summary>An edge is told in one direction whoever asks, so that a pixel belongs to one of its two sides.</summary>
    private static bool IsLeft(Vector2 from, Vector2 to, Vector2 p)
    {
        var isTurned = from.X > to.X || from.X == to.X && from.Y > to.Y;
        return isTurned ? Cross(to, from, p) < 0 : Cross(from, to, p) >= 0;
    }

    private void Tiles(Vector3[] shown)
    {
        for (var u = (int)From.X; u <= (int)To.X; u++)
            Line(shown, Pixel(new(u, From.Y)), Pixel(new(u, To.Y)), Ink, 0.5f);
        for (var v = (int)From.Y; v <= (int)To.Y; v++)
            Line(shown, Pixel(new(From.X, v)), Pixel(new(To.X, v)), Ink, 0.5f);
    }

    /// <summary>An edge that two triangles have lies within an island, and is drawn where triangles are larger than a few pixels.</summary>
    private void Edges(Vector3[] shown)
    {
        foreach (var (part, set) in parts)
        {
            var seen = new Dictionary<(Vector2, Vector2), int>();
            double area = 0;
            for (var t = 0; t < part.Triangles; t++)
            {
                if (!set.Has(t))
                    continue;
                var (a, b, c) = set.Of(t);
                area += Math.Abs(UvMeasures.Signed((a, b, c))) * scale * scale;
                foreach (var edge in (ReadOnlySpan<(Vector2, Vector2)>)[Ordered(a, b), Ordered(b, c), Ordered(c, a)])
                    seen[edge] = seen.GetValueOrDefault(edge) + 1;
            }
            if (area / Math.Max(1, part.Triangles) > 30)
                foreach (var ((a, b), _) in seen.Where(e => e.Value > 1))
                    Line(shown, Pixel(a), Pixel(b), Ink, Fine);
            foreach (var ((a, b), _) in seen.Where(e => e.Value == 1))
            {
                Line(shown, Pixel(a) + Vector2.One, Pixel(b) + Vector2.One, Halo, 0.7f);
                Line(shown, Pixel(a), Pixel(b), Ink, 1);
            }
        }
    }

    private static (Vector2, Vector2) Ordered(Vector2 a, Vector2 b) => a.X < b.X || a.X == b.X && a.Y < b.Y ? (a, b) : (b, a);

    private void Line(Vector3[] shown, Vector2 from, Vector2 to, Vector3 colour, float share)
    {
        var (dx, dy) = (to.X - from.X, to.Y - from.Y);
        var count = Math.Max(Math.Abs(dx), Math.Abs(dy));
        if (!(count < 4 * (Width + Height)))
            return;
        var before = -1;
        for (var i = 0; i <= (int)MathF.Ceiling(count); i++)
        {
            var share01 = count > 0 ? Math.Min(1, i / count) : 0;
            var (x, y) = (Math.Min((int)(from.X + share01 * dx), Width - 1), Math.Min((int)(from.Y + share01 * dy), Height - 1));
            if (x < 0 || y < 0 || y * Width + x == before)
                continue;
            before = y * Width + x;
            shown[before] = Vector3.Lerp(shown[before], colour, share);
        }
    }
}
