using System.IO.Compression;
using System.Security.Claims;
using Hangfire;
using Kiln.Dialects.Lowering;
using Kiln.Looks.Ids;
using Kiln.Pixels.Decoding;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Store.Collections;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Sheets;

/// <summary>A sheet to be made: of a collection, or of looks in their order.</summary>
/// <param name="Kind">contact: all looks in a grid; looks: a page for each.</param>
public sealed record SheetOrder(string Kind, CollectionId? Collection = null, IReadOnlyList<LookId>? Looks = null);

public sealed record SheetInfo(
    SheetId Id,
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
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/sheets");
        group
            .MapGet("", async (SheetRepository sheets, ClaimsPrincipal user) => (await sheets.OfAsync(user.PersonId())).Select(Info))
            .WithName("listSheets");
        group
            .MapPost("", async (SheetOrder order, SheetOrdering ordering, ClaimsPrincipal user) =>
                Info(await ordering.OrderAsync(order, user.PersonId()))
            )
            .RequireAuthorization(Access.Works)
            .WithName("orderSheet");
        group
            .MapDelete("/{id:guid}", async ([AsParameters] SheetRequest request, SheetJob job) =>
            {
                if (await request.OwnAsync() is null)
                    return Results.NotFound();
                await request.Sheets.RemoveAsync(request.Id);
                job.Remove(request.Id);
                return Results.NoContent();
            })
            .RequireAuthorization(Access.Works)
            .WithName("removeSheet");
        group
            .MapGet("/{id:guid}/file/{name}", async ([AsParameters] SheetRequest request, string name, SheetJob job) =>
            {
                if (await request.OwnAsync() is not { } row || !row.Files.Contains(name))
                    return Results.NotFound();
                // A page of its own that may have its style and its pictures in it, and nothing from anywhere.
                request.Http.Response.Headers.ContentSecurityPolicy =
                    "default-src 'none'; img-src data:; style-src 'unsafe-inline'; frame-ancestors 'none'; sandbox allow-modals";
                return Results.File(
                    Path.Combine(job.FolderOf(request.Id), name),
                    name.EndsWith(".html", StringComparison.Ordinal) ? "text/html; charset=utf-8" : PictureFormat.Png.MediaType()
                );
            })
            .WithName("sheetFile");
        group
            .MapGet("/{id:guid}/all", async ([AsParameters] SheetRequest request, SheetJob job) =>
            {
                if (await request.OwnAsync() is not { State: "done" } row)
                    return Results.NotFound();
                return await Download.ZipAsync(stream =>
                {
                    using var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true);
                    foreach (var file in row.Files)
                        zip.CreateEntryFromFile(Path.Combine(job.FolderOf(request.Id), file), file, CompressionLevel.NoCompression);
                    return Task.FromResult($"{DialectCompiler.MaterialName(row.Title)}_{row.Kind}.zip");
                });
            })
            .WithName("sheetFiles");
    }

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

/// <summary>One sheet as a request meets it.</summary>
public sealed record SheetRequest([FromRoute(Name = "id")] SheetId Id, HttpContext Http, SheetRepository Sheets)
{
    /// <summary>Null where it is not there, or another's.</summary>
    public async Task<SheetRow?> OwnAsync() => await Sheets.FindAsync(Id) is { } row && Http.User.Owns(row.PersonId) ? row : null;
}
