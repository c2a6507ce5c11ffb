using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Document;
using Kiln.Pixels.Writing;
using Kiln.Proof.Rendering;
using Kiln.Server.Looks;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Starting;
using Kiln.Server.Proofs.Lights;
using Kiln.Server.Proofs.Scheduling;

namespace Kiln.Server.Proofs.Thumbnails;

/// <summary>
/// Small pictures of looks, all made the same way: the vessel under the softbox unless another form or light is asked for, few samples
/// with the noise taken out. Made once and kept.
/// </summary>
public sealed class LookPictures(
    LookCompilation compilation,
    RenderScheduler scheduler,
    ThumbnailCache thumbnails,
    LightRegistry lights,
    KilnSettings settings
)
{
    /// <summary>Pictures up to so many pixels are for picking by, not for judging, and take fewer samples.</summary>
    private const int StripSide = 96;

    /// <summary>Samples in one turn at the processors.</summary>
    private const int Piece = 8;

    /// <summary>JPEG of side × side pixels.</summary>
    /// <param name="look">With its studio trims, or as one of its variants.</param>
    public async Task<byte[]> OfAsync(
        Look look,
        WorkingSpace working,
        int side,
        string? form = null,
        string? light = null,
        string? dialect = null,
        CancellationToken cancel = default
    )
    {
        // The filter needs to know what the picture is made of.
        var request = new ProofRequest(form ?? "vessel", light ?? "softbox", side, side, WithLayers: true);
        var samples = side <= StripSide ? Math.Min(Piece, settings.PictureSamples) : settings.PictureSamples;
        // Variants of its own are not seen in a look.
        look = look with { Variants = [] };
        var key = $"look/{LookJson.Hash(look)}/{compilation.Profile(dialect).Hash}/{working.Id}/{side}";
        if (form is not null || light is not null)
            key += $"/{request.Form}/{request.Light}/{await lights.ContentAsync(request.Light)}";
        return await thumbnails.GetAsync(key, async () =>
        {
            var material = await compilation.MaterialAsync(look, dialect, working, LookViews.InteractiveTextures).WaitAsync(cancel);
            // One after another: six at a time would all be late.
            using var alone = await scheduler.SmallPictureSlotAsync(cancel);
            // Somebody else may have waited for the same one.
            if (await thumbnails.FindAsync(key) is { } made)
                return made;
            var tracer = request.Start(material, await lights.OwnAsync(request.Light));
            while (tracer.Samples < samples)
                await scheduler.RenderAsync(
                    hold =>
                    {
                        tracer.Accumulate(Math.Min(Piece, samples - tracer.Samples), cancel, hold: hold);
                        return true;
                    },
                    cancel
                );
            var shown = tracer.WithoutNoise();
            return PictureWriter.Jpeg(View.Named("aces1-sdr", working.Space).Apply(shown), 90);
        });
    }
}
