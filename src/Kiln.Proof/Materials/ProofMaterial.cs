using System.Collections.Immutable;
using System.Numerics;
using Kiln.Colour;
using Kiln.Dialects.Execution;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Scattering;

namespace Kiln.Proof.Materials;

/// <summary>A surface ready to be rendered: its inputs as a program, and the scattering model its dialect asks for.</summary>
public sealed class ProofMaterial
{
    private readonly ShadeProgram program;

    private ProofMaterial(ShadeProgram program, WorkingSpace working, Dictionary<string, int> registers, SurfaceModel model)
    {
        (this.program, Working, Model) = (program, working, model);
        int At(string name) => registers.GetValueOrDefault(name, -1);
        (baseColour, diffuseRoughness, metalness, width) = (At("baseColour"), At("diffuseRoughness"), At("metalness"), At("width"));
        (ior, specularWeight, specularColour, emission) = (At("ior"), At("specularWeight"), At("specularColour"), At("emission"));
        (opacity, normal) = (At("opacity"), At("normal"));
        IsOpaque = opacity < 0 || program.IsConstant(opacity) && OpacityConstant() >= 1f;
    }

    private readonly int baseColour, diffuseRoughness, metalness, width, ior, specularWeight, specularColour, emission, opacity, normal;

    public SurfaceModel Model { get; }

    /// <summary>What its colours are linear in; light and picture have the same.</summary>
    public WorkingSpace Working { get; }

    /// <summary>How many registers <see cref="At"/> needs.</summary>
    public int Registers => program.Registers;

    public long TextureBytes => program.TextureBytes;

    public bool HasNormal => normal >= 0;

    /// <summary>How the surface itself is moved; null where it is not.</summary>
    public SurfaceDisplacement? Displacement { get; private init; }

    /// <summary>Whether the surface is there everywhere.</summary>
    public bool IsOpaque { get; }

    /// <summary>A look as itself: its lanes through the profile's formulas, without a network.</summary>
    /// <exception cref="PictureException">A map cannot be read.</exception>
    public static async Task<ProofMaterial> OfLookAsync(Look look, DialectProfile profile, MapTextures maps, int? longest = null, WorkingSpace? working = null, CancellationToken cancel = default)
    {
        var graph = new ShadeGraph(working);
        var lanes = new LaneGraphs(look, graph);
        int? Input(string name)
        {
            var input = profile.Input(name);
            var node = profile.Formulas.TryGetValue(name, out var formula) ? ExpressionGraph.Build(formula, graph, lanes.Input) : null;
            return node is { } n ? graph.As(n, input.ShadeType) : input.Default is { } d ? graph.Constant(d.Length == 3 ? new Vector3(d[0], d[1], d[2]) : new Vector3(d[0]), input.ShadeType) : null;
        }
        return await BuildAsync(profile, graph, Input, maps, longest, await DisplacedAsync(look, maps, longest, cancel), cancel);
    }

    private static async Task<SurfaceDisplacement?> DisplacedAsync(Look look, MapTextures maps, int? longest, CancellationToken cancel)
    {
        // Without a height there is nothing to move by.
        if (look.Displacement is not { On: true } d || !look.Covers.Select(c => c.Lanes).Append(look.Lanes).Any(l => l.GetValueOrDefault("displacement")?.Chain is not null))
            return null;
        var graph = new ShadeGraph();
        var node = new LaneGraphs(look, graph).Input("displacement")!.Value;
        var heights = await ShadeProgram.LoadAsync(graph, [node], maps, longest, cancel);
        var register = heights.Register(node);
        float Metres(Vector2 uv, float footprint)
        {
            var registers = new Vector3[heights.Registers];
            heights.Run(uv, footprint, registers);
            var stored = float.IsFinite(registers[register].X) ? registers[register].X : d.Midpoint;
            return Math.Clamp((stored - d.Midpoint) * d.HeightMetres, -d.BoundMetres, d.BoundMetres);
        }
        // What the heights depend on, and nothing else: an edit elsewhere leaves the form as it is.
        var key = LookJson.Hash(look with { Name = "heights", Tags = [], Remarks = [], Trims = look.Trims.Clear(), Colour = null, Lanes = Only(look.Lanes), Covers = [.. look.Covers.Select(c => c with { Lanes = Only(c.Lanes) })] });
        return new(Metres, d.EdgeMetres, d.Subdivision, $"{key}/{longest}");
    }

    private static ImmutableSortedDictionary<string, Lane> Only(ImmutableSortedDictionary<string, Lane> lanes) => lanes.Where(l => l.Key == "displacement").ToImmutableSortedDictionary();

    /// <summary>A dialect's network as the dialect would read it, worked in the network's own space.</summary>
    /// <exception cref="PictureException">A map cannot be read.</exception>
    public static Task<ProofMaterial> OfNetworkAsync(Network network, DialectProfile profile, MapTextures maps, int? longest = null, Func<string, string>? spaceOf = null, CancellationToken cancel = default)
    {
        var graph = new ShadeGraph(WorkingSpace.Find(network.WorkingSpace));
        return BuildAsync(profile, graph, new NetworkExecution(profile, network, graph, spaceOf).Input, maps, longest, null, cancel);
    }

    /// <summary>One picture of a look shown as the surface's colour and nothing else: solo.</summary>
    public static async Task<ProofMaterial> OfNodeAsync(ShadeGraph graph, int node, MapTextures maps, int? longest = null, CancellationToken cancel = default)
    {
        var colour = graph[node].Type == ShadeType.Direction
            ? graph.Add(ShadeOp.Add, graph.Add(ShadeOp.Multiply, node, graph.Constant(0.5f)), graph.Constant(0.5f))
            : graph.As(node, ShadeType.Colour);
        var black = graph.Constant(Vector3.Zero);
        var zero = graph.Constant(0f);
        var program = await ShadeProgram.LoadAsync(graph, [colour, black, zero], maps, longest, cancel);
        return new(program, graph.Working, new() { ["baseColour"] = program.Register(black), ["specularWeight"] = program.Register(zero), ["emission"] = program.Register(colour) },
            new(DiffuseModel.Lambert, DielectricModel.Schlick, MetalModel.Schlick, false));
    }

    private static async Task<ProofMaterial> BuildAsync(DialectProfile profile, ShadeGraph graph, Func<string, int?> input, MapTextures maps, int? longest, SurfaceDisplacement? displacement, CancellationToken cancel)
    {
        var nodes = new Dictionary<string, int>();
        foreach (var (parameter, formula) in profile.ScatteringFormulas)
            if (ExpressionGraph.Build(formula, graph, input) is { } node)
                nodes[parameter] = node;
        var program = await ShadeProgram.LoadAsync(graph, nodes.Values, maps, longest, cancel);
        var rule = profile.Scattering;
        var model = new SurfaceModel(
            Enum.Parse<DiffuseModel>(rule.Diffuse, true), Enum.Parse<DielectricModel>(rule.Dielectric, true), Enum.Parse<MetalModel>(rule.Metal, true), rule.Compensation);
        return new(program, graph.Working, nodes.ToDictionary(n => n.Key, n => program.Register(n.Value)), model) { Displacement = displacement };
    }

    /// <summary>The parameters at a point, and its normal in tangent space (z outwards).</summary>
    public SurfaceParameters At(Vector2 uv, float footprint, Span<Vector3> scratch, out Vector3 tangentNormal)
    {
        program.Run(uv, footprint, scratch);
        tangentNormal = normal >= 0 ? scratch[normal] : Vector3.UnitZ;
        return new SurfaceParameters
        {
            BaseColour = Colour(scratch, baseColour, 0.8f),
            DiffuseRoughness = Scalar(scratch, diffuseRoughness, 0),
            Metalness = Scalar(scratch, metalness, 0),
            Width = Scalar(scratch, width, 0.09f),
            Ior = Scalar(scratch, ior, 1.5f),
            SpecularWeight = Scalar(scratch, specularWeight, 1),
            SpecularColour = Colour(scratch, specularColour, 1),
            Emission = Colour(scratch, emission, 0),
            Opacity = Scalar(scratch, opacity, 1),
        };
    }

    private float OpacityConstant()
    {
        var scratch = new Vector3[Registers];
        program.Run(Vector2.Zero, 1, scratch);
        return scratch[opacity].X;
    }

    private static float Scalar(ReadOnlySpan<Vector3> scratch, int register, float missing) => register < 0 ? missing : float.IsFinite(scratch[register].X) ? scratch[register].X : 0;

    private static Vector3 Colour(ReadOnlySpan<Vector3> scratch, int register, float missing)
    {
        if (register < 0)
            return new(missing);
        var v = scratch[register];
        return float.IsFinite(v.X + v.Y + v.Z) ? v : Vector3.Zero;
    }
}
