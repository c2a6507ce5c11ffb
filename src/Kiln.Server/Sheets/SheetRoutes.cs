using System.IO.Compression;
using System.Security.Claims;
using Hangfire;
using Kiln.Dialects.Lowering;
using Kiln.Looks.Document;
using Kiln.Server.People;
using Kiln.Server.Platform;
using Kiln.Store;
using Kiln.Store.Collections;
using Kiln.Store.Looks;

namespace Kiln.Server.Sheets;

/// <summary>A sheet to be made: of a collection, or of looks in their order.</summary>
/// <param name="Kind">contact: all looks in a grid; looks: a page for each.</param>
public sealed record SheetOrder(string Kind, Guid? Collection = null, IReadOnlyList<Guid>? Looks = null);

public sealed record SheetInfo(
    Guid Id,
    string Kind,
    string Title,
    string State,
    int Done,
    int Of,
    string? Message,
    IReadOnlyList<string> Files,
    DateTime Created
);

/// <summary>Contact sheets and look sheets: ordered, followed, opened or fetched.</summary>
public static class SheetRoutes
{
    private const int MostInGrid = 2000,
        MostPages = 200;

    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/sheets");
        group
            .MapGet("", async (SheetRepository sheets, ClaimsPrincipal user) => (await sheets.OfAsync(user.PersonId())).Select(Info))
            .WithName("listSheets");
        group.MapPost("", OrderAsync).RequireAuthorization("artist").WithName("orderSheet");
        group
            .MapDelete("/{id:guid}", async (Guid id, SheetRepository sheets, SheetJob job, ClaimsPrincipal user) =>
            {
                if (await OwnAsync(id, sheets, user) is null)
                    return Results.NotFound();
                await sheets.RemoveAsync(id);
                job.Remove(id);
                return Results.NoContent();
            })
            .RequireAuthorization("artist")
            .WithName("removeSheet");
        group
            .MapGet(
                "/{id:guid}/file/{name}",
                async (Guid id, string name, SheetRepository sheets, SheetJob job, ClaimsPrincipal user, HttpResponse response) =>
                {
                    if (await OwnAsync(id, sheets, user) is not { } row || !row.Files.Contains(name))
                        return Results.NotFound();
                    // A page of its own that may have its style and its pictures in it, and nothing from anywhere.
                    response.Headers.ContentSecurityPolicy =
                        "default-src 'none'; img-src data:; style-src 'unsafe-inline'; frame-ancestors 'none'; sandbox allow-modals";
                    return Results.File(
                        Path.Combine(job.FolderOf(id), name),
                        name.EndsWith(".html", StringComparison.Ordinal) ? "text/html; charset=utf-8" : "image/png"
                    );
                }
            )
            .WithName("sheetFile");
        group
            .MapGet("/{id:guid}/all", async (Guid id, SheetRepository sheets, SheetJob job, ClaimsPrincipal user) =>
            {
                if (await OwnAsync(id, sheets, user) is not { State: "done" } row)
                    return Results.NotFound();
                return await Download.ZipAsync(stream =>
                {
                    using var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true);
                    foreach (var file in row.Files)
                        zip.CreateEntryFromFile(Path.Combine(job.FolderOf(id), file), file, CompressionLevel.NoCompression);
                    return Task.FromResult($"{DialectCompiler.MaterialName(row.Title)}_{row.Kind}.zip");
                });
            })
            .WithName("sheetFiles");
    }

    private static async Task<SheetInfo> OrderAsync(
        SheetOrder order,
        CollectionRepository collections,
        LookListRepository list,
        SheetRepository sheets,
        IBackgroundJobClient jobs,
        ClaimsPrincipal user
    )
    {
        if (order.Kind is not ("contact" or "looks"))
            throw new LookException($"There is no sheet '{order.Kind}'; contact and looks are.");
        var title = order.Collection is { } id
            ? (await collections.ListAsync()).FirstOrDefault(c => c.Id == id)?.Name
                ?? throw new MissingException("collection.missing", "There is no such collection.")
            : "Chosen looks";
        var looks =
            order.Looks is { Count: > 0 } chosen ? [.. chosen.Distinct()]
            : order.Collection is null ? []
            : (await list.DocumentsAsync(order.Collection)).Select(r => r.Id).ToList();
        var most = order.Kind == "contact" ? MostInGrid : MostPages;
        if (looks.Count == 0 || looks.Count > most)
            throw new LookException(
                looks.Count == 0
                    ? "There is no look to be shown."
                    : $"At most {most} looks go onto one {(order.Kind == "contact" ? "contact sheet" : "set of look sheets")}; "
                        + $"there are {looks.Count}. Choose some of them."
            );
        var made = await sheets.AddAsync(order.Kind, title, looks, user.PersonId());
        jobs.Enqueue<SheetJob>(j => j.RunAsync(made, CancellationToken.None));
        return Info((await sheets.FindAsync(made))!);
    }

    private static async Task<SheetRow?> OwnAsync(Guid id, SheetRepository sheets, ClaimsPrincipal user) =>
        await sheets.FindAsync(id) is { } row && row.PersonId == user.PersonId() ? row : null;

    private static SheetInfo Info(SheetRow row) =>
        new(
            row.Id,
            row.Kind,
            row.Title,
            row.State,
            row.State == "done" ? row.Looks.Length : row.Done,
            row.Looks.Length,
            row.Message,
            row.Files,
            row.Created
        );
}
