using System.Numerics;
using Kiln.Demo.Surfaces;
using Kiln.Pixels;

namespace Kiln.Demo;

/// <summary>The maps of one demo surface. Normal and occlusion are derived from the height, so everything agrees.</summary>
public sealed class DemoMaps
{
    private readonly DemoPoint[] points;
    private readonly float[] heights;
    private readonly int size;
    private readonly float relief;

    public DemoMaps(DemoSurface surface, int size)
    {
        (this.size, relief) = (size, surface.ReliefMetres);
        points = new DemoPoint[size * size];
        Parallel.For(0, size, y =>
        {
            for (var x = 0; x < size; x++)
                points[y * size + x] = surface.At((x + 0.5f) / size, 1 - (y + 0.5f) / size);
        });
        heights = [.. points.Select(p => p.Height)];
    }

    public ImageBuffer BaseColour(SampleType type = SampleType.U8) => Three(type, p => p.BaseColour);

    public ImageBuffer Emission() => Three(SampleType.U8, p => p.Emission);

    public ImageBuffer Metalness() => One(SampleType.U8, p => p.Metalness);

    public ImageBuffer Roughness() => One(SampleType.U8, p => p.Roughness);

    public ImageBuffer Glossiness() => One(SampleType.U8, p => 1 - p.Roughness);

    public ImageBuffer Opacity() => One(SampleType.U8, p => p.Opacity);

    public ImageBuffer Height(SampleType type = SampleType.U16) => One(type, p => p.Height);

    public ImageBuffer Occlusion() => Fill(ImageBuffer.Grey, SampleType.U8, (x, y, row) => row[0] = OcclusionAt(x, y));

    /// <summary>Occlusion, roughness and metalness in r, g and b.</summary>
    public ImageBuffer Packed() => Fill(ImageBuffer.Rgb, SampleType.U8, (x, y, row) =>
        {
            var p = points[y * size + x];
            (row[0], row[1], row[2]) = (OcclusionAt(x, y), p.Roughness, p.Metalness);
        });

    /// <summary>Tangent-space normals of one repeat a metre wide; <paramref name="down"/> turns green over.</summary>
    public ImageBuffer Normal(bool down, SampleType type = SampleType.U8) => Fill(ImageBuffer.Rgb, type, (x, y, row) =>
        {
            var du = (HeightAt(x + 1, y) - HeightAt(x - 1, y)) * relief * size / 2;
            var dv = (HeightAt(x, y - 1) - HeightAt(x, y + 1)) * relief * size / 2;
            var n = Vector3.Normalize(new(-du, -dv, 1));
            (row[0], row[1], row[2]) = (0.5f + 0.5f * n.X, 0.5f + 0.5f * (down ? -n.Y : n.Y), 0.5f + 0.5f * n.Z);
        });

    private float HeightAt(int x, int y) => heights[(y + size) % size * size + (x + size) % size];

    private const int Directions = 8;

    /// <summary>Where the horizon is looked for: texels to the side and down, and how far that is.</summary>
    private static readonly (int X, int Y, int Step)[] HorizonAt =
    [
        .. Enumerable
            .Range(0, Directions)
            .SelectMany(k =>
            {
                var (sin, cos) = MathF.SinCos(k * MathF.PI / 4);
                return ((int[])[2, 5, 11, 23]).Select(step => ((int)MathF.Round(cos * step), (int)MathF.Round(sin * step), step));
            }),
    ];

    /// <summary>How much sky is left by the horizon in eight directions: the usual approximation, common practice, no source.</summary>
    private float OcclusionAt(int x, int y)
    {
        var centre = HeightAt(x, y);
        float open = 0;
        for (var k = 0; k < HorizonAt.Length; )
        {
            float horizon = 0;
            for (var end = k + HorizonAt.Length / Directions; k < end; k++)
            {
                var (dx, dy, step) = HorizonAt[k];
                horizon = MathF.Max(horizon, (HeightAt(x + dx, y + dy) - centre) * relief * size / step);
            }
            open += 1 - horizon / MathF.Sqrt(1 + horizon * horizon);
        }
        return open / Directions;
    }

    private ImageBuffer One(SampleType type, Func<DemoPoint, float> value) =>
        Fill(ImageBuffer.Grey, type, (x, y, row) => row[0] = value(points[y * size + x]));

    private ImageBuffer Three(SampleType type, Func<DemoPoint, Vector3> value) => Fill(ImageBuffer.Rgb, type, (x, y, row) =>
        {
            var v = value(points[y * size + x]);
            (row[0], row[1], row[2]) = (v.X, v.Y, v.Z);
        });

    private delegate void Pixel(int x, int y, Span<float> row);

    private ImageBuffer Fill(System.Collections.Immutable.ImmutableArray<string> channels, SampleType type, Pixel pixel)
    {
        var result = new ImageBuffer(size, size, channels, type);
        Parallel.For(0, size, y =>
        {
            var row = new float[size * channels.Length];
            for (var x = 0; x < size; x++)
                pixel(x, y, row.AsSpan(x * channels.Length, channels.Length));
            result.WriteRow(y, row);
        });
        return result;
    }
}
