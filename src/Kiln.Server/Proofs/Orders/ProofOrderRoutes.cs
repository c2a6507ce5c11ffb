using System.Security.Claims;
using System.Text.Json;
using Hangfire;
using Kiln.Colour.Views;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Proof.Geometry;
using Kiln.Server.Configs;
using Kiln.Server.Looks;
using Kiln.Server.People;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Proofs.Lights;
using Kiln.Store;
using Kiln.Store.Looks;
using Kiln.Store.Proofs;

namespace Kiln.Server.Proofs.Orders;

/// <summary>State: waiting, rendering, done, failed or cancelled; done of total counts samples.</summary>
public sealed record ProofOrderInfo(
    Guid Id,
    Guid Look,
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

    private static async Task<ProofOrderInfo> OrderAsync(
        Guid id,
        ProofOrder order,
        LookRepository looks,
        LookContextRepository spaces,
        LightRegistry lights,
        DialectProfiles profiles,
        ConfigRegistry colour,
        ProofOrderRepository orders,
        IBackgroundJobClient jobs,
        ClaimsPrincipal user
    )
    {
        order.Checked();
        // What does not exist is said now, not when its turn has come.
        await lights.OwnAsync(order.Light);
        Forms.Named(order.Form);
        var around = await spaces.OfLookAsync(id);
        var working = around.Space;
        View.Named(order.View, working.Space, colour.Current.Names);
        if (order.Dialect is { } dialect)
            profiles.Find(dialect);
        var row = await LookRoutes.RowAsync(looks, id);
        var made = await orders.AddAsync(
            id,
            row.Name,
            LookJson.Write(row.Look().Under(around.Trims)),
            working.Id,
            user.PersonId(),
            JsonSerializer.Serialize(order, JsonSerializerOptions.Web),
            order.Total
        );
        jobs.Enqueue<ProofOrderJob>(j => j.RunAsync(made, CancellationToken.None));
        return Info((await orders.FindAsync(made))!);
    }

    private static async Task<IResult> FileAsync(Guid id, ProofOrderRepository orders, ProofOrderJob job, ClaimsPrincipal user)
    {
        if (await orders.FindAsync(id) is not { State: "done" } row || row.PersonId != user.PersonId())
            return Problems.Of(404, "proof-file.missing", "This picture is not there: it is not finished, or was removed.");
        var order = Order(row);
        var type = order.IsZip
            ? "application/zip"
            : order.Format switch
            {
                "png" => "image/png",
                "webp" => "image/webp",
                _ => "image/x-exr",
            };
        return Results.File(job.PathOf(id, order), type, FileName(row), enableRangeProcessing: true);
    }

    private static async Task<IResult> RemoveAsync(Guid id, ProofOrderRepository orders, ProofOrderJob job, ClaimsPrincipal user)
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
