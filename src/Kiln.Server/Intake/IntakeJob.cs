using System.Collections.Concurrent;
using Hangfire;
using Kiln.Looks.Intake;
using Kiln.Pixels.Decoding;
using Kiln.Server.Platform;
using Kiln.Store;
using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Intake;

/// <summary>Which intakes run in this process, so that they can be cancelled.</summary>
public sealed class RunningIntakes
{
    private readonly ConcurrentDictionary<Guid, CancellationTokenSource> running = new();

    public CancellationTokenSource Begin(Guid id, CancellationToken outer) => running[id] = CancellationTokenSource.CreateLinkedTokenSource(outer);

    public void End(Guid id) => running.TryRemove(id, out _);

    public void Cancel(Guid id)
    {
        if (running.TryGetValue(id, out var source))
            source.Cancel();
    }
}

/// <summary>Analyses a delivery: list, look, decide; then the files go to the store and the result to the database, or nothing does.</summary>
public sealed class IntakeJob(Deliveries deliveries, Uploads uploads, ContentStore store, IPictureDecoder decoder, NamingRules rules, RunningIntakes running, IHubContext<ProgressHub> hub, ILogger<IntakeJob> log)
{
    [AutomaticRetry(Attempts = 0)]
    public async Task RunAsync(Guid id, CancellationToken cancel)
    {
        if (await deliveries.FindAsync(id) is not { State: "analysing" } delivery)
            return;
        using var stop = running.Begin(id, cancel);
        var kept = false;
        try
        {
            await TellAsync(id, "analysing", "reading the delivery", 0, 0);
            uploads.DiscardStaging(id);
            var listing = DeliveryListing.Read([PlaceOf(delivery)], uploads.StagingOf(id), cancel: stop.Token);
            var last = 0L;
            var progress = new Relay(p =>
            {
                // A few times a second is enough for the eye.
                var now = Environment.TickCount64;
                if (p.Done == p.Total || now - Interlocked.Read(ref last) > 120)
                {
                    Interlocked.Exchange(ref last, now);
                    _ = TellAsync(id, "analysing", p.Stage, p.Done, p.Total);
                }
            });
            var result = await new IntakeAnalysis(decoder, NamingTables.With(await rules.InForceAsync())).RunAsync(listing, delivery.Name, progress, stop.Token);
            foreach (var file in listing.Files)
            {
                stop.Token.ThrowIfCancellationRequested();
                store.Take(file.LocalPath, file.Content);
            }
            var state = await deliveries.FinishAsync(id, result, listing.Files) ? "ready" : "cancelled";
            await TellAsync(id, state, "done", listing.Files.Count, listing.Files.Count);
        }
        catch (OperationCanceledException) when (deliveries.FindAsync(id).GetAwaiter().GetResult() is { State: "paused" })
        {
            kept = true;
            await TellAsync(id, "paused", "paused", 0, 0);
        }
        catch (OperationCanceledException)
        {
            await deliveries.SetStateAsync(id, "cancelled", "Cancelled; nothing of it was kept.");
            await TellAsync(id, "cancelled", "cancelled", 0, 0);
        }
        catch (Exception e)
        {
            if (e is not DeliveryException)
                log.LogError(e, "The intake of {Delivery} failed", id);
            await deliveries.SetStateAsync(id, "failed", e is DeliveryException or IOException ? e.Message : "The analysis failed; nothing of it was kept. Bring the delivery in again.");
            await TellAsync(id, "failed", "failed", 0, 0);
        }
        finally
        {
            running.End(id);
            if (kept)
                uploads.DiscardStaging(id);
            else
                uploads.Discard(id);
        }
    }

    /// <summary>A folder of the server as it lies; of what was sent, one archive as it is and everything else as a folder.</summary>
    private string PlaceOf(DeliveryRow delivery)
    {
        if (delivery.Source is { } source)
            return source;
        var folder = uploads.FolderOf(delivery.Id);
        return Directory.GetFileSystemEntries(folder) is [var only] && File.Exists(only) ? only : folder;
    }

    private Task TellAsync(Guid id, string state, string stage, int done, int total) => hub.Clients.All.SendAsync("delivery", new DeliveryProgress(id, state, stage, done, total));

    private sealed class Relay(Action<IntakeProgress> report) : IProgress<IntakeProgress>
    {
        public void Report(IntakeProgress value) => report(value);
    }
}
