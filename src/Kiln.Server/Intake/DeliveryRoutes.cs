using System.Security.Claims;
using System.Text.Json.Serialization;
using Hangfire;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Looks.Ids;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Platform.Security;
using Kiln.Store.Intake;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Intake;

public sealed record NewDelivery(string Name);

public sealed record DeliveryInfo(
    DeliveryId Id,
    string Name,
    string State,
    string? Message,
    int Files,
    long Bytes,
    DateTime Created,
    bool FromServer,
    IntakeResult? Result
);

/// <param name="Offer">The naming rule by which the next delivery would be sorted like this; null where the name says nothing.</param>
public sealed record Corrected(DeliveryInfo Delivery, NamingRule? Offer, [property: JsonPropertyName("offerWords")] string? OfferSentence);

public sealed record WireRequest(string[]? Sets, string? Collection);

public sealed record WiredLook(LookId Id, string Name);

/// <summary>Bringing deliveries in: create, send files one by one, analyse, correct, wire.</summary>
public static class DeliveryRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/deliveries");
        group.MapGet("", async (DeliveryRepository d) => (await d.ListAsync()).Select(Info)).WithName("listDeliveries");
        group
            .MapGet("/{id:guid}", async (DeliveryId id, DeliveryRepository d) =>
                await d.FindAsync(id) is { } row ? Results.Ok(Info(row)) : Results.NotFound()
            )
            .Produces<DeliveryInfo>()
            .WithName("getDelivery");
        group
            .MapPost("", async (NewDelivery request, DeliveryRepository d, ClaimsPrincipal user) =>
            {
                var name = request.Name.Trim();
                if (name.Length is 0 or > 200 || name.Any(char.IsControl))
                    throw new DeliveryException("A delivery needs a name of 1 to 200 characters.");
                return Info((await d.FindAsync(await d.CreateAsync(name, user.PersonId())))!);
            })
            .RequireAuthorization(Access.Works)
            .WithName("createDelivery");
        UploadRoutes.Map(group);
        group.MapPost("/{id:guid}/analyse", AnalyseAsync).RequireAuthorization(Access.Works).WithName("analyseDelivery");
        group.MapPost("/{id:guid}/cancel", CancelAsync).RequireAuthorization(Access.Works).WithName("cancelDelivery");
        group.MapPost("/{id:guid}/pause", PauseAsync).RequireAuthorization(Access.Works).WithName("pauseDelivery");
        group.MapPost("/{id:guid}/resume", ResumeAsync).RequireAuthorization(Access.Works).WithName("resumeDelivery");
        group.MapPost("/{id:guid}/answer", AnswerAsync).RequireAuthorization(Access.Works).WithName("answerQuestion");
        group
            .MapDelete("/{id:guid}", async (DeliveryId id, DeliveryRepository d, RunningIntakes running, Uploads uploads) =>
            {
                if (!await d.DeleteAsync(id))
                    return Results.NotFound();
                await running.StoppedAsync(id);
                uploads.Discard(id);
                return Results.NoContent();
            })
            .RequireAuthorization(Access.Works)
            .WithName("deleteDelivery");
        group.MapPost("/{id:guid}/move", MoveAsync).RequireAuthorization(Access.Works).WithName("moveFile");
        group.MapPost("/{id:guid}/surfaces", MakeSurfaceAsync).RequireAuthorization(Access.Works).WithName("makeSurface");
        group
            .MapPost("/{id:guid}/reflections", async (DeliveryId id, ReflectionAnswer answer, DeliveryRepository d) =>
            {
                await d.ChangeAsync(id, answer.Apply);
                return Info((await d.FindAsync(id))!);
            })
            .RequireAuthorization(Access.Works)
            .WithName("answerReflections");
        group
            .MapPost("/{id:guid}/wire", (DeliveryId id, WireRequest request, DeliveryWiring wiring, ClaimsPrincipal user) =>
                wiring.WireAsync(id, request, user.PersonId())
            )
            .RequireAuthorization(Access.Works)
            .WithName("wireSets");
    }

    internal static DeliveryInfo Info(DeliveryRow row) =>
        new(row.Id, row.Name, row.State, row.Message, row.Files, row.Bytes, row.Created, row.Source is not null, row.Intake());

    private static async Task<IResult> AnalyseAsync(
        DeliveryId id,
        DeliveryRepository deliveries,
        Uploads uploads,
        IBackgroundJobClient jobs
    )
    {
        if (uploads.Incomplete(id) is { Count: > 0 } missing)
            throw new DeliveryException(
                $"{missing.Count} file{(missing.Count == 1 ? "" : "s")} did not arrive completely ({missing[0]}…); send the rest first."
            );
        if (!Directory.Exists(uploads.FolderOf(id)))
            throw new DeliveryException("The delivery is empty; send at least one file first.");
        if (!await deliveries.AdvanceAsync(id, "receiving", "analysing"))
            return Problems.Of(409, "delivery.state", "This delivery is analysed already, or was cancelled.");
        jobs.Enqueue<IntakeJob>(j => j.RunAsync(id.Value, CancellationToken.None));
        return Results.Accepted();
    }

    private static async Task<IResult> CancelAsync(DeliveryId id, DeliveryRepository deliveries, RunningIntakes running, Uploads uploads)
    {
        if (await deliveries.FindAsync(id) is not { State: "receiving" or "analysing" or "paused" })
            return Problems.Of(409, "delivery.state", "This delivery is finished; there is nothing to cancel.");
        await deliveries.SetStateAsync(id, "cancelled", "Cancelled; nothing of it was kept.");
        await running.StoppedAsync(id);
        uploads.Discard(id);
        return Results.NoContent();
    }

    private static async Task<IResult> PauseAsync(DeliveryId id, DeliveryRepository deliveries, RunningIntakes running)
    {
        if (!await deliveries.AdvanceAsync(id, "analysing", "paused"))
            return Problems.Of(409, "delivery.state", "This delivery is not being analysed; there is nothing to pause.");
        running.Stop(id);
        return Results.NoContent();
    }

    private static async Task<IResult> ResumeAsync(DeliveryId id, DeliveryRepository deliveries, IBackgroundJobClient jobs)
    {
        if (!await deliveries.AdvanceAsync(id, "paused", "analysing"))
            return Problems.Of(409, "delivery.state", "This delivery does not wait; there is nothing to resume.");
        jobs.Enqueue<IntakeJob>(j => j.RunAsync(id.Value, CancellationToken.None));
        return Results.Accepted();
    }

    private static async Task<Corrected> MoveAsync(
        [AsParameters] DeliveryRequest request,
        Correction correction,
        NamingRuleRepository rules
    )
    {
        await request.Deliveries.ChangeAsync(request.Id, correction.Apply);
        var offer =
            correction.ToSet is { } set && (correction.ToRole is not null || correction.Channels is not null)
                ? NamingEffects.Offer(correction.Path, set, correction.ToRole ?? default, correction.Channels, await rules.InForceAsync())
                : null;
        return new(await request.InfoAsync(), offer, offer?.Sentence);
    }

    private static async Task<DeliveryInfo> AnswerAsync([AsParameters] DeliveryRequest request, Answer answer, NamingRuleRepository rules)
    {
        await request.Deliveries.ChangeAsync(request.Id, answer.Apply);
        if (answer.Remember)
            await rules.AddAsync(new(answer.Phrase, NamingRuleKind.Role, answer.Role), request.Http.User.PersonId(), "asked in a delivery");
        return await request.InfoAsync();
    }

    private static async Task<DeliveryInfo> MakeSurfaceAsync(
        [AsParameters] DeliveryRequest request,
        NewSurface surface,
        SurfaceMaking making
    )
    {
        await making.MakeAsync(request.Id, surface, request.Http.RequestAborted);
        return await request.InfoAsync();
    }
}

/// <summary>One delivery as a request meets it.</summary>
public sealed record DeliveryRequest([FromRoute(Name = "id")] DeliveryId Id, HttpContext Http, DeliveryRepository Deliveries)
{
    /// <summary>What is known of it now.</summary>
    public async Task<DeliveryInfo> InfoAsync() => DeliveryRoutes.Info((await Deliveries.FindAsync(Id))!);
}
