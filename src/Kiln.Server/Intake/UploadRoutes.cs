using Kiln.Intake.Listing;
using Kiln.Looks.Ids;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Platform.Security;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Intake;

/// <summary>How much of a file has arrived.</summary>
public sealed record Arrived(long Bytes, bool Complete);

/// <summary>Files of a delivery, each sent in one or several pieces; a broken connection loses nothing that arrived.</summary>
public static class UploadRoutes
{
    public static void Map(RouteGroupBuilder deliveries)
    {
        deliveries
            .MapGet("/{id:guid}/files/{**path}", (DeliveryId id, string path, Uploads uploads) =>
                Progress(uploads.PlaceOf(id, path), uploads.PartOf(id, path))
            )
            .WithName("fileArrived");
        deliveries
            .MapPut("/{id:guid}/files/{**path}", ReceiveAsync)
            .RequireAuthorization(Access.Works)
            .WithName("sendFile")
            .TakesFiles()
            .DisableAntiforgery();
    }

    private static Arrived Progress(string target, string part) =>
        File.Exists(target) ? new(new FileInfo(target).Length, true)
        : File.Exists(part) ? new(new FileInfo(part).Length, false)
        : new(0, false);

    private static async Task<IResult> ReceiveAsync(
        [AsParameters] DeliveryRequest delivery,
        [AsParameters] FilePiece piece,
        Uploads uploads
    )
    {
        var (id, path, request) = (delivery.Id, piece.Path, delivery.Http.Request);
        var (from, of) = (piece.From, piece.Of);
        if (await delivery.Deliveries.FindAsync(id) is not { State: "receiving", Source: null })
            return Problems.Of(409, "delivery.closed", "This delivery does not take files any more.");
        if (File.Exists(uploads.PlaceOf(id, path)))
            throw new DeliveryException($"'{path}' was sent twice; the first one was kept.");
        await using (var file = uploads.Receive(id, path))
        {
            if (from < 0 || from > file.Length)
                return Problems.Of(409, "upload.gap", $"Only {file.Length} bytes of '{path}' have arrived; go on from there.");
            file.SetLength(from);
            file.Position = from;
            await request.Body.CopyToAsync(file, delivery.Http.RequestAborted);
            if (of is { } whole && file.Length > whole)
            {
                file.SetLength(0);
                return Problems.Of(409, "upload.too-long", $"More of '{path}' arrived than it should hold; send it again.");
            }
            if (of is { } expected && file.Length < expected || request.ContentLength is { } announced && file.Length - from < announced)
                return Results.Accepted(value: new Arrived(file.Length, false));
        }
        uploads.Arrived(id, path);
        return Results.NoContent();
    }
}

/// <summary>A piece of a file that is sent.</summary>
/// <param name="From">Where this piece begins; what lies beyond is sent again.</param>
/// <param name="Of">The whole length; without it the piece is the whole file.</param>
public sealed record FilePiece(
    [FromRoute(Name = "path")] string Path,
    [FromQuery(Name = "from")] long From = 0,
    [FromQuery(Name = "of")] long? Of = null
);
