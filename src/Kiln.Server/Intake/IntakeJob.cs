using System.Collections.Concurrent;
using Hangfire;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Looks.Ids;
using Kiln.Pixels.Decoding;
using Kiln.Server.Configs;
using Kiln.Server.Models;
using Kiln.Server.Platform;
using Kiln.Store;
using Kiln.Store.Contents;
using Kiln.Store.Intake;
using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Intake;

/// <summary>Which intakes run in this process, so that they can be stopped; one delivery has one run at a time.</summary>
public sealed class RunningIntakes
{
    private readonly ConcurrentDictionary<DeliveryId, CancellationTokenSource> running = new();
    private readonly ConcurrentDictionary<DeliveryId, SemaphoreSlim> gates = new();

    /// <summary>Begins a run once an earlier one of the same delivery, stopped a moment ago, has cleared away.</summary>
    public async Task<CancellationTokenSource> BeginAsync(DeliveryId id, CancellationToken outer)
    {
        await gates.GetOrAdd(id, _ => new(1)).WaitAsync(outer);
        return running[id] = CancellationTokenSource.CreateLinkedTokenSource(outer);
    }

    public void End(DeliveryId id)
    {
        running.TryRemove(id, out _);
        gates[id].Release();
    }

    /// <summary>Stops the run and waits until it has cleared away, so that its files can be removed.</summary>
    public async Task StoppedAsync(DeliveryId id)
    {
        Stop(id);
        if (!gates.TryGetValue(id, out var gate))
            return;
        await gate.WaitAsync();
        gate.Release();
    }

    /// <summary>Tells the run to stop, where there is one.</summary>
    public void Stop(DeliveryId id)
    {
        try
        {
            if (running.TryGetValue(id, out var source))
                source.Cancel();
        }
        catch (ObjectDisposedException)
        {
            // It ended in this moment.
        }
    }
}

/// <summary>
/// Analyses a delivery: list, look, decide; then the files go to the store and the result to the database, or nothing does.
/// </summary>
public sealed class IntakeJob(
    DeliveryRepository deliveries,
    Uploads uploads,
    DeliveryKeeping keeping,
    MapReader reader,
    RunningIntakes running,
    IHubContext<ProgressHub> hub,
    ILogger<IntakeJob> log
)
{
    /// <param name="named">As the queue stores it, in the orders of earlier releases too.</param>
    [AutomaticRetry(Attempts = 0), Queue(JobQueues.Light)]
    public async Task RunAsync(Guid named, CancellationToken cancel)
    {
        var id = DeliveryId.From(named);
        using var stop = await running.BeginAsync(id, cancel);
        try
        {
            if (await deliveries.FindAsync(id) is { State: "analysing" } delivery)
                await AnalyseAsync(delivery, stop.Token);
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            // The server is stopping; the delivery waits for its return.
            await deliveries.WaitAsync(id);
        }
        catch (OperationCanceledException)
        {
            // A person paused or cancelled it, and may have resumed it since: their last word is in the database.
        }
        catch (Exception e)
        {
            if (e is not DeliveryException)
                log.LogError(e, "The intake of {Delivery} failed", id);
            await deliveries.SetStateAsync(
                id,
                "failed",
                e is DeliveryException or IOException
                    ? e.Message
                    : "The analysis failed; nothing of it was kept. Bring the delivery in again."
            );
        }
        finally
        {
            var state = (await deliveries.FindAsync(id))?.State ?? "cancelled";
            // What waits keeps its files, whoever was quicker.
            if (state is "paused" or "analysing")
                uploads.DiscardStaging(id);
            else
                uploads.Discard(id);
            running.End(id);
            await TellAsync(id, state, state, 0, 0);
        }
    }

    private async Task AnalyseAsync(DeliveryRow delivery, CancellationToken stop)
    {
        var id = delivery.Id;
        await TellAsync(id, "analysing", "reading the delivery", 0, 0);
        uploads.DiscardStaging(id);
        var listing = DeliveryListing.Read([PlaceOf(delivery)], uploads.StagingOf(id), cancel: stop);
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
        var result = await (await reader.NowAsync()).RunAsync(listing, delivery.Name, progress, stop);
        if (result.Models.Length > 0)
            await TellAsync(id, "analysing", "reading models", 0, 0);
        await keeping.KeepAsync(id, listing, result, stop);
    }

    /// <summary>A folder of the server as it lies; of what was sent, one archive as it is and everything else as a folder.</summary>
    private string PlaceOf(DeliveryRow delivery)
    {
        if (delivery.Source is { } source)
            return source;
        var folder = uploads.FolderOf(delivery.Id);
        return Directory.GetFileSystemEntries(folder) is [var only] && File.Exists(only) ? only : folder;
    }

    private Task TellAsync(DeliveryId id, string state, string stage, int done, int total) =>
        hub.Clients.All.SendAsync("delivery", new DeliveryProgress(id, state, stage, done, total));

    private sealed class Relay(Action<IntakeProgress> report) : IProgress<IntakeProgress>
    {
        public void Report(IntakeProgress value) => report(value);
    }
}

/// <summary>Reads maps as the studio reads them: by its naming rules and its colour config.</summary>
public sealed class MapReader(IPictureDecoder decoder, NamingRuleRepository rules, ConfigRegistry colour)
{
    /// <summary>An analysis under the rules in force now.</summary>
    public async Task<IntakeAnalysis> NowAsync() =>
        new(decoder, NamingTables.With(await rules.InForceAsync()), config: colour.Current.Names);
}

/// <summary>Keeps what an analysis found: files first, then the result and the models that came with it, all of them or nothing.</summary>
public sealed class DeliveryKeeping(DeliveryRepository deliveries, ContentStore store, ModelArrivals models, Database database)
{
    public async Task KeepAsync(DeliveryId id, DeliveryListing listing, IntakeResult result, CancellationToken stop)
    {
        foreach (var file in listing.Files)
        {
            stop.ThrowIfCancellationRequested();
            store.Take(file.LocalPath, file.Content);
        }
        var arrived = await models.ReadAsync(listing, result, stop);
        // Where a person stopped it in the last moment, nothing is written and their word stands.
        await database.TogetherAsync(async () =>
        {
            var done = await deliveries.FinishAsync(id, result, listing.Files);
            if (done)
                await models.KeepAsync(id, arrived);
            return done;
        });
    }
}
