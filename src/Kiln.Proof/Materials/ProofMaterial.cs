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
        Model = model;
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
    public static Task<ProofMaterial> OfLookAsync(
        Look look,
        DialectProfile profile,
        MapTextures maps,
        int? longest = null,
        WorkingSpace? working = null,
        CancellationToken cancel = default
    ) => LoadAsync(SurfaceGraph.OfLook(look, profile, working), maps, longest, cancel);

    /// <summary>A dialect's network as the dialect would read it, worked in the network's own space.</summary>
    /// <exception cref="PictureException">A map cannot be read.</exception>
    public static Task<ProofMaterial> OfNetworkAsync(
        Network network,
        DialectProfile profile,
        MapTextures maps,
        int? longest = null,
        Func<string, SpaceId>? spaceOf = null,
        CancellationToken cancel = default
    ) => LoadAsync(SurfaceGraph.OfNetwork(network, profile, spaceOf), maps, longest, cancel);

    /// <summary>Loads what a surface needs.</summary>
    /// <exception cref="PictureException">A map cannot be read.</exception>
    public static async Task<ProofMaterial> LoadAsync(
        SurfaceGraph surface,
        MapTextures maps,
        int? longest = null,
        CancellationToken cancel = default
    )
    {
        var displacement = surface.Shift is { } shift ? await shift.LoadAsync(maps, longest, cancel) : null;
        var program = await ShadeProgram.LoadAsync(surface.Graph, surface.Nodes.Values, maps, longest, cancel);
        return new(program, surface.Graph.Working, surface.Nodes.ToDictionary(n => n.Key, n => program.Register(n.Value)), surface.Model)
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
