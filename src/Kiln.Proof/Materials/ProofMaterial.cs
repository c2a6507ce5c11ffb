using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Execution;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Scattering;

namespace Kiln.Proof.Materials;

/// <summary>
/// Directions of a surface at a point, in tangent space (z outwards): its normal, its coat's, and those in which the reflections of both
/// stretch.
/// </summary>
public readonly record struct SurfaceDirections(Vector3 Normal, Vector3 CoatNormal, Vector3 Heading, Vector3 CoatHeading);

/// <summary>A surface ready to be rendered: its inputs as a program, and the scattering model its dialect asks for.</summary>
public sealed class ProofMaterial
{
    private readonly ShadeProgram program;

    private readonly SurfaceParameters constant;
    private readonly (SurfaceParameterNames.Setter Set, int Register)[] varying;
    private readonly int opacity,
        normal,
        coatNormal,
        tangent,
        coatTangent;
    private TileLayout tiles;

    private ProofMaterial(ShadeProgram program, WorkingSpace working, Dictionary<string, int> registers, SurfaceModel model)
    {
        (this.program, Working, tiles) = (program, working, TileLayout.Of(program.Tiles));
        Model = model with { FromXyz = EqualEnergy.To(working.Space) };
        int At(string name) => registers.GetValueOrDefault(name, -1);
        (opacity, normal, coatNormal, tangent, coatTangent) = (
            At("opacity"),
            At("normal"),
            At("coatNormal"),
            At("tangent"),
            At("coatTangent")
        );
        constant = SurfaceParameters.Plain;
        var moving = new List<(SurfaceParameterNames.Setter, int)>();
        var values = program.NewRegisters();
        foreach (var (name, register) in registers)
            if (SurfaceParameterNames.All.TryGetValue(name, out var set))
            {
                if (program.IsConstant(register))
                    set(ref constant, Finite(values[register]));
                else
                    moving.Add((set, register));
            }
        varying = [.. moving];
        IsOpaque = opacity < 0 || program.IsConstant(opacity) && constant.Opacity >= 1f;
        LetsLightIn = constant.Transmission > 0f || registers.TryGetValue("transmission", out var r) && !program.IsConstant(r);
    }

    public SurfaceModel Model { get; }

    /// <summary>What its colours are linear in; light and picture have the same.</summary>
    public WorkingSpace Working { get; }

    /// <summary>What <see cref="At"/> works in; one for each thread.</summary>
    public Vector3[] NewScratch() => program.NewRegisters();

    /// <summary>The UDIM tiles of its maps, in order; none where no map has tiles.</summary>
    public IReadOnlyList<int> Tiles => tiles.Numbers;

    /// <summary>The same surface with one of its tiles everywhere, or with the tiles in turn.</summary>
    public ProofMaterial Showing(int? tile)
    {
        if (tile is null || Tiles.Count == 0)
            return this;
        var shown = (ProofMaterial)MemberwiseClone();
        shown.tiles = tiles with { Shown = tile };
        return shown;
    }

    public long TextureBytes => program.TextureBytes;

    public bool HasNormal => normal >= 0;

    public bool HasCoatNormal => coatNormal >= 0;

    /// <summary>Whether light may pass through the body.</summary>
    public bool LetsLightIn { get; }

    /// <summary>How the surface itself is moved; null where it is not.</summary>
    public SurfaceDisplacement? Displacement { get; private init; }

    /// <summary>Whether the surface is there everywhere.</summary>
    public bool IsOpaque { get; }

    /// <summary>A look as itself: its lanes through the profile's formulas, without a network.</summary>
    /// <exception cref="PictureException">A map cannot be read.</exception>
    public static async Task<ProofMaterial> OfLookAsync(
        Look look,
        DialectProfile profile,
        MapTextures maps,
        int? longest = null,
        WorkingSpace? working = null,
        CancellationToken cancel = default
    )
    {
        var graph = new ShadeGraph(working);
        var lanes = new LaneGraphs(look, graph);
        return await OfInputsAsync(look, graph, lanes.Input, profile, maps, longest, cancel);
    }

    /// <summary>A look whose neutral inputs are given otherwise, to see what one of them does.</summary>
    /// <param name="neutral">The node of a neutral input in the graph.</param>
    public static async Task<ProofMaterial> OfInputsAsync(
        Look look,
        ShadeGraph graph,
        Func<string, int?> neutral,
        DialectProfile profile,
        MapTextures maps,
        int? longest = null,
        CancellationToken cancel = default
    ) =>
        await BuildAsync(
            profile,
            graph,
            name => DialectModels.Input(profile, name, graph, neutral),
            maps,
            longest,
            await DisplacedAsync(look, maps, longest, cancel),
            cancel
        );

    private static async Task<SurfaceDisplacement?> DisplacedAsync(Look look, MapTextures maps, int? longest, CancellationToken cancel)
    {
        if (DisplacementSettings.Of(look, "displacement_on") == 0)
            return null;
        var (graph, d) = (new ShadeGraph(), look.Displacement);
        var height = new LaneGraphs(look, graph).Input("displacement")!.Value;
        var moved = graph.Add(
            ShadeOp.Multiply,
            graph.Add(ShadeOp.Subtract, height, graph.Constant(d.Midpoint)),
            graph.Constant(d.HeightMetres)
        );
        return await MovedAsync(
            graph,
            new(
                graph.Add(ShadeOp.Clamp, moved, graph.Constant(-d.BoundMetres), graph.Constant(d.BoundMetres)),
                d.EdgeMetres,
                d.Subdivision,
                null
            ),
            maps,
            longest,
            cancel
        );
    }

    /// <summary>How a renderer of the dialect moves the surface, by what the network says and nothing else.</summary>
    private static async Task<SurfaceDisplacement?> DisplacedAsync(
        DialectProfile profile,
        ShadeGraph graph,
        Func<string, int?> input,
        MapTextures maps,
        int? longest,
        CancellationToken cancel
    )
    {
        int? Node(string name) =>
            profile.DisplacementFormulas.TryGetValue(name, out var formula) ? ExpressionGraph.Build(formula, graph, input) : null;
        float? Number(string name) => Node(name) is { } node && graph.IsConstant(node) ? graph.ValueOf(node).X : null;
        if (Node("metres") is not { } metres || graph.IsConstant(metres) || Number("on") is not > 0)
            return null;
        var usual = new Displacement();
        return await MovedAsync(
            graph,
            new(metres, Number("edge") ?? usual.EdgeMetres, (int)(Number("subdivision") ?? usual.Subdivision), Number("level")),
            maps,
            longest,
            cancel
        );
    }

    /// <summary>How a surface is moved.</summary>
    /// <param name="Metres">The node of the shift, in metres.</param>
    /// <param name="Edge">Metres of the longest edge after subdivision.</param>
    /// <param name="Level">Powers of two of texels on a side that the renderer reads heights at; null for those the map has.</param>
    private readonly record struct Shift(int Metres, float Edge, int Subdivision, float? Level);

    private static async Task<SurfaceDisplacement?> MovedAsync(
        ShadeGraph graph,
        Shift shift,
        MapTextures maps,
        int? longest,
        CancellationToken cancel
    )
    {
        var (metres, edge, subdivision, level) = shift;
        var heights = await ShadeProgram.LoadAsync(graph, [metres], maps, longest, cancel);
        var register = heights.Register(metres);
        var layout = TileLayout.Of(heights.Tiles);
        var finest = level is { } l ? MathF.Pow(2, -l) : 0;
        float Metres(Vector2 uv, float footprint)
        {
            var registers = heights.NewRegisters();
            heights.Run(layout.Place(uv), MathF.Max(footprint, finest), registers);
            return float.IsFinite(registers[register].X) ? registers[register].X : 0;
        }
        // What the heights depend on, and nothing else: an edit elsewhere leaves the form as it is.
        return new(Metres, edge, subdivision, $"{graph.Fingerprint(metres)}/{level}/{edge}/{subdivision}/{longest}");
    }

    /// <summary>A dialect's network as the dialect would read it, worked in the network's own space.</summary>
    /// <exception cref="PictureException">A map cannot be read.</exception>
    public static async Task<ProofMaterial> OfNetworkAsync(
        Network network,
        DialectProfile profile,
        MapTextures maps,
        int? longest = null,
        Func<string, SpaceId>? spaceOf = null,
        CancellationToken cancel = default
    )
    {
        var graph = new ShadeGraph(WorkingSpace.Find(network.WorkingSpace));
        var execution = new NetworkExecution(profile, network, graph, spaceOf);
        return await BuildAsync(
            profile,
            graph,
            execution.Input,
            maps,
            longest,
            await DisplacedAsync(profile, graph, execution.Input, maps, longest, cancel),
            cancel
        );
    }

    /// <summary>One picture of a look shown as the surface's colour and nothing else: solo.</summary>
    public static async Task<ProofMaterial> OfNodeAsync(
        ShadeGraph graph,
        int node,
        MapTextures maps,
        int? longest = null,
        CancellationToken cancel = default
    )
    {
        var colour =
            graph[node].Type == ShadeType.Direction
                ? graph.Add(ShadeOp.Add, graph.Add(ShadeOp.Multiply, node, graph.Constant(0.5f)), graph.Constant(0.5f))
                : graph.As(node, ShadeType.Colour);
        var black = graph.Constant(Vector3.Zero);
        var zero = graph.Constant(0f);
        var program = await ShadeProgram.LoadAsync(graph, [colour, black, zero], maps, longest, cancel);
        return new(
            program,
            graph.Working,
            new()
            {
                ["baseColour"] = program.Register(black),
                ["specularWeight"] = program.Register(zero),
                ["emission"] = program.Register(colour),
            },
            new(DiffuseModel.Lambert, DielectricModel.Schlick, MetalModel.Schlick, false)
        );
    }

    private static async Task<ProofMaterial> BuildAsync(
        DialectProfile profile,
        ShadeGraph graph,
        Func<string, int?> input,
        MapTextures maps,
        int? longest,
        SurfaceDisplacement? displacement,
        CancellationToken cancel
    )
    {
        var nodes = new Dictionary<string, int>();
        foreach (var (parameter, formula) in profile.ScatteringFormulas)
            if (ExpressionGraph.Build(formula, graph, input) is { } node)
                nodes[parameter] = node;
        var program = await ShadeProgram.LoadAsync(graph, nodes.Values, maps, longest, cancel);
        return new(
            program,
            graph.Working,
            nodes.ToDictionary(n => n.Key, n => program.Register(n.Value)),
            DialectModels.Of(profile.Scattering)
        )
        {
            Displacement = displacement,
        };
    }

    /// <summary>The parameters and the directions at a point.</summary>
    public void At(Vector2 uv, float footprint, Span<Vector3> scratch, out SurfaceParameters p, out SurfaceDirections directions)
    {
        program.Run(tiles.Place(uv), footprint, scratch);
        directions = new(
            Of(normal, Vector3.UnitZ, scratch),
            Of(coatNormal, Vector3.UnitZ, scratch),
            Of(tangent, Vector3.UnitX, scratch),
            Of(coatTangent, Vector3.UnitX, scratch)
        );
        p = constant;
        foreach (var (set, register) in varying)
            set(ref p, Finite(scratch[register]));
    }

    private static Vector3 Of(int register, Vector3 otherwise, Span<Vector3> scratch) => register >= 0 ? scratch[register] : otherwise;

    private static Vector3 Finite(Vector3 v) => float.IsFinite(v.X + v.Y + v.Z) ? v : Vector3.Zero;
}
