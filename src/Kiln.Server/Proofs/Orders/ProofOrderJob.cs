using System.IO.Compression;
using System.Text.Json;
using Hangfire;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Proof.Rendering;
using Kiln.Proof.Writing;
using Kiln.Server.Configs;
using Kiln.Server.Looks;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Starting;
using Kiln.Server.Proofs.Lights;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Store.Proofs;

namespace Kiln.Server.Proofs.Orders;

/// <summary>
/// Makes an ordered picture, piece by piece behind everything a person waits for. After a restart it begins anew; a file is there whole or
/// not at all.
/// </summary>
public sealed class ProofOrderJob(
    ProofOrderRepository orders,
    LookCompilation compilation,
    RenderScheduler scheduler,
    LightRegistry lights,
    ConfigRegistry colour,
    KilnSettings settings,
    ILogger<ProofOrderJob> log
)
{
    /// <summary>Pixel samples of one turn at the renderer.</summary>
    private const int MostPathsAtOnce = 1_500_000;

    private string Folder => Directory.CreateDirectory(Path.Combine(settings.Data, "proofs")).FullName;

    /// <summary>The finished file of an order.</summary>
    public string PathOf(ProofOrderId id, ProofOrder order) => Path.Combine(Folder, $"{id}.{(order.IsZip ? "zip" : order.Format)}");

    public void Remove(ProofOrderId id)
    {
        foreach (var file in Directory.GetFiles(Folder, $"{id}.*"))
            File.Delete(file);
    }

    /// <param name="named">As the queue stores it, in the orders of earlier releases too.</param>
    [AutomaticRetry(Attempts = 0), Queue(JobQueues.Light)]
    public async Task RunAsync(Guid named, CancellationToken cancel)
    {
        var id = ProofOrderId.From(named);
        if (await orders.FindAsync(id) is not { State: "waiting" or "rendering" } row)
            return;
        var work = Directory.CreateDirectory(Path.Combine(Folder, $"{id}.part")).FullName;
        try
        {
            if (await RenderAsync(row, work, cancel))
                await orders.EndAsync(id, "done");
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            // The server is stopping; the order waits for its return.
            throw;
        }
        catch (Exception e)
        {
            var isSentence = e is KilnException or ArgumentException or IOException;
            if (!isSentence)
                log.LogError(e, "The picture {Order} failed", id);
            await orders.EndAsync(id, "failed", isSentence ? e.Message : "The picture could not be made; order it again.");
        }
        finally
        {
            Directory.Delete(work, recursive: true);
        }
    }

    /// <summary>False where it was cancelled.</summary>
    private async Task<bool> RenderAsync(ProofOrderRow row, string work, CancellationToken cancel)
    {
        var order = JsonSerializer.Deserialize<ProofOrder>(row.Asked, JsonSerializerOptions.Web)!;
        var working = WorkingSpace.Find(row.WorkingSpace);
        var files = new ProofFiles(
            Path.Combine(work, $"{FileName(row.LookName)}.{order.Format}"),
            order.Frames,
            order.Layers ?? [],
            order.Denoise
        );
        var material = await compilation.MaterialAsync(LookJson.Read(row.Document), order.Dialect, working, null).WaitAsync(cancel);
        var view = View.Named(order.View, working.Space, colour.Current.Names);
        var own = await lights.OwnAsync(order.Light);
        var usual = OrbitCamera.For(order.Form);
        var step = Math.Clamp(MostPathsAtOnce / (order.Width * order.Height), 1, 16);
        for (var frame = 0; frame < order.Frames; frame++)
        {
            var camera = new OrbitCamera(
                (order.Yaw ?? usual.YawDegrees) + 360f * frame / order.Frames,
                order.Pitch ?? usual.PitchDegrees,
                usual.Zoom * Math.Clamp(order.Zoom, 0.2f, 12f)
            );
            var tracer = new ProofRequest(
                order.Form,
                order.Light,
                order.Width,
                order.Height,
                camera,
                order.LightRotation,
                Background: order.Background,
                WithLayers: files.NeedsLayers
            ).Start(material, own);
            while (tracer.Samples < order.Samples)
            {
                if (!await orders.ProgressAsync(row.Id, (long)frame * order.Samples + tracer.Samples))
                    return false;
                await scheduler.RenderAsync(
                    hold =>
                    {
                        tracer.Accumulate(Math.Min(step, order.Samples - tracer.Samples), cancel, hold: hold);
                        return true;
                    },
                    cancel,
                    RenderRank.Batch
                );
            }
            files.Add(frame, tracer, working, view, order.Exposure);
        }
        files.Finish();
        var target = PathOf(row.Id, order);
        var made = order.IsZip ? target + ".part" : Directory.GetFiles(work).Single();
        if (order.IsZip)
        {
            File.Delete(made);
            ZipFile.CreateFromDirectory(work, made, CompressionLevel.NoCompression, includeBaseDirectory: false);
        }
        File.Move(made, target, overwrite: true);
        return true;
    }

    /// <summary>A look's name as a file's.</summary>
    internal static string FileName(string look)
    {
        var name = string.Concat(look.Select(c => char.IsAsciiLetterOrDigit(c) ? c : '_')).Trim('_');
        return name.Length > 0 ? name : "proof";
    }
}
