using Kiln.Analysis.Models;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Overrides;
using Kiln.Pixels.Writing;
using Kiln.Proof.Geometry.Models;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;
using Kiln.Server.Looks;
using Kiln.Server.Proofs;
using Kiln.Server.Proofs.Lights;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Store.Models;

namespace Kiln.Server.Models;

/// <summary>Where a model is seen from, under which light, and how large.</summary>
/// <param name="Yaw">Degrees around it; null for the usual place.</param>
/// <param name="Only">The path of a part that is shown in its look while all others are grey.</param>
public sealed record ModelView(
    int Width = 640,
    int Height = 480,
    string Light = "softbox",
    float? Yaw = null,
    float? Pitch = null,
    float Zoom = 1,
    int Samples = 16,
    string? Only = null
)
{
    internal OrbitCamera Camera
    {
        get
        {
            var usual = StandingModel.Whole;
            return new(Yaw ?? usual.YawDegrees, Pitch ?? usual.PitchDegrees, usual.Zoom * Zoom);
        }
    }
}

/// <summary>Proofs of models with the looks that lie on their parts; made once and kept.</summary>
public sealed class ModelPictures(
    ModelRepository models,
    ModelsOnStage stage,
    LookCompilation compilation,
    LightRegistry lights,
    RenderScheduler scheduler,
    ThumbnailCache thumbnails
)
{
    private const int Piece = 4;

    /// <summary>JPEG, by the view of all small pictures.</summary>
    /// <exception cref="LookException">There is no such model.</exception>
    public async Task<byte[]> OfAsync(ModelId id, ModelView view, CancellationToken cancel)
    {
        var model = await models.FindAsync(id) ?? throw new LookException("There is no such model.");
        var parts = await models.PartsAsync(id);
        var dressed = await stage.DressedAsync(parts, view.Only);
        var key = $"model/{Key(model, parts, dressed, view)}/{await lights.ContentAsync(view.Light)}";
        return await thumbnails.GetAsync(key, () => RenderAsync(model, parts, dressed, view, cancel));
    }

    private string Key(ModelRow model, IReadOnlyList<PartRow> parts, DressedParts dressed, ModelView view)
    {
        var said = string.Join(
            '\n',
            parts.Select(p => dressed.Looks.TryGetValue(p.Path, out var look) ? $"{p.Path}={LookJson.Hash(look)}/{p.Projection}" : p.Path)
        );
        var how = FormattableString.Invariant(
            $"{view.Width}/{view.Height}/{view.Light}/{view.Yaw}/{view.Pitch}/{view.Zoom}/{view.Samples}"
        );
        return $"{model.Packed}/{ModelsOnStage.Hash(said)}/{compilation.Profile(null).Hash}/{dressed.Working.Id}/{how}";
    }

    private async Task<byte[]> RenderAsync(
        ModelRow model,
        IReadOnlyList<PartRow> parts,
        DressedParts dressed,
        ModelView view,
        CancellationToken cancel
    )
    {
        var standing = await stage.OfAsync(model, parts, dressed.Looks);
        var materials = new Dictionary<string, ProofMaterial>();
        foreach (var (path, look) in dressed.Looks)
            materials[path] = (await MaterialAsync(look)).InItsTiles();
        var grey = await MaterialAsync(ModelOnStage.PlainGrey);
        var request = new ProofRequest("sphere", view.Light, view.Width, view.Height, view.Camera, WithLayers: true);
        var tracer = request.Start(standing, materials, grey, await lights.OwnAsync(view.Light));
        while (tracer.Samples < view.Samples)
            await scheduler.RenderAsync(
                hold =>
                {
                    tracer.Accumulate(Math.Min(Piece, view.Samples - tracer.Samples), cancel, hold: hold);
                    return true;
                },
                cancel
            );
        return PictureWriter.Jpeg(View.Named("aces1-sdr", dressed.Working.Space).Apply(tracer.WithoutNoise()), 90);

        Task<ProofMaterial> MaterialAsync(Look look) =>
            compilation.MaterialAsync(look, null, dressed.Working, LookViews.InteractiveTextures).WaitAsync(cancel);
    }
}
