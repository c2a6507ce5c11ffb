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
/// Directions of a surface at eight points, in tangent space (z outwards): its normal, its coat's, and those in which the reflections of
/// both
/// stretch.
/// </summary>
public readonly record struct SurfaceDirections(Wide3 Normal, Wide3 CoatNormal, Wide3 Heading, Wide3 CoatHeading);

/// <summary>A surface ready to be rendered: its inputs as a program, and the scattering model its dialect asks for.</summary>
public sealed class ProofMaterial
{
    private readonly ShadeProgram program;
    private readonly WideProgram wide;

    private readonly WideParameters constant;
    private readonly (SurfaceParameterNames.WideSetter Set, int Register)[] varying;
    private readonly int opacity,
        normal,
        coatNormal,
        tangent,
        coatTangent;
    private TileLayout tiles;

    private ProofMaterial(ShadeProgram program, WorkingSpace working, Dictionary<string, int> registers, SurfaceModel model)
    {
        (this.program, Working, tiles) = (program, working, TileLayout.Of(program.Tiles));
        wide = new(program);
        Model = model;
        int At(string name) => registers.GetValueOrDefault(name, -1);
        (opacity, normal, coatNormal, tangent, coatTangent) = (
            At("opacity"),
            At("normal"),
            At("coatNormal"),
            At("tangent"),
            At("coatTangent")
        );
        var plain = SurfaceParameters.Plain;
        var moving = new List<(SurfaceParameterNames.WideSetter, int)>();
        var values = program.NewRegisters();
        foreach (var (name, register) in registers)
            if (SurfaceParameterNames.All.TryGetValue(name, out var set))
            {
                if (program.IsConstant(register))
                    set(ref plain, Finite(values[register]));
                else
                    moving.Add((SurfaceParameterNames.Eight[name], register));
            }
        varying = [.. moving];
        constant = WideParameters.Of(plain);
        bool May(string name, float constantly) => constantly > 0f || registers.TryGetValue(name, out var r) && !program.IsConstant(r);
        IsOpaque = opacity < 0 || program.IsConstant(opacity) && plain.Opacity >= 1f;
        LetsLightIn = May("transmission", plain.Transmission);
        MayDisperse = LetsLightIn && May("dispersion", plain.Dispersion);
        MayStretch = May("anisotropy", plain.Anisotropy);
        HasOwnCoat = HasCoatNormal || May("coatAnisotropy", plain.CoatAnisotropy);
    }

    public SurfaceModel Model { get; }

    /// <summary>What its colours are linear in; light and picture have the same.</summary>
    public WorkingSpace Working { get; }

    /// <summary>What <see cref="At"/> works in; one for each thread.</summary>
    public Wide3[] NewScratch() => wide.NewRegisters();

    /// <summary>What <see cref="OpacityAt"/> works in; one for each thread.</summary>
    internal Vector3[] NewOpacityScratch() => Presence.NewRegisters();

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

    /// <summary>The same surface on a model whose parts lie in the tiles they were painted for.</summary>
    public ProofMaterial InItsTiles()
    {
        var shown = (ProofMaterial)MemberwiseClone();
        shown.tiles = TileLayout.Of([]);
        return shown;
    }

    /// <summary>What is needed to know where the surface is, by itself.</summary>
    private ShadeProgram Presence { get; init; } = null!;
    private int PresenceNode { get; init; }

    public long TextureBytes => program.TextureBytes;

    public bool HasNormal => normal >= 0;

    public bool HasCoatNormal => coatNormal >= 0;

    /// <summary>Whether the coat may lie or stretch otherwise than what is below it.</summary>
    public bool HasOwnCoat { get; }

    /// <summary>Whether reflections may be longer one way.</summary>
    public bool MayStretch { get; }

    /// <summary>Whether colours may be bent differently.</summary>
    public bool MayDisperse { get; }

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
        IEnumerable<int> presence = surface.Nodes.TryGetValue("opacity", out var opacity) ? [opacity] : [];
        return new(program, surface.Graph.Working, surface.Nodes.ToDictionary(n => n.Key, n => program.Register(n.Value)), surface.Model)
        {
            Displacement = displacement,
            Presence = await ShadeProgram.LoadAsync(surface.Graph, presence, maps, longest, cancel),
            PresenceNode = surface.Nodes.GetValueOrDefault("opacity", -1),
        };
    }

    /// <summary>What is the same everywhere.</summary>
    public WideParameters Plain => constant;

    /// <summary>The parameters that vary, and the directions, at eight points; footprints are sides of squares of UV.</summary>
    public void At(Wide u, Wide v, Wide footprint, Span<Wide3> scratch, ref WideParameters p, out SurfaceDirections directions)
    {
        if (Tiles.Count > 0)
            (u, v) = tiles.Place(u, v);
        wide.Run(u, v, footprint, scratch);
        directions = new(
            Of(normal, Vector3.UnitZ, scratch),
            Of(coatNormal, Vector3.UnitZ, scratch),
            Of(tangent, Vector3.UnitX, scratch),
            Of(coatTangent, Vector3.UnitX, scratch)
        );
        foreach (var (set, register) in varying)
            set(ref p, Wide3.Where(Wide3.Finite(scratch[register]), scratch[register]));
    }

    /// <summary>How much of the surface is there at a point, 0..1; footprint is the side of a square of UV.</summary>
    internal float OpacityAt(Vector2 uv, float footprint, Span<Vector3> scratch)
    {
        if (PresenceNode < 0)
            return 1;
        Presence.Run(tiles.Place(uv), footprint, scratch);
        return Finite(scratch[Presence.Register(PresenceNode)]).X;
    }

    private static Wide3 Of(int register, Vector3 otherwise, Span<Wide3> scratch) =>
        register >= 0 ? scratch[register] : Wide3.Of(otherwise);

    private static Vector3 Finite(Vector3 v) => float.IsFinite(v.X + v.Y + v.Z) ? v : Vector3.Zero;
}
