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
        var asked = await AskedAsync(cell);
        var shown = $"{asked.Key}/{cell.View}/{cell.Exposure}";
        return await thumbnails.GetAsync(shown, async () =>
            PictureWriter.Png(views.View(cell.View, asked.Viewed.Working).Apply(await LightAsync(asked, cancel), cell.Exposure), 1)
        );
    }

    /// <summary>Numbers at a place: light in the working space, and what is displayed.</summary>
    public async Task<LightReadout> ReadAsync(ProofCell cell, float u, float v, int patch, CancellationToken cancel)
    {
        var asked = await AskedAsync(cell);
        var light = await LightAsync(asked, cancel);
        var working = asked.Viewed.Working;
        var (x, y) = ((int)(Math.Clamp(u, 0, 1) * light.Width), (int)(Math.Clamp(v, 0, 1) * light.Height));
        return LightReadout.Of(light, working, views.View(cell.View, working), cell.Exposure, x, y, patch);
    }

    /// <param name="Key">The same for the same light, however it is displayed.</param>
    private sealed record Asked(ProofCell Cell, ViewedLook Viewed, string Key);

    private async Task<Asked> AskedAsync(ProofCell cell)
    {
        var look = cell.At is { } number ? await looks.AtAsync(cell.Look, number) : (await looks.GetAsync(cell.Look)).Look();
        var viewed = await views.InContextAsync(cell.Look, look, trimmed: true);
        var bounded = cell with
        {
            Size = Math.Clamp(cell.Size, 32, 1024),
            Samples = Math.Clamp(cell.Samples, 1, Math.Min(1024, settings.MostSamples)),
        };
        var made = $"{LookJson.Hash(viewed.Look)}/{compilation.Profile(cell.Dialect).Hash}/{viewed.Working.Id}/{views.Config}";
        var of = bounded with { Look = AnyLook, At = null, View = "", Exposure = 0 };
        return new(bounded, viewed, $"cell light/{made}/{await lights.ContentAsync(cell.Light)}/{of}");
    }

    /// <summary>
    /// Linear light, kept as halves beside what is displayed of it: another view or exposure, and a place's numbers, render nothing anew.
    /// </summary>
    private async Task<ImageBuffer> LightAsync(Asked asked, CancellationToken cancel)
    {
        var halves = await thumbnails.GetAsync(asked.Key, async () =>
        {
            var light = (await RenderedAsync(asked, cancel)).As(SampleType.F16);
            return light.Data;
        });
        var side = asked.Cell.Size;
        var channels = halves.Length / (side * side * 2);
        return new ImageBuffer(side, side, ImageBuffer.UsualChannels(channels), SampleType.F16, halves);
    }

    private async Task<ImageBuffer> RenderedAsync(Asked asked, CancellationToken cancel)
    {
        var cell = asked.Cell;
        var material = await views.MaterialAsync(asked.Viewed, cell.Dialect, cancel);
        using var alone = await scheduler.SmallPictureSlotAsync(cancel);
        var usual = OrbitCamera.For(cell.Form);
        var camera = new OrbitCamera(
            cell.Yaw ?? usual.YawDegrees,
            cell.Pitch ?? usual.PitchDegrees,
            usual.Zoom * Math.Clamp(cell.Zoom, 0.2f, 12f)
        );
        var tracer = new ProofRequest(cell.Form, cell.Light, cell.Size, cell.Size, camera, cell.LightRotation).Start(
            material,
            await lights.OwnAsync(cell.Light)
        );
        while (tracer.Samples < cell.Samples)
            await scheduler.RenderAsync(
                hold =>
                {
                    tracer.Accumulate(Math.Min(Turn, cell.Samples - tracer.Samples), cancel, hold: hold);
                    return true;
                },
                cancel
            );
        return tracer.Picture();
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
