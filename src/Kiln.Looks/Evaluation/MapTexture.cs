using System.Numerics;
using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Simd;

namespace Kiln.Looks.Evaluation;

/// <summary>
/// A map as its reading takes it: linear in the working space for colours, stored numbers for scalars and directions, with a mip pyramid.
/// Colours and directions are kept as half floats; scalars as floats, because a height in halves has steps that a slope shows.
/// Repeats endlessly in both directions, or is one of UDIM tiles, which do not go on over their edges; v = 0 is the bottom row.
/// </summary>
public sealed class MapTexture
{
    /// <summary>One of the copies, each half as large as the one before, and where it begins, in numbers.</summary>
    private readonly record struct Level(int Width, int Height, int Begin);

    private readonly Level finest;
    private readonly Lazy<Level[]> pyramid;
    private readonly int components;

    /// <summary>
    /// All copies, one after the other; one of the two arrays is used: floats with one component, halves with three. Memory of copies that
    /// are never made is never touched.
    /// </summary>
    private readonly Half[] texels;
    private readonly float[] scalars;
    private WideTexture? wide;
    private readonly IReadOnlyDictionary<int, MapTexture>? tiles;
    private readonly Vector3 missing;
    private bool repeats = true;

    private MapTexture(int width, int height, int components)
    {
        finest = new(width, height, 0);
        this.components = components;
        var numbers = 0;
        for (var (w, h) = (width, height); ; (w, h) = (Math.Max(1, w / 2), Math.Max(1, h / 2)))
        {
            numbers = checked(numbers + w * h * components);
            if (w == 1 && h == 1)
                break;
        }
        // One more, so that a texel may be read as two pairs of halves.
        texels = components == 1 ? [] : GC.AllocateUninitializedArray<Half>(numbers + 1);
        scalars = components == 1 ? GC.AllocateUninitializedArray<float>(numbers) : [];
        // Whole pictures of the same size need no smaller ones; the first lookup does.
        pyramid = new(Pyramid);
    }

    private MapTexture(MapTexture first)
    {
        (finest, components, pyramid) = (first.finest, first.components, first.pyramid);
        (texels, scalars) = (first.texels, first.scalars);
    }

    /// <summary>
    /// Several pictures, each in its unit square of UV. Where there is none, a number or colour is 0 and a direction straight up, as the
    /// standard image and normal map nodes give it.
    /// </summary>
    private MapTexture(IReadOnlyDictionary<int, MapTexture> tiles, Vector3 missing)
        : this(tiles[tiles.Keys.Min()]) => (this.tiles, this.missing) = (tiles, missing);

    public static MapTexture OfTiles(IReadOnlyDictionary<int, MapTexture> tiles, Reading reading)
    {
        foreach (var tile in tiles.Values)
            tile.repeats = false;
        return new(tiles, reading.Kind == ReadingKind.Direction ? new(0.5f, 0.5f, 1) : Vector3.Zero);
    }

    /// <summary>The numbers of its tiles; none where it is one picture.</summary>
    public IEnumerable<int> Tiles => tiles?.Keys ?? [];

    /// <summary>The picture of one tile; itself where it has none, null where that tile is missing.</summary>
    public MapTexture? OnTile(int number) => tiles is null ? this : tiles.GetValueOrDefault(number);

    public int Width => finest.Width;

    public int Height => finest.Height;

    /// <summary>With all smaller copies, whether they are made yet or not.</summary>
    public long Bytes => tiles is not null ? tiles.Values.Sum(t => t.Bytes) : 2L * texels.Length + 4L * scalars.Length;

    /// <summary>Takes a decoded picture through a reading.</summary>
    /// <exception cref="PictureException">The picture does not have the channel the reading asks for.</exception>
    public static MapTexture Of(ImageBuffer picture, Reading reading, WorkingSpace working)
    {
        var components = reading.Components;
        var texture = new MapTexture(picture.Width, picture.Height, components);
        var take = ChannelTaker.For(picture, reading, working);
        Parallel.For(0, (picture.Height + 15) / 16, strip =>
        {
            var row = new float[picture.Width * picture.ChannelCount];
            var taken = new float[picture.Width * components];
            for (var y = strip * 16; y < Math.Min(picture.Height, strip * 16 + 16); y++)
            {
                picture.ReadRow(y, row);
                take.Row(row, taken);
                texture.Store(texture.finest, y, taken);
            }
        });
        return texture;
    }

    private Level[] Pyramid()
    {
        var made = new List<Level> { finest };
        while (made[^1] is { Width: > 1 } or { Height: > 1 })
            made.Add(Halved(made[^1]));
        wide = new(texels, scalars, [.. made.Select(l => (l.Width, l.Height, l.Begin))]);
        return [.. made];
    }

    /// <summary>Eight lookups at once.</summary>
    /// <param name="footprint">Sides of squares, in units of the whole picture.</param>
    public Wide3 Sample(Wide u, Wide v, Wide footprint)
    {
        if (tiles is null && repeats)
        {
            _ = pyramid.Value;
            if (wide!.MayGather)
                return wide.Sample(u, v, footprint);
        }
        var result = Wide3.Zero;
        for (var lane = 0; lane < Wide.Count; lane++)
            result[lane] = Sample(new Vector2(u[lane], v[lane]), footprint[lane]);
        return result;
    }

    /// <summary>A lookup at picture coordinates, filtered over a footprint (side of a square, in units of the whole picture).</summary>
    public Vector3 Sample(Vector2 at, float footprint)
    {
        if (tiles is not null)
            return MapTile.At(at) is { } number && tiles.TryGetValue(number, out var tile) ? tile.Sample(at, footprint) : missing;
        var level = MathF.Log2(MathF.Max(footprint * MathF.Max(Width, Height), 1e-6f));
        if (level <= 0)
            return Bilinear(finest, at);
        var levels = pyramid.Value;
        if (level >= levels.Length - 1)
            return Bilinear(levels[^1], at);
        var lower = (int)level;
        var a = Bilinear(levels[lower], at);
        return a + (Bilinear(levels[lower + 1], at) - a) * (level - lower);
    }

    private Vector3 Bilinear(in Level level, Vector2 at)
    {
        float x = (at.X - MathF.Floor(at.X)) * level.Width - 0.5f,
            y = (1f - (at.Y - MathF.Floor(at.Y))) * level.Height - 0.5f;
        int x0 = (int)MathF.Floor(x),
            y0 = (int)MathF.Floor(y);
        float fx = x - x0,
            fy = y - y0;
        int x1 = x0 + 1,
            y1 = y0 + 1;
        if (repeats)
        {
            x1 = x1 == level.Width ? 0 : x1;
            y1 = y1 >= level.Height ? y1 - level.Height : y1;
            x0 = x0 < 0 ? level.Width - 1 : x0;
            y0 = y0 < 0 ? level.Height - 1 : y0;
        }
        else
        {
            (x0, y0) = (Math.Max(x0, 0), Math.Max(y0, 0));
            y1 = Math.Min(y1, level.Height - 1);
        }
        // A coordinate a hair below the wrap can round up to the far edge.
        x0 = Math.Min(x0, level.Width - 1);
        x1 = Math.Min(x1, level.Width - 1);
        y0 = Math.Min(y0, level.Height - 1);
        if (components == 1)
        {
            float a = One(level, x0, y0),
                b = One(level, x1, y0),
                c = One(level, x0, y1),
                d = One(level, x1, y1);
            float top = a + (b - a) * fx,
                bottom = c + (d - c) * fx;
            return new(top + (bottom - top) * fy);
        }
        var upper = Vector3.Lerp(Three(level, x0, y0), Three(level, x1, y0), fx);
        return Vector3.Lerp(upper, Vector3.Lerp(Three(level, x0, y1), Three(level, x1, y1), fx), fy);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private float One(in Level level, int x, int y) => scalars[level.Begin + y * level.Width + x];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Vector3 Three(in Level level, int x, int y)
    {
        ref var texel = ref Unsafe.As<Half, ushort>(ref texels[level.Begin + (y * level.Width + x) * 3]);
        return new(HalfRows.ToSingle(texel), HalfRows.ToSingle(Unsafe.Add(ref texel, 1)), HalfRows.ToSingle(Unsafe.Add(ref texel, 2)));
    }

    private Level Halved(Level level)
    {
        int width = Math.Max(1, level.Width / 2),
            height = Math.Max(1, level.Height / 2);
        var result = new Level(width, height, level.Begin + level.Width * level.Height * components);
        Parallel.For(0, height, y =>
        {
            var upper = new float[level.Width * components];
            var lower = new float[level.Width * components];
            var target = new float[width * components];
            Read(level, Math.Min(2 * y, level.Height - 1), 0, upper);
            Read(level, Math.Min(2 * y + 1, level.Height - 1), 0, lower);
            for (var x = 0; x < width; x++)
            {
                int left = Math.Min(2 * x, level.Width - 1) * components,
                    right = Math.Min(2 * x + 1, level.Width - 1) * components;
                for (var c = 0; c < components; c++)
                    target[x * components + c] = 0.25f * (upper[left + c] + upper[right + c] + lower[left + c] + lower[right + c]);
            }
            Store(result, y, target);
        });
        return result;
    }

    private void Store(in Level level, int y, ReadOnlySpan<float> row)
    {
        var at = level.Begin + y * row.Length;
        if (components == 1)
            row.CopyTo(scalars.AsSpan(at, row.Length));
        else
            TensorPrimitives.ConvertToHalf(row, texels.AsSpan(at, row.Length));
    }

    /// <summary>1 or 3.</summary>
    public int Components => components;

    /// <summary>A piece of a row of the finest level as it is stored, top row first; components interleaved.</summary>
    public void Read(int y, int x, Span<float> piece) => Read(finest, y, x, piece);

    /// <summary>Copies by halves, the finest first, down to one pixel.</summary>
    public int Levels => pyramid.Value.Length;

    public (int Width, int Height) Size(int level) => (pyramid.Value[level].Width, pyramid.Value[level].Height);

    /// <summary>A piece of a row of one of the copies.</summary>
    public void Read(int level, int y, int x, Span<float> piece) => Read(pyramid.Value[level], y, x, piece);

    private void Read(in Level level, int y, int x, Span<float> piece)
    {
        var at = level.Begin + (y * level.Width + x) * components;
        if (components == 1)
            scalars.AsSpan(at, piece.Length).CopyTo(piece);
        else
            TensorPrimitives.ConvertToSingle(texels.AsSpan(at, piece.Length), piece);
    }
}
