using System.Numerics;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Arithmetic;
using Kiln.Pixels;

namespace Kiln.Looks.Evaluation;

/// <summary>
/// A part of a graph made ready to run: nodes in order, textures loaded. Safe to run from many threads, each with its own registers.
/// </summary>
public sealed class ShadeProgram
{
    private readonly ShadeNode[] nodes;
    private readonly int[][] inputs;
    private readonly MapTexture?[] textures;
    private readonly Placed[] placements;
    private readonly TileScatter?[] scatters;
    private readonly int[]?[] below;
    private readonly int[] varying;
    private readonly Dictionary<int, int> place = [];

    /// <summary>A placement as the numbers a lookup needs.</summary>
    internal readonly record struct Placed(float Uu, float Uv, float Vu, float Vv, float ShiftU, float ShiftV, float Scale)
    {
        public static Placed Of(Maps.Placement placement)
        {
            var (uu, uv, vu, vv) = placement.Linear;
            return new(uu, uv, vu, vv, placement.Shift.X, placement.Shift.Y, MathF.Sqrt(MathF.Abs(uu * vv - uv * vu)));
        }

        public Vector2 Apply(Vector2 uv) => new(Uu * uv.X + Uv * uv.Y + ShiftU, Vu * uv.X + Vv * uv.Y + ShiftV);
    }

    private ShadeProgram(ShadeGraph graph, IReadOnlyList<int> order, MapTexture?[] textures)
    {
        foreach (var node in order)
            place[node] = place.Count;
        nodes = [.. order.Select(n => graph[n])];
        inputs = [.. nodes.Select(n => n.Inputs.Select(i => place[i]).ToArray())];
        this.textures = textures;
        placements = [.. nodes.Select(n => (n.Image?.Placement ?? n.Noise?.Placement) is { } placement ? Placed.Of(placement) : default)];
        scatters = [.. nodes.Select(n => n.Image is { } image ? TileScatter.Of(image.Placement, image.Reading) : null)];
        varying = [.. Enumerable.Range(0, nodes.Length).Where(i => nodes[i].Op != ShadeOp.Constant)];
        below =
        [
            .. nodes.Select(
                (n, i) =>
                    n.Op is ShadeOp.HeightToNormal or ShadeOp.Blur
                        ? graph.Needed(order[inputs[i][0]]).Select(k => place[k]).Order().ToArray()
                        : null
            ),
        ];
    }

    /// <summary>Registers for <see cref="Run"/>, with what is constant in them; one set for each thread.</summary>
    public Vector3[] NewRegisters()
    {
        var registers = new Vector3[nodes.Length];
        for (var i = 0; i < nodes.Length; i++)
            registers[i] = nodes[i] is ConstantNode constant ? constant.Value : default;
        return registers;
    }

    /// <summary>The UDIM tiles that any of its maps has, in order; none where no map has tiles.</summary>
    public IReadOnlyList<int> Tiles => [.. textures.SelectMany(t => t?.Tiles ?? []).Distinct().Order()];

    public long TextureBytes => textures.Distinct().Sum(t => t?.Bytes ?? 0);

    public bool IsConstant(int register) => nodes[register].Op == ShadeOp.Constant;

    /// <summary>Loads what the given nodes need.</summary>
    /// <exception cref="PictureException">A map cannot be read; the message names it.</exception>
    public static async Task<ShadeProgram> LoadAsync(
        ShadeGraph graph,
        IEnumerable<int> roots,
        MapTextures maps,
        int? longest,
        CancellationToken cancel = default
    )
    {
        var order = graph.Needed(roots);
        var textures = await Task.WhenAll(
            order.Select(async n => graph[n].Image is { } image ? await maps.GetAsync(image, graph.Working, longest, cancel) : null)
        );
        return new(graph, order, textures);
    }

    /// <summary>Which register holds a graph node's value after a run.</summary>
    public int Register(int node) => place[node];

    /// <summary>
    /// Computes every node that varies at a surface point; footprint is the side of the square of UV that the point stands for.
    /// </summary>
    public void Run(Vector2 uv, float footprint, Span<Vector3> registers)
    {
        Span<Vector3> x = stackalloc Vector3[5];
        foreach (var i in varying)
            registers[i] = Value(i, uv, footprint, registers, x);
    }

    private Vector3 Value(int i, Vector2 uv, float footprint, ReadOnlySpan<Vector3> registers, Span<Vector3> x)
    {
        var node = nodes[i];
        switch (node.Op)
        {
            case ShadeOp.Constant:
                return ((ConstantNode)node).Value;
            case ShadeOp.Image:
                return Lookup(i, uv, footprint);
            case ShadeOp.Noise:
                ref readonly var lie = ref placements[i];
                return new(TileableNoise.At(node.Noise!.Field, lie.Apply(uv), footprint * lie.Scale));
            case ShadeOp.HeightToNormal:
                return FromHeight(i, uv, footprint, registers[inputs[i][1]].X);
            case ShadeOp.Blur:
                return Blurred(i, uv, footprint);
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
        return scatters[i] is { } scatter
            ? Scattered(i, scatter, uv, footprint)
            : textures[i]!.Sample(lie.Apply(uv), footprint * lie.Scale);
    }

    private Vector3 Scattered(int i, TileScatter scatter, Vector2 uv, float footprint)
    {
        ref readonly var lie = ref placements[i];
        Span<TileScatter.Corner> corners = stackalloc TileScatter.Corner[3];
        scatter.At(uv, corners);
        var sum = Vector3.Zero;
        foreach (ref readonly var corner in corners)
        {
            if (corner.Weight < 1e-6f)
                continue;
            var value = textures[i]!.Sample(lie.Apply(corner.Place(uv)) + corner.Shift, footprint * lie.Scale);
            sum += corner.Weight * (scatter.IsDirection ? scatter.Slopes(value, corner) : value);
        }
        return scatter.IsDirection ? TileScatter.Stored(sum) : sum;
    }

    /// <summary>Central differences over the footprint, at least over one texel of the finest map below.</summary>
    private Vector3 FromHeight(int i, Vector2 uv, float footprint, float strength)
    {
        var step = MathF.Max(footprint, Texel(inputs[i][0])) * 0.5f;
        float Height(Vector2 at) => Around(i, at, footprint).X;
        return Slope(
            i,
            Height(uv + new Vector2(step, 0)) - Height(uv - new Vector2(step, 0)),
            Height(uv + new Vector2(0, step)) - Height(uv - new Vector2(0, step)),
            step,
            strength
        );
    }

    /// <summary>A direction from the differences of heights two steps apart.</summary>
    internal Vector3 Slope(int i, float du, float dv, float step, float strength)
    {
        var scale = ((HeightToNormalNode)nodes[i]).Range;
        return Vector3.Normalize(new(-du / (2 * step) * strength * scale.X, -dv / (2 * step) * strength * scale.Y, 1));
    }

    /// <summary>Taps to each side, and their distance in standard deviations.</summary>
    internal const int BlurTaps = 3;
    internal const float BlurSpacing = 0.75f;

    internal static float BlurWeight(int dx, int dy) => MathF.Exp(-0.5f * BlurSpacing * BlurSpacing * (dx * dx + dy * dy));

    /// <summary>
    /// A Gaussian by 7 × 7 taps, each looked up over the square between taps; the taps' own spread makes up for the squares'.
    /// </summary>
    private Vector3 Blurred(int i, Vector2 uv, float footprint)
    {
        var sigma = ((BlurNode)nodes[i]).Deviation;
        var spacing = BlurSpacing * sigma;
        var size = MathF.Max(footprint, spacing);
        var sum = Vector3.Zero;
        var total = 0f;
        for (var dy = -BlurTaps; dy <= BlurTaps; dy++)
        for (var dx = -BlurTaps; dx <= BlurTaps; dx++)
        {
            var weight = BlurWeight(dx, dy);
            sum += weight * Around(i, uv + new Vector2(dx, dy) * spacing, size);
            total += weight;
        }
        return sum / total;
    }

    /// <summary>What the first input of a node is elsewhere on the surface.</summary>
    private Vector3 Around(int i, Vector2 uv, float footprint)
    {
        Span<Vector3> side = nodes.Length <= 256 ? stackalloc Vector3[nodes.Length] : new Vector3[nodes.Length];
        Span<Vector3> x = stackalloc Vector3[5];
        foreach (var k in below[i]!)
            side[k] = Value(k, uv, footprint, side, x);
        return side[inputs[i][0]];
    }

    /// <summary>What counts as a texel where a height is made of no map, in units of the surface's UV.</summary>
    public const float TexelWithoutMaps = 1f / 4096;

    /// <summary>Side of a texel of a placed map, in units of the surface's UV.</summary>
    public static float TexelOf(int width, int height, Maps.Placement placement) =>
        1f / (MathF.Max(width, height) * MathF.Max(placement.RepeatsU, placement.RepeatsV));

    /// <summary>Side of a texel of the finest map below, in units of the surface's UV.</summary>
    internal float Texel(int register)
    {
        var finest = TexelWithoutMaps;
        var open = new Stack<int>([register]);
        var found = false;
        while (open.TryPop(out var at))
        {
            if (textures[at] is { } texture)
            {
                var texel = TexelOf(texture.Width, texture.Height, nodes[at].Image!.Placement);
                finest = found ? MathF.Min(finest, texel) : texel;
                found = true;
            }
            foreach (var next in inputs[at])
                open.Push(next);
        }
        return finest;
    }

    /// <summary>Renders one node over a unit square of UV as a picture with 1 or 3 channels, top row first.</summary>
    /// <param name="tile">Which square; the first that the maps have, when not said.</param>
    public ImageBuffer Picture(int node, int width, int height, ShadeType type, SampleType samples = SampleType.F32, int? tile = null) =>
        new RasterProgram(this, Register(node), width, height, tile ?? (Tiles is [var first, ..] ? first : Maps.MapTile.First)).Picture(
            type,
            samples
        );

    internal int Count => nodes.Length;

    /// <summary>The registers that are no constants, in order.</summary>
    internal ReadOnlySpan<int> Varying => varying;

    internal bool IsScattered(int register) => scatters[register] is not null;

    internal ref readonly Placed Lie(int register) => ref placements[register];

    internal ShadeNode Node(int register) => nodes[register];

    internal int[] Inputs(int register) => inputs[register];

    internal MapTexture Texture(int register) => textures[register]!;

    internal bool LiesUnplaced(int register) => nodes[register].Image!.Placement.IsIdentity;

    /// <summary>What a node's first input needs, in order, for nodes that look around themselves.</summary>
    internal int[] Below(int register) => below[register]!;

    /// <summary>A lookup or noise by itself.</summary>
    internal Vector3 Origin(int register, Vector2 uv, float footprint) => Value(register, uv, footprint, [], []);
}
