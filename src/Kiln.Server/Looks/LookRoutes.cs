using System.Security.Claims;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Pixels.Writing;
using Kiln.Server.Looks.Bench;
using Kiln.Server.Packages;
using Kiln.Server.People;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Server.Studio;
using Kiln.Store;
using Kiln.Store.Looks;
using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Looks;

/// <param name="Working">The space it is worked in, and who says so.</param>
public sealed record LookInfo(Guid Id, string Name, int Revision, DateTime Changed, Look Document, WorkingInfo Working);

/// <summary>Looks: reading, editing with If-Match, undo, history, packages.</summary>
public static class LookRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/looks");
        group
            .MapPut("/{id:guid}/archived", async (Guid id, LookListRepository looks) =>
                await looks.ArchiveAsync(id, true) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization("artist")
            .WithName("archiveLook");
        group
            .MapDelete("/{id:guid}/archived", async (Guid id, LookListRepository looks) =>
                await looks.ArchiveAsync(id, false) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization("artist")
            .WithName("bringLookBack");
        group
            .MapGet("/{id:guid}", async (Guid id, LookRepository looks, LookContextRepository spaces, HttpResponse response) =>
                await TaggedAsync(await RowAsync(looks, id), spaces, response)
            )
            .WithName("getLook");
        group
            .MapPost("/{id:guid}/edits", (Guid id, LookEdit edit, HttpContext http, LookRepository looks, IHubContext<ProgressHub> hub) =>
                ChangedAsync(looks.EditAsync(id, Revision(http), edit, http.User.PersonId()), http, hub)
            )
            .RequireAuthorization("artist")
            .WithName("editLook")
            .TakesDocuments();
        group
            .MapPost("/{id:guid}/undo", (Guid id, HttpContext http, LookRepository looks, IHubContext<ProgressHub> hub) =>
                ChangedAsync(looks.UndoAsync(id, Revision(http), http.User.PersonId()), http, hub)
            )
            .RequireAuthorization("artist")
            .WithName("undoLook");
        group
            .MapPost("/{id:guid}/redo", (Guid id, HttpContext http, LookRepository looks, IHubContext<ProgressHub> hub) =>
                ChangedAsync(looks.RedoAsync(id, Revision(http), http.User.PersonId()), http, hub)
            )
            .RequireAuthorization("artist")
            .WithName("redoLook");
        group.MapGet("/{id:guid}/history", (Guid id, LookRepository looks) => looks.HistoryAsync(id)).WithName("lookHistory");
        group
            .MapGet(
                "/{id:guid}/board",
                async (Guid id, string? dialect, LookRepository looks, BoardReading board, CancellationToken cancel) =>
                    await board.ReadAsync(await RowAsync(looks, id), dialect, cancel)
            )
            .WithName("lookBoard");
        group
            .MapGet(
                "/{id:guid}/tile",
                async (Guid id, string lane, int? steps, int? revision, LookRepository looks, BoardReading board, HttpContext http) =>
                {
                    var picture = await board.TileAsync(await RowAsync(looks, id), lane, steps, 176, http.RequestAborted);
                    http.Response.Headers.CacheControl = revision is null ? "no-cache" : "private, max-age=86400";
                    return Results.Bytes(PictureWriter.Png(picture, 1), "image/png");
                }
            )
            .WithName("lookTile");
        group.MapGet("/{id:guid}/package", PackageAsync).RequireAuthorization("artist").WithName("lookPackage");
    }

    public static async Task<LookRow> RowAsync(LookRepository looks, Guid id) =>
        await looks.FindAsync(id) ?? throw new MissingException("look.missing", "This look is not there any more.");

    /// <summary>The revision that the person saw; every change says which.</summary>
    internal static int Revision(HttpContext http) =>
        int.TryParse(http.Request.Headers.IfMatch.ToString().Trim('"'), out var revision)
            ? revision
            : throw new ArgumentException("Say in If-Match which revision of the look the change was made on.");

    private static async Task<LookInfo> TaggedAsync(LookRow row, LookContextRepository spaces, HttpResponse response)
    {
        var working = await spaces.OfLookAsync(row.Id);
        response.Headers.ETag = $"\"{row.Revision}\"";
        return new(
            row.Id,
            row.Name,
            row.Revision,
            row.Changed,
            row.Look(),
            new(working.Space.Id, working.Space.Space.Label, working.Reason)
        );
    }

    internal static async Task<LookInfo> ChangedAsync(Task<LookRow> change, HttpContext http, IHubContext<ProgressHub> hub)
    {
        var row = await change;
        await hub.Clients.All.SendAsync("look", new { row.Id, row.Revision });
        return await TaggedAsync(row, http.RequestServices.GetRequiredService<LookContextRepository>(), http.Response);
    }

    private static async Task<IResult> PackageAsync(
        Guid id,
        string dialect,
        LookRepository looks,
        LookPackages packages,
        LookContextRepository contexts,
        bool convertTextures = false
    )
    {
        var around = await contexts.OfLookAsync(id);
        var (look, working) = ((await RowAsync(looks, id)).Look().Under(around.Trims), around.Space);
        return await Download.ZipAsync(async stream =>
        {
            var compiled = await packages.WriteAsync(stream, look, dialect, working, convertTextures);
            return $"{compiled.Network.Material}_{dialect}.zip";
        });
    }
}
