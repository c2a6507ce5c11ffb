using System.Numerics;
using Kiln.Looks.Graph;
using Kiln.Pixels;

namespace Kiln.Looks.Evaluation;

/// <summary>A part of a graph made ready to run: nodes in order, textures loaded. Safe to run from many threads, each with its own registers.</summary>
public sealed class ShadeProgram
{
    private readonly ShadeNode[] nodes;
    private readonly int[][] inputs;
    private readonly MapTexture?[] textures;
    private readonly Lie[] placements;
    private readonly Dictionary<int, int> place = [];

    /// <summary>A placement as the numbers a lookup needs.</summary>
    private readonly record struct Lie(float Uu, float Uv, float Vu, float Vv, float ShiftU, float ShiftV, float Scale)
    {
        public static Lie Of(Document.Placement placement)
        {
            var (uu, uv, vu, vv) = placement.Linear;
            return new(uu, uv, vu, vv, placement.Shift.X, placement.Shift.Y, MathF.Sqrt(MathF.Abs(uu * vv - uv * vu)));
        }
    }

    private ShadeProgram(ShadeGraph graph, IReadOnlyList<int> order, MapTexture?[] textures)
    {
        foreach (var node in order)
            place[node] = place.Count;
        nodes = [.. order.Select(n => graph[n])];
        inputs = [.. nodes.Select(n => n.Inputs.Select(i => place[i]).ToArray())];
        this.textures = textures;
        placements = [.. nodes.Select(n => n.Image is { } image ? Lie.Of(image.Placement) : default)];
    }

    /// <summary>How many registers a run needs.</summary>
    public int Registers => nodes.Length;

    public long TextureBytes => textures.Distinct().Sum(t => t?.Bytes ?? 0);

    public bool IsConstant(int register) => nodes[register].Op == ShadeOp.Constant;

    /// <summary>Loads what the given nodes need.</summary>
    /// <exception cref="PictureException">A map cannot be read; the message names it.</exception>
    public static async Task<ShadeProgram> LoadAsync(ShadeGraph graph, IEnumerable<int> roots, MapTextures maps, int? longest, CancellationToken cancel = default)
    {
        var order = graph.Needed(roots);
        var textures = await Task.WhenAll(order.Select(async n => graph[n].Image is { } image ? await maps.GetAsync(image, graph.Working, longest, cancel) : null));
        return new(graph, order, textures);
    }

    /// <summary>Which register holds a graph node's value after a run.</summary>
    public int Register(int node) => place[node];

    /// <summary>Computes every node at a surface point; footprint is the side of the square of UV that the point stands for.</summary>
    public void Run(Vector2 uv, float footprint, Span<Vector3> registers)
    {
        Span<Vector3> x = stackalloc Vector3[5];
        for (var i = 0; i < nodes.Length; i++)
            registers[i] = Value(i, uv, footprint, registers, x);
    }

    private Vector3 Value(int i, Vector2 uv, float footprint, ReadOnlySpan<Vector3> registers, Span<Vector3> x)
    {
        var node = nodes[i];
        switch (node.Op)
        {
            case ShadeOp.Constant:
                return node.Value;
            case ShadeOp.Image:
                return Lookup(i, uv, footprint);
            case ShadeOp.HeightToNormal:
                return FromHeight(i, uv, footprint, registers[inputs[i][1]].X);
            default:
                var from = inputs[i];
                for (var k = 0; k < from.Length; k++)
                    x[k] = registers[from[k]];
                return ShadeArithmetic.Apply(node, x[..from.Length]);
        }
    }

    private Vector3 Lookup(int i, Vector2 uv, float footprint)
    {
        ref readonly var lie = ref placements[i];
        return textures[i]!.Sample(new Vector2(lie.Uu * uv.X + lie.Uv * uv.Y + lie.ShiftU, lie.Vu * uv.X + lie.Vv * uv.Y + lie.ShiftV), footprint * lie.Scale);
    }

    /// <summary>Central differences over the footprint, at least over one texel of the finest map below.</summary>
    private Vector3 FromHeight(int i, Vector2 uv, float footprint, float strength)
    {
        var step = MathF.Max(footprint, Texel(inputs[i][0])) * 0.5f;
        float Height(Vector2 at)
        {
            Span<Vector3> side = nodes.Length <= 256 ? stackalloc Vector3[nodes.Length] : new Vector3[nodes.Length];
            return Recompute(inputs[i][0], at, footprint, side).X;
        }
        var du = (Height(uv + new Vector2(step, 0)) - Height(uv - new Vector2(step, 0))) / (2 * step);
        var dv = (Height(uv + new Vector2(0, step)) - Height(uv - new Vector2(0, step))) / (2 * step);
        var scale = nodes[i].Value;
        return Vector3.Normalize(new(-du * strength * scale.X, -dv * strength * scale.Y, 1));
    }

    private float Texel(int register)
    {
        var finest = 1f / 4096;
        var open = new Stack<int>([register]);
        var found = false;
        while (open.TryPop(out var at))
        {
            if (textures[at] is { } texture)
            {
                var repeats = MathF.Max(nodes[at].Image!.Placement.RepeatsU, nodes[at].Image!.Placement.RepeatsV);
                var texel = 1f / (MathF.Max(texture.Width, texture.Height) * repeats);
                finest = found ? MathF.Min(finest, texel) : texel;
                found = true;
            }
            foreach (var next in inputs[at])
                open.Push(next);
        }
        return finest;
    }

    private Vector3 Recompute(int register, Vector2 uv, float footprint, Span<Vector3> registers)
    {
        // Inputs come first in the order, so everything up to the register is enough.
        Span<Vector3> x = stackalloc Vector3[5];
        for (var i = 0; i <= register; i++)
            registers[i] = nodes[i].Op == ShadeOp.HeightToNormal ? Vector3.UnitZ : Value(i, uv, footprint, registers, x);
        return registers[register];
    }

    /// <summary>Renders one node over the unit square of UV as a float picture with 1 or 3 channels, top row first.</summary>
    public ImageBuffer Picture(int node, int width, int height, ShadeType type)
    {
        var channels = type == ShadeType.Scalar ? 1 : 3;
        var result = new ImageBuffer(width, height, ImageBuffer.UsualChannels(channels), SampleType.F32);
        var register = Register(node);
        Parallel.For(0, height, y =>
        {
            var registers = new Vector3[nodes.Length];
            var row = new float[width * channels];
            for (var x = 0; x < width; x++)
            {
                Run(new((x + 0.5f) / width, 1f - (y + 0.5f) / height), 1f / Math.Max(width, height), registers);
                var v = registers[register];
                row[x * channels] = v.X;
                if (channels == 3)
                    (row[x * 3 + 1], row[x * 3 + 2]) = (v.Y, v.Z);
            }
            result.WriteRow(y, row);
        });
        return result;
    }
}
