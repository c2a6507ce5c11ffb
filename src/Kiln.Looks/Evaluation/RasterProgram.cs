using System.Numerics;
using System.Numerics.Tensors;
using Kiln.Looks.Graph;
using Kiln.Pixels;

namespace Kiln.Looks.Evaluation;

/// <summary>
/// A part of a graph over a whole unit square of UV, row by row with vectors: for tiles, meters and bakes. Numbers are held as one plane a
/// component.
/// What looks around itself (blur, slopes of a height) is worked out from a finished picture of its input, which repeats at the edges.
/// </summary>
internal sealed class RasterProgram
{
    private readonly ShadeProgram program;
    private readonly int root,
        width,
        height,
        tile;
    private readonly Vector2 corner;
    private readonly int[] order;
    private readonly Dictionary<int, float[][]> finished = [];

    public RasterProgram(ShadeProgram program, int root, int width, int height, int tile)
    {
        (this.program, this.root, this.width, this.height, this.tile) = (program, root, width, height, tile);
        corner = Maps.MapTile.Corner(tile);
        order = Needed(root);
        // Inputs come first, so what a finished picture needs is finished before it.
        foreach (var i in order.Where(LooksAround))
            if (!finished.ContainsKey(i))
                finished[i] = program.Node(i).Op == ShadeOp.Blur ? Blurred(i) : Slopes(i);
    }

    private static int PlanesOf(ShadeType type) => type == ShadeType.Scalar ? 1 : 3;

    private bool LooksAround(int i) => program.Node(i).Op is ShadeOp.Blur or ShadeOp.HeightToNormal;

    /// <summary>Registers that a register needs, up to finished pictures but with their own order kept.</summary>
    private int[] Needed(int register)
    {
        var needed = new SortedSet<int>();
        var open = new Stack<int>([register]);
        while (open.TryPop(out var i))
            if (needed.Add(i))
                foreach (var input in program.Inputs(i))
                    open.Push(input);
        return [.. needed];
    }

    /// <summary>The root as a picture with 1 or 3 channels, top row first.</summary>
    public ImageBuffer Picture(ShadeType type, SampleType samples)
    {
        var channels = PlanesOf(type);
        var result = new ImageBuffer(width, height, ImageBuffer.UsualChannels(channels), samples);
        EachPiece(order, (y, from, count, planes) =>
        {
            var own = planes.Of[root];
            if (channels == 1)
            {
                result.Write(y, from, own[0].AsSpan(0, count));
                return;
            }
            var row = planes.Texels.AsSpan(0, 3 * count);
            PixelRows.Join(own[0].AsSpan(0, count), own[Math.Min(1, own.Length - 1)].AsSpan(0, count), own[^1].AsSpan(0, count), row);
            result.Write(y, from, row);
        });
        return result;
    }

    /// <summary>One register over the whole picture.</summary>
    private float[][] Whole(int register)
    {
        var result = Enumerable.Range(0, PlanesOf(program.Node(register).Type)).Select(_ => new float[width * height]).ToArray();
        EachPiece(Needed(register), (y, from, count, planes) =>
        {
            for (var c = 0; c < result.Length; c++)
                planes
                    .Of[register][Math.Min(c, planes.Of[register].Length - 1)]
                    .AsSpan(0, count)
                    .CopyTo(result[c].AsSpan(y * width + from));
        });
        return result;
    }

    /// <summary>Numbers that a plane holds at a time: all planes of a chain then stay in the near cache.</summary>
    private const int Piece = 1024;

    private sealed record Planes(float[][][] Of, float[][][][] Inputs, float[] Texels);

    private void EachPiece(int[] registers, Action<int, int, int, Planes> use)
    {
        Planes Made()
        {
            var planes = new float[program.Count][][];
            foreach (var i in registers)
            {
                planes[i] = [.. Enumerable.Range(0, PlanesOf(program.Node(i).Type)).Select(_ => new float[Piece])];
                if (program.Node(i) is ConstantNode constant)
                    for (var c = 0; c < planes[i].Length; c++)
                        planes[i][c].AsSpan().Fill(constant.Value[c]);
            }
            return new(
                planes,
                [
                    .. Enumerable
                        .Range(0, planes.Length)
                        .Select(i => planes[i] is null ? [] : program.Inputs(i).Select(k => planes[k]).ToArray()),
                ],
                new float[Piece * 3]
            );
        }
        Parallel.For(
            0,
            height,
            Made,
            (y, _, planes) =>
            {
                for (var from = 0; from < width; from += Piece)
                {
                    var count = Math.Min(Piece, width - from);
                    foreach (var i in registers)
                        if (program.Node(i).Op != ShadeOp.Constant)
                            Row(i, y, from, count, planes);
                    use(y, from, count, planes);
                }
                return planes;
            },
            _ => { }
        );
    }

    private void Row(int i, int y, int from, int count, Planes planes)
    {
        var node = program.Node(i);
        var to = planes.Of[i];
        if (finished.TryGetValue(i, out var picture))
        {
            for (var c = 0; c < to.Length; c++)
                picture[c].AsSpan(y * width + from, count).CopyTo(to[c]);
            return;
        }
        if (node.Op is ShadeOp.Image or ShadeOp.Noise)
            Origins(i, y, from, count, to, planes.Texels);
        else
            RasterArithmetic.Apply(node, planes.Inputs[i], to, count);
    }

    private void Origins(int i, int y, int from, int count, float[][] to, float[] texels)
    {
        if (
            program.Node(i).Op == ShadeOp.Image
            && program.LiesUnplaced(i)
            && program.Texture(i).OnTile(tile) is { } texture
            && texture.Width == width
            && texture.Height == height
        )
        {
            // Texel by texel: nothing to filter.
            if (to.Length == 1)
            {
                texture.Read(y, from, to[0].AsSpan(0, count));
                return;
            }
            texture.Read(y, from, texels.AsSpan(0, 3 * count));
            PixelRows.Part(texels.AsSpan(0, 3 * count), to[0].AsSpan(0, count), to[1].AsSpan(0, count), to[2].AsSpan(0, count));
            return;
        }
        float v = corner.Y + 1f - (y + 0.5f) / height,
            footprint = 1f / Math.Max(width, height);
        for (var x = 0; x < count; x++)
        {
            var value = program.Origin(i, new(corner.X + (from + x + 0.5f) / width, v), footprint);
            for (var c = 0; c < to.Length; c++)
                to[c][x] = value[c];
        }
    }

    /// <summary>Across and then down, wrapped; taps to three standard deviations.</summary>
    private float[][] Blurred(int i)
    {
        var sigma = ((BlurNode)program.Node(i)).Deviation;
        return [.. Whole(program.Inputs(i)[0]).Select(plane => Gaussian(Gaussian(plane, sigma * width, false), sigma * height, true))];
    }

    private float[] Gaussian(float[] plane, float sigma, bool down)
    {
        var reach = (int)MathF.Ceiling(3 * sigma);
        if (reach < 1)
            return plane;
        var weights = Enumerable.Range(-reach, 2 * reach + 1).Select(k => MathF.Exp(-0.5f * k * k / (sigma * sigma))).ToArray();
        var total = weights.Sum();
        var result = new float[plane.Length];
        Parallel.For(0, height, y =>
        {
            var to = result.AsSpan(y * width, width);
            for (var k = -reach; k <= reach; k++)
            {
                var weight = weights[k + reach] / total;
                if (down)
                {
                    TensorPrimitives.MultiplyAdd(plane.AsSpan(Wrapped(y + k, height) * width, width), weight, to, to);
                    continue;
                }
                var row = plane.AsSpan(y * width, width);
                // The row shifted by k, in two pieces.
                var shift = Wrapped(k, width);
                TensorPrimitives.MultiplyAdd(row[shift..], weight, to[..(width - shift)], to[..(width - shift)]);
                if (shift > 0)
                    TensorPrimitives.MultiplyAdd(row[..shift], weight, to[(width - shift)..], to[(width - shift)..]);
            }
        });
        return result;
    }

    /// <summary>Central differences over at least one texel of the finest map, as everywhere else.</summary>
    private float[][] Slopes(int i)
    {
        var heights = Whole(program.Inputs(i)[0])[0];
        var strengths = Whole(program.Inputs(i)[1])[0];
        var step = MathF.Max(1f / Math.Max(width, height), program.Texel(program.Inputs(i)[0])) * 0.5f;
        float[][] result = [new float[width * height], new float[width * height], new float[width * height]];
        float dx = step * width,
            dy = step * height;
        Parallel.For(0, height, y =>
        {
            for (var x = 0; x < width; x++)
            {
                var at = y * width + x;
                var n = program.Slope(
                    i,
                    At(heights, x + dx, y) - At(heights, x - dx, y),
                    At(heights, x, y - dy) - At(heights, x, y + dy),
                    step,
                    strengths[at]
                );
                (result[0][at], result[1][at], result[2][at]) = (n.X, n.Y, n.Z);
            }
        });
        return result;
    }

    /// <summary>Between pixels, wrapped.</summary>
    private float At(float[] plane, float x, float y)
    {
        int x0 = (int)MathF.Floor(x),
            y0 = (int)MathF.Floor(y);
        float fx = x - x0,
            fy = y - y0;
        int left = Wrapped(x0, width),
            right = Wrapped(x0 + 1, width),
            upper = Wrapped(y0, height) * width,
            lower = Wrapped(y0 + 1, height) * width;
        float top = plane[upper + left] + (plane[upper + right] - plane[upper + left]) * fx,
            bottom = plane[lower + left] + (plane[lower + right] - plane[lower + left]) * fx;
        return top + (bottom - top) * fy;
    }

    private static int Wrapped(int i, int period) => (i % period + period) % period;
}
