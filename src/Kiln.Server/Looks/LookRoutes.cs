using System.Security.Claims;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Server.Looks.Bench;
using Kiln.Server.Packages;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Server.Studio;
using Kiln.Store.Looks;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Looks;

/// <param name="Working">The space it is worked in, and who says so.</param>
public sealed record LookInfo(LookId Id, string Name, int Revision, DateTime Changed, Look Document, WorkingInfo Working);

/// <param name="Steps">Up to so many of the lane's steps; null for all.</param>
/// <param name="Revision">Of the look, where the picture may be kept by the browser.</param>
public sealed record TileQuery(
    [FromQuery(Name = "lane")] LaneAddress Lane,
    [FromQuery(Name = "steps")] int? Steps,
    [FromQuery(Name = "revision")] int? Revision
);

/// <summary>Looks: reading, editing with If-Match, undo, history, packages.</summary>
public static class LookRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/looks");
        group
            .MapPut("/{id:guid}/archived", async (LookId id, LookListRepository looks) =>
                await looks.ArchiveAsync(id, true) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Works)
            .WithName("archiveLook");
        group
            .MapDelete("/{id:guid}/archived", async (LookId id, LookListRepository looks) =>
                await looks.ArchiveAsync(id, false) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Works)
            .WithName("bringLookBack");
        group
            .MapGet("/{id:guid}", async ([AsParameters] LookRequest look) => await look.InfoAsync(await look.RowAsync()))
            .WithName("getLook");
        group
            .MapPost("/{id:guid}/edits", ([AsParameters] LookRequest look, LookEdit edit) => look.EditAsync(edit))
            .RequireAuthorization(Access.Works)
            .WithName("editLook")
            .TakesDocuments();
        group
            .MapPost("/{id:guid}/undo", ([AsParameters] LookRequest look) =>
                look.ChangedAsync(look.Looks.UndoAsync(look.Id, look.Revision, look.Person))
            )
            .RequireAuthorization(Access.Works)
            .WithName("undoLook");
        group
            .MapPost("/{id:guid}/redo", ([AsParameters] LookRequest look) =>
                look.ChangedAsync(look.Looks.RedoAsync(look.Id, look.Revision, look.Person))
            )
            .RequireAuthorization(Access.Works)
            .WithName("redoLook");
        group.MapGet("/{id:guid}/history", (LookId id, LookRepository looks) => looks.HistoryAsync(id)).WithName("lookHistory");
        group
            .MapGet("/{id:guid}/board", async ([AsParameters] LookRequest look, string? dialect, BoardReading board) =>
                await board.ReadAsync(await look.RowAsync(), dialect, look.Cancel)
            )
            .WithName("lookBoard");
        group
            .MapGet("/{id:guid}/tile", async ([AsParameters] LookRequest look, [AsParameters] TileQuery tile, BoardReading board) =>
            {
                var picture = await board.TileAsync(await look.RowAsync(), tile.Lane, tile.Steps, 176, look.Cancel);
                look.Http.Response.Headers.CacheControl = tile.Revision is null ? "no-cache" : "private, max-age=86400";
                return PictureAnswers.Png(picture);
            })
            .WithName("lookTile");
        group.MapGet("/{id:guid}/package", PackageAsync).RequireAuthorization(Access.Works).WithName("lookPackage");
    }

    private static async Task<IResult> PackageAsync(
        [AsParameters] LookRequest request,
        string dialect,
        LookPackages packages,
        bool convertTextures = false
    )
    {
        var (look, working) = await request.ViewedAsync();
        return await Download.ZipAsync(async stream =>
        {
            var compiled = await packages.WriteAsync(stream, look, dialect, working, convertTextures);
            return $"{compiled.Network.Material}_{dialect}.zip";
        });
    }
}
