using System.Security.Claims;
using Hangfire;
using Kiln.Looks.Intake;
using Kiln.Looks.Wiring;
using Kiln.Server.People;
using Kiln.Store;

namespace Kiln.Server.Intake;

public sealed record NewDelivery(string Name);

public sealed record DeliveryInfo(Guid Id, string Name, string State, string? Message, int Files, long Bytes, DateTime Created, IntakeResult? Result);

public sealed record WireRequest(string[]? Sets, string? Collection);

public sealed record WiredLook(Guid Id, string Name);

/// <summary>Bringing deliveries in: create, send files one by one, analyse, correct, wire.</summary>
public static class DeliveryRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/deliveries");
        group.MapGet("", async (Deliveries d) => (await d.ListAsync()).Select(Info)).WithName("listDeliveries");
        group.MapGet("/{id:guid}", async (Guid id, Deliveries d) => await d.FindAsync(id) is { } row ? Results.Ok(Info(row)) : Results.NotFound()).Produces<DeliveryInfo>().WithName("getDelivery");
        group.MapPost("", async (NewDelivery request, Deliveries d, ClaimsPrincipal user) =>
        {
            var name = request.Name.Trim();
            if (name.Length is 0 or > 200 || name.Any(char.IsControl))
                throw new DeliveryException("A delivery needs a name of 1 to 200 characters.");
            return Info((await d.FindAsync(await d.CreateAsync(name, user.PersonId())))!);
        }).RequireAuthorization("artist").WithName("createDelivery");
        group.MapPut("/{id:guid}/files/{**path}", ReceiveAsync).RequireAuthorization("artist").WithName("sendFile").DisableAntiforgery();
        group.MapPost("/{id:guid}/analyse", AnalyseAsync).RequireAuthorization("artist").WithName("analyseDelivery");
        group.MapPost("/{id:guid}/cancel", CancelAsync).RequireAuthorization("artist").WithName("cancelDelivery");
        group.MapDelete("/{id:guid}", async (Guid id, Deliveries d) => await d.DeleteAsync(id) ? Results.NoContent() : Results.NotFound()).RequireAuthorization("artist").WithName("deleteDelivery");
        group.MapPost("/{id:guid}/move", async (Guid id, Correction correction, Deliveries d) =>
        {
            await d.ChangeAsync(id, correction.Apply);
            return Info((await d.FindAsync(id))!);
        }).RequireAuthorization("artist").WithName("moveFile");
        group.MapPost("/{id:guid}/wire", WireAsync).RequireAuthorization("artist").WithName("wireSets");
    }

    private static DeliveryInfo Info(DeliveryRow row) => new(row.Id, row.Name, row.State, row.Message, row.Files, row.Bytes, row.Created, row.Intake());

    /// <summary>One file, streamed to disk; a broken connection leaves nothing behind.</summary>
    private static async Task<IResult> ReceiveAsync(Guid id, string path, HttpRequest request, Deliveries deliveries, Uploads uploads, CancellationToken cancel)
    {
        if (await deliveries.FindAsync(id) is not { State: "receiving" })
            return Results.Problem(statusCode: 409, title: "This delivery does not take files any more.");
        var target = uploads.PathFor(id, path);
        if (File.Exists(target))
            throw new DeliveryException($"'{path}' was sent twice; the first one was kept.");
        var part = target + ".part";
        try
        {
            await using (var file = File.Create(part))
                await request.Body.CopyToAsync(file, cancel);
            File.Move(part, target);
        }
        finally
        {
            File.Delete(part);
        }
        return Results.NoContent();
    }

    private static async Task<IResult> AnalyseAsync(Guid id, Deliveries deliveries, Uploads uploads, IBackgroundJobClient jobs)
    {
        if (!Directory.Exists(uploads.FolderOf(id)))
            throw new DeliveryException("The delivery is empty; send at least one file first.");
        if (!await deliveries.AdvanceAsync(id, "receiving", "analysing"))
            return Results.Problem(statusCode: 409, title: "This delivery is analysed already, or was cancelled.");
        jobs.Enqueue<IntakeJob>(j => j.RunAsync(id, CancellationToken.None));
        return Results.Accepted();
    }

    private static async Task<IResult> CancelAsync(Guid id, Deliveries deliveries, RunningIntakes running, Uploads uploads)
    {
        if (await deliveries.FindAsync(id) is not { State: "receiving" or "analysing" } row)
            return Results.Problem(statusCode: 409, title: "This delivery is finished; there is nothing to cancel.");
        await deliveries.SetStateAsync(id, "cancelled", "Cancelled; nothing of it was kept.");
        running.Cancel(id);
        if (row.State == "receiving")
            uploads.Discard(id);
        return Results.NoContent();
    }

    private static async Task<IReadOnlyList<WiredLook>> WireAsync(Guid id, WireRequest request, Deliveries deliveries, LookStore looks, Collections collections, ClaimsPrincipal user)
    {
        var result = (await deliveries.FindAsync(id))?.Intake() ?? throw new DeliveryException("The delivery is not there or not analysed yet.");
        var chosen = result.Sets.Where(s => request.Sets is null ? s.Ready : request.Sets.Contains(s.Name)).ToList();
        var shelf = request.Collection is { Length: > 0 } name ? await collections.EnsureAsync(name) : (Guid?)null;
        var wired = new List<WiredLook>();
        foreach (var set in chosen)
        {
            var look = SetWiring.Wire(set);
            var lookId = await looks.CreateAsync(look, user.PersonId(), id);
            if (shelf is { } s)
                await collections.AddAsync(s, lookId);
            wired.Add(new(lookId, look.Name));
        }
        return wired;
    }
}
