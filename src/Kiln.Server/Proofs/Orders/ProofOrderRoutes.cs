using System.Security.Claims;
using System.Text.Json;
using Kiln.Looks.Ids;
using Kiln.Pixels.Decoding;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Platform.Security;
using Kiln.Store.Proofs;

namespace Kiln.Server.Proofs.Orders;

/// <summary>State: waiting, rendering, done, failed or cancelled; done of total counts samples.</summary>
public sealed record ProofOrderInfo(
    ProofOrderId Id,
    LookId Look,
    string Name,
    string State,
    long Done,
    long Total,
    string? Message,
    DateTime Created,
    string File,
    ProofOrder Asked
);

/// <summary>Pictures for outside the program: ordered, made in turn, fetched.</summary>
public static class ProofOrderRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/looks/{id:guid}/proof-files", OrderAsync).WithName("orderProof");
        api.MapGet("/proof-files", async (ProofOrderRepository orders, ClaimsPrincipal user) =>
                (await orders.OfAsync(user.PersonId())).Select(Info)
            )
            .WithName("listProofFiles");
        api.MapGet("/proof-files/{id:guid}/file", FileAsync).WithName("proofFile");
        api.MapDelete("/proof-files/{id:guid}", RemoveAsync).WithName("removeProofFile");
    }

    private static async Task<ProofOrderInfo> OrderAsync(LookId id, ProofOrder order, ProofOrdering ordering, ClaimsPrincipal user) =>
        Info(await ordering.OrderAsync(id, order, user.PersonId()));

    private static async Task<IResult> FileAsync(ProofOrderId id, ProofOrderRepository orders, ProofOrderJob job, ClaimsPrincipal user)
    {
        if (await orders.FindAsync(id) is not { State: "done" } row || row.PersonId != user.PersonId())
            return Problems.Of(404, "proof-file.missing", "This picture is not there: it is not finished, or was removed.");
        var order = Order(row);
        var type = order.IsZip ? "application/zip" : PictureFormats.ByExtension("." + order.Format).MediaType();
        return Results.File(job.PathOf(id, order), type, FileName(row), enableRangeProcessing: true);
    }

    private static async Task<IResult> RemoveAsync(ProofOrderId id, ProofOrderRepository orders, ProofOrderJob job, ClaimsPrincipal user)
    {
        if (await orders.FindAsync(id) is not { } row || row.PersonId != user.PersonId())
            return Results.NotFound();
        // One that is being made is stopped first; what is finished goes with its file.
        if (await orders.EndAsync(id, "cancelled", "Cancelled."))
            return Results.NoContent();
        await orders.RemoveAsync(id);
        job.Remove(id);
        return Results.NoContent();
    }

    private static ProofOrder Order(ProofOrderRow row) => JsonSerializer.Deserialize<ProofOrder>(row.Asked, JsonSerializerOptions.Web)!;

    private static string FileName(ProofOrderRow row) =>
        $"{ProofOrderJob.FileName(row.LookName)}.{(Order(row) is { IsZip: false } order ? order.Format : "zip")}";

    private static ProofOrderInfo Info(ProofOrderRow row) =>
        new(row.Id, row.LookId, row.LookName, row.State, row.Done, row.Total, row.Message, row.Created, FileName(row), Order(row));
}
