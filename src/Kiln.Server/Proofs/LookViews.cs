using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Ids;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;
using Kiln.Server.Configs;
using Kiln.Server.Looks;
using Kiln.Server.Proofs.Lights;
using Kiln.Store.Looks;

namespace Kiln.Server.Proofs;

/// <summary>A look as it is rendered: under the trims of its collections, in its working space.</summary>
public sealed record ViewedLook(Look Look, WorkingSpace Working)
{
    /// <summary>The same with something else in the look's place.</summary>
    public ViewedLook With(Look look) => this with { Look = look };
}

/// <summary>What every picture of a look needs: the look in its context, its material, the light, and the view it is shown by.</summary>
public sealed class LookViews(
    LookRepository looks,
    LookContextRepository contexts,
    LookCompilation compilation,
    MapTextures textures,
    ConfigRegistry colour,
    LightRegistry lights
)
{
    /// <summary>Longest side of maps in the bench, whose small pictures share what is decoded.</summary>
    internal const int InteractiveTextures = 1024;

    /// <param name="variant">The look as one of its variants; null for as it is.</param>
    /// <param name="at">After that edit of its history; null for as it is now.</param>
    public async Task<ViewedLook> OfAsync(LookId id, string? variant = null, int? at = null)
    {
        var (look, seen) = await SeenAsync(id, variant, at);
        return seen(look);
    }

    /// <summary>The look as its document has it, and how it, or another in its place, is rendered.</summary>
    public async Task<(Look Look, Func<Look, ViewedLook> Seen)> SeenAsync(LookId id, string? variant, int? at = null)
    {
        var around = await contexts.OfLookAsync(id);
        return (at is { } edit ? await looks.AtAsync(id, edit) : (await looks.GetAsync(id)).Look(), look =>
            Seen(look.Under(around.Trims), around.Space)
        );

        ViewedLook Seen(Look look, WorkingSpace space) => new(variant is null ? look : look.As(variant), space);
    }

    /// <summary>A look that is given, in the working space of the look <paramref name="id"/>; trims only where they are to hold.</summary>
    public async Task<ViewedLook> InContextAsync(LookId id, Look look, bool trimmed)
    {
        var around = await contexts.OfLookAsync(id);
        return new(trimmed ? look.Under(around.Trims) : look, around.Space);
    }

    /// <summary>Hash of the colour config in force, by whose names views are found; null without one.</summary>
    public string? Config => colour.Current.Names?.Config.Hash;

    public View View(string name, WorkingSpace working) => Colour.Views.View.Named(name, working.Space, colour.Current.Names);

    public Task<ProofMaterial> MaterialAsync(ViewedLook viewed, string? dialect, CancellationToken cancel) =>
        compilation.MaterialAsync(viewed.Look, dialect, viewed.Working, InteractiveTextures).WaitAsync(cancel);

    /// <summary>One lane alone, up to so many of its steps.</summary>
    public Task<ProofMaterial> SoloAsync(ViewedLook viewed, LaneAddress lane, int? steps, CancellationToken cancel) =>
        ProofMaterial.LoadAsync(SoloSurface(viewed, lane, steps), textures, InteractiveTextures, cancel);

    /// <exception cref="LookException">The lane has no chain.</exception>
    public static SurfaceGraph SoloSurface(ViewedLook viewed, LaneAddress lane, int? steps)
    {
        var graph = new ShadeGraph(viewed.Working);
        var chain = viewed.Look.LaneAt(lane)?.Chain ?? throw new LookException($"{lane.Label} has no map to look at alone.");
        var node = new LaneGraphs(viewed.Look, graph).Chain(chain, steps);
        return SurfaceGraph.OfNode(graph, node);
    }

    public async Task<PathTracer> StartAsync(ProofRequest request, ProofMaterial material) =>
        request.Start(material, await lights.OwnAsync(request.Light));
}
