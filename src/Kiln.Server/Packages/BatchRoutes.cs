using System.Globalization;
using System.IO.Compression;
using System.Security.Claims;
using Hangfire;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Tables;
using Kiln.Looks.Ids;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Store.Collections;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Packages;

/// <summary>State: waiting, running, done or cancelled.</summary>
public sealed record BatchInfo(
    BatchId Id,
    string Collection,
    string Dialect,
    string State,
    DateTime Created,
    IReadOnlyList<BatchLookRow> Looks
);

/// <param name="Drafts">The looks as they are now, instead of what is published of them.</param>
public sealed record BatchRequest(
    [FromRoute(Name = "id")] CollectionId Id,
    [FromQuery(Name = "dialect")] string Dialect,
    [FromQuery(Name = "drafts")] bool Drafts = false
);

/// <summary>A collection as one dialect's packages: ordered, followed look by look, fetched in one file.</summary>
public static class BatchRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/collections/{id:guid}/batches", OrderAsync).RequireAuthorization(Access.Works).WithName("orderBatch");
        api.MapGet("/batches", async (BatchRepository batches, ClaimsPrincipal user) =>
                await Task.WhenAll((await batches.OfAsync(user.PersonId())).Select(b => InfoAsync(b, batches)))
            )
            .WithName("listBatches");
        api.MapGet("/batches/{id:guid}/file", FileAsync).WithName("batchFile");
        api.MapPost(
                "/batches/{id:guid}/again",
                async (BatchId id, BatchRepository batches, IBackgroundJobClient jobs, ClaimsPrincipal user) =>
                {
                    if (await OwnAsync(id, batches, user) is null)
                        return Results.NotFound();
                    if (await batches.AgainAsync(id))
                        jobs.Enqueue<BatchJob>(j => j.RunAsync(id.Value, CancellationToken.None));
                    return Results.NoContent();
                }
            )
            .RequireAuthorization(Access.Works)
            .WithName("runBatchAgain");
        api.MapDelete("/batches/{id:guid}", RemoveAsync).RequireAuthorization(Access.Works).WithName("removeBatch");
    }

    private static async Task<BatchInfo> OrderAsync(
        [AsParameters] BatchRequest order,
        BatchOrdering ordering,
        BatchRepository batches,
        ClaimsPrincipal user
    ) => await InfoAsync((await batches.FindAsync(await ordering.OrderAsync(order, user.PersonId())))!, batches);

    private static async Task<BatchRow?> OwnAsync(BatchId id, BatchRepository batches, ClaimsPrincipal user) =>
        await batches.FindAsync(id) is { } row && user.Owns(row.PersonId) ? row : null;

    private static async Task<BatchInfo> InfoAsync(BatchRow row, BatchRepository batches)
    {
        var looks = await batches.LooksAsync(row.Id);
        var state =
            looks.All(l => l.State != "waiting") ? "done"
            : row.Cancelled ? "cancelled"
            : looks.Any(l => l.State != "waiting") ? "running"
            : "waiting";
        return new(row.Id, row.CollectionName, row.Dialect, state, row.Created, looks);
    }

    /// <summary>All packages that are written, and the table of results, as one zip that is made while it is sent.</summary>
    private static async Task<IResult> FileAsync(BatchId id, BatchRepository batches, BatchJob job, ClaimsPrincipal user)
    {
        if (await OwnAsync(id, batches, user) is not { } row)
            return Results.NotFound();
        var looks = await batches.LooksAsync(id);
        return await Download.ZipAsync(async stream =>
        {
            using var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true);
            foreach (var look in looks.Where(l => l.File is not null))
                zip.CreateEntryFromFile(Path.Combine(job.FolderOf(id), look.File!), look.File!, CompressionLevel.NoCompression);
            await using var table = new StreamWriter(zip.CreateEntry("results.csv").Open());
            await table.WriteAsync(
                CsvText.Write([
                    ["look", "state", "exact", "approximated", "baked", "lost", "bytes", "seconds", "file", "message"],
                    .. looks.Select(l =>
                        (IEnumerable<string>)
                            [
                                l.Name,
                                l.State,
                                Number(l.Exact),
                                Number(l.Approximated),
                                Number(l.Baked),
                                Number(l.Lost),
                                Number(l.Bytes),
                                l.Seconds.ToString("0.00", CultureInfo.InvariantCulture),
                                l.File ?? "",
                                l.Message ?? "",
                            ]
                    ),
                ])
            );
            return $"{Dialects.Lowering.DialectCompiler.MaterialName(row.CollectionName)}_{row.Dialect}.zip";
        });
    }

    private static string Number(IFormattable? number) => number?.ToString(null, CultureInfo.InvariantCulture) ?? "";

    private static async Task<IResult> RemoveAsync(BatchId id, BatchRepository batches, BatchJob job, ClaimsPrincipal user)
    {
        if (await OwnAsync(id, batches, user) is not { } row)
            return Results.NotFound();
        // One that runs is stopped first; what is finished goes with its files.
        if (!row.Cancelled && (await batches.LooksAsync(id)).Any(l => l.State == "waiting"))
        {
            await batches.CancelAsync(id);
            return Results.NoContent();
        }
        await batches.RemoveAsync(id);
        job.Remove(id);
        return Results.NoContent();
    }
}
