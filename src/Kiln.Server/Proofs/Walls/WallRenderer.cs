using Kiln.Colour.Views;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;
using Kiln.Proof.Rendering;
using Kiln.Server.Looks;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Starting;
using Kiln.Server.Proofs.Lights;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Store.Looks;

namespace Kiln.Server.Proofs.Walls;

/// <summary>
/// One proof of a wall: which look, as which dialect and at which time of its history, on what, under what, and how it is looked at.
/// </summary>
public sealed record ProofCell(
    LookId Look,
    string? Dialect = null,
    int? At = null,
    string Form = "vessel",
    string Light = "softbox",
    float LightRotation = 0,
    float Exposure = 0,
    string View = "aces1-sdr",
    float? Yaw = null,
    float? Pitch = null,
    float Zoom = 1,
    int Size = 240,
    int Samples = 64
);

/// <summary>Makes the proofs of walls, one after another and behind everything a person is busy with; each is made once.</summary>
public sealed class WallRenderer(
    LookRepository looks,
    LookViews views,
    LookCompilation compilation,
    RenderScheduler scheduler,
    ThumbnailCache thumbnails,
    LightRegistry lights,
    KilnSettings settings
)
{
    private const int Turn = 4;

    /// <summary>Stands for the look in a picture's name: equal looks have equal pictures, whichever they are.</summary>
    private static readonly LookId AnyLook = LookId.From(Guid.Empty);

    /// <summary>As displayed, PNG; the same for the same question, noise included.</summary>
    public async Task<byte[]> PngAsync(ProofCell cell, CancellationToken cancel)
    {
        var look = cell.At is { } number ? await looks.AtAsync(cell.Look, number) : (await looks.GetAsync(cell.Look)).Look();
        (look, var working) = await views.InContextAsync(cell.Look, look, trimmed: true);
        var side = Math.Clamp(cell.Size, 32, 1024);
        var samples = Math.Clamp(cell.Samples, 1, Math.Min(1024, settings.MostSamples));
        var made = $"{LookJson.Hash(look)}/{compilation.Profile(cell.Dialect).Hash}/{working.Id}/{views.Config}";
        var shown = cell with { Look = AnyLook, At = null, Size = side, Samples = samples };
        var key = $"cell/{made}/{await lights.ContentAsync(cell.Light)}/{shown}";
        return await thumbnails.GetAsync(key, async () =>
        {
            var material = await views.MaterialAsync(new(look, working), cell.Dialect, cancel);
            using var alone = await scheduler.SmallPictureSlotAsync(cancel);
            var usual = OrbitCamera.For(cell.Form);
            var camera = new OrbitCamera(
                cell.Yaw ?? usual.YawDegrees,
                cell.Pitch ?? usual.PitchDegrees,
                usual.Zoom * Math.Clamp(cell.Zoom, 0.2f, 12f)
            );
            var tracer = new ProofRequest(cell.Form, cell.Light, side, side, camera, cell.LightRotation).Start(
                material,
                await lights.OwnAsync(cell.Light)
            );
            while (tracer.Samples < samples)
                await scheduler.RenderAsync(
                    () =>
                    {
                        tracer.Accumulate(Math.Min(Turn, samples - tracer.Samples), cancel, hold: () => scheduler.IsUrgent);
                        return true;
                    },
                    cancel
                );
            return PictureWriter.Png(views.View(cell.View, working).Apply(tracer.Picture(), cell.Exposure), 1);
        });
    }

    /// <summary>The same as pixels.</summary>
    public async Task<ImageBuffer> PictureAsync(ProofCell cell, CancellationToken cancel)
    {
        var path = Path.GetTempFileName();
        try
        {
            await File.WriteAllBytesAsync(path, await PngAsync(cell, cancel), cancel);
            return DecodeWorker.InProcess(path, null, DecodeLimits.Default);
        }
        finally
        {
            File.Delete(path);
        }
    }
}
