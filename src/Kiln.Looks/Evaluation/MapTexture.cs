using System.Numerics;
using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Looks.Evaluation;

/// <summary>
/// A map as its reading takes it: linear in the working space for colours, stored numbers for scalars and directions, with a mip pyramid.
/// Colours and directions are kept as half floats; scalars as floats, because a height in halves has steps that a slope shows.
/// Repeats endlessly in both directions, or is one of UDIM tiles, which do not go on over their edges; v = 0 is the bottom row.
/// </summary>
public sealed class MapTexture
{
    /// <summary>One of the two arrays is used: floats with one component, halves with three.</summary>
    private readonly record struct Level(int Width, int Height, Half[] Texels, float[] Scalars);

    private readonly Level finest;
    private readonly Lazy<Level[]> pyramid;
    private readonly int components;
    private readonly IReadOnlyDictionary<int, MapTexture>? tiles;
    private readonly Vector3 missing;
    private bool repeats = true;

    private MapTexture(Level finest, int components)
    {
        this.finest = finest;
        this.components = components;
        // Whole pictures of the same size need no smaller ones; the first lookup does.
        pyramid = new(Pyramid);
    }

    /// <summary>
    /// Several pictures, each in its unit square of UV. Where there is none, a number or colour is 0 and a direction straight up, as the
    /// standard image and normal map nodes give it.
    /// </summary>
    private MapTexture(IReadOnlyDictionary<int, MapTexture> tiles, Vector3 missing)
        : this(tiles[tiles.Keys.Min()].finest, tiles[tiles.Keys.Min()].components) => (this.tiles, this.missing) = (tiles, missing);

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
    public long Bytes =>
        tiles is not null ? tiles.Values.Sum(t => t.Bytes) : (2L * finest.Texels.Length + 4L * finest.Scalars.Length) * 4 / 3;

    /// <summary>Takes a decoded picture through a reading.</summary>
    /// <exception cref="PictureException">The picture does not have the channel the reading asks for.</exception>
    public static MapTexture Of(ImageBuffer picture, Reading reading, WorkingSpace working)
    {
        var components = reading.Components;
        var top = Empty(picture.Width, picture.Height, components);
        var take = ChannelTaker.For(picture, reading, working);
        Parallel.For(0, (picture.Height + 15) / 16, strip =>
        {
            var row = new float[picture.Width * picture.ChannelCount];
            var taken = new float[picture.Width * components];
            for (var y = strip * 16; y < Math.Min(picture.Height, strip * 16 + 16); y++)
            {
                picture.ReadRow(y, row);
                take.Row(row, taken);
                Store(top, y, taken);
            }
        });
        return new(top, components);
    }

    private Level[] Pyramid()
    {
        var made = new List<Level> { finest };
        while (made[^1] is { Width: > 1 } or { Height: > 1 })
            made.Add(Halved(made[^1], components));
        return [.. made];
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
    private static float One(in Level level, int x, int y) => level.Scalars[y * level.Width + x];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector3 Three(in Level level, int x, int y)
    {
        ref var texel = ref Unsafe.As<Half, ushort>(ref level.Texels[(y * level.Width + x) * 3]);
        return new(HalfRows.ToSingle(texel), HalfRows.ToSingle(Unsafe.Add(ref texel, 1)), HalfRows.ToSingle(Unsafe.Add(ref texel, 2)));
    }

    private static Level Halved(Level level, int components)
    {
        int width = Math.Max(1, level.Width / 2),
            height = Math.Max(1, level.Height / 2);
        var result = Empty(width, height, components);
        Parallel.For(0, height, y =>
        {
            var upper = new float[level.Width * components];
            var lower = new float[level.Width * components];
            var target = new float[width * components];
            Load(level, Math.Min(2 * y, level.Height - 1), upper);
            Load(level, Math.Min(2 * y + 1, level.Height - 1), lower);
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

    private static Level Empty(int width, int height, int components) =>
        components == 1 ? new(width, height, [], new float[width * height]) : new(width, height, new Half[width * height * components], []);

    private static void Store(in Level level, int y, ReadOnlySpan<float> row)
    {
        if (level.Scalars.Length > 0)
            row.CopyTo(level.Scalars.AsSpan(y * row.Length, row.Length));
        else
            TensorPrimitives.ConvertToHalf(row, level.Texels.AsSpan(y * row.Length, row.Length));
    }

    private static void Load(in Level level, int y, Span<float> row)
    {
        if (level.Scalars.Length > 0)
            level.Scalars.AsSpan(y * row.Length, row.Length).CopyTo(row);
        else
            TensorPrimitives.ConvertToSingle(level.Texels.AsSpan(y * row.Length, row.Length), row);
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
        var at = (y * level.Width + x) * components;
        if (level.Scalars.Length > 0)
            level.Scalars.AsSpan(at, piece.Length).CopyTo(piece);
        else
            TensorPrimitives.ConvertToSingle(level.Texels.AsSpan(at, piece.Length), piece);
    }
}
