using System.Collections.Concurrent;
using System.Diagnostics;
using Hangfire;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Server.Platform;
using Kiln.Store.Collections;
using Kiln.Store.Looks;

namespace Kiln.Server.Packages;

/// <summary>
/// Writes the looks of a batch, one after another. A look that cannot be written has its sentence and keeps none of the others back; after
/// a restart it
/// goes on with the first that is not written. A package is there whole or not at all.
/// </summary>
public sealed class BatchJob(
    BatchRepository batches,
    LookPackages packages,
    VersionRepository versions,
    KilnSettings settings,
    ILogger<BatchJob> log
)
{
    private readonly ConcurrentDictionary<BatchId, bool> running = new();

    /// <summary>As the server starts: what an earlier one left goes on at once.</summary>
    public async Task GoOnAsync(IBackgroundJobClient jobs)
    {
        foreach (var id in await batches.UnfinishedAsync())
            jobs.Enqueue<BatchJob>(j => j.RunAsync(id.Value, CancellationToken.None));
    }

    public string FolderOf(BatchId id) => Path.Combine(settings.Data, "batches", id.ToString("N"));

    public void Remove(BatchId id)
    {
        if (Directory.Exists(FolderOf(id)))
            Directory.Delete(FolderOf(id), recursive: true);
    }

    /// <param name="named">As the queue stores it, in the orders of earlier releases too.</param>
    [AutomaticRetry(Attempts = 0), Queue(JobQueues.Heavy)]
    public async Task RunAsync(Guid named, CancellationToken cancel)
    {
        var id = BatchId.From(named);
        // A job that a killed server left may come back beside the one that went on in its place.
        if (await batches.FindAsync(id) is not { } batch || !running.TryAdd(id, true))
            return;
        try
        {
            Directory.CreateDirectory(FolderOf(id));
            while (await batches.NextAsync(id) is { } task)
            {
                cancel.ThrowIfCancellationRequested();
                await batches.EndAsync(id, task.Position, await WriteAsync(batch, task));
            }
        }
        finally
        {
            running.TryRemove(id, out _);
        }
    }

    private async Task<BatchOutcome> WriteAsync(BatchRow batch, BatchTask task)
    {
        var clock = Stopwatch.StartNew();
        var part = Path.Combine(FolderOf(batch.Id), $"{task.Position}.part");
        try
        {
            string file;
            BatchOutcome outcome;
            await using (var stream = File.Create(part))
            {
                var compiled = task.Version is { } number
                    ? await packages.WriteAsync(
                        stream,
                        await versions.FindAsync(task.LookId, number)
                            ?? throw new LookException($"Version {number} is not there any more."),
                        batch.Dialect
                    )
                    : await packages.WriteAsync(stream, LookJson.Read(task.Document), batch.Dialect, WorkingSpace.Find(task.WorkingSpace));
                file = $"{task.Position + 1:000}_{compiled.Network.Material}.zip";
                var report = compiled.Report;
                outcome = new(
                    "done",
                    null,
                    report.Exact.Length,
                    report.Approximated.Length,
                    report.Baked.Length,
                    report.Lost.Length,
                    stream.Length,
                    (float)clock.Elapsed.TotalSeconds,
                    file
                );
            }
            File.Move(part, Path.Combine(FolderOf(batch.Id), file), overwrite: true);
            return outcome;
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            File.Delete(part);
            var isSentence = e is KilnException or IOException;
            if (!isSentence)
                log.LogError(e, "Look {Look} of batch {Batch} failed", task.Name, batch.Id);
            return new(
                "failed",
                isSentence ? e.Message : "It could not be written; try it again.",
                Seconds: (float)clock.Elapsed.TotalSeconds
            );
        }
    }
}
