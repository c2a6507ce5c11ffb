using System.Collections.Immutable;
using System.Security.Claims;
using System.Text;
using System.Text.Json.Serialization;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.MaterialX;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Looks.Steps;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Store.Looks;
using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Looks.Bench;

public sealed record Acceptance(string Code, string Subject, string Reason);

public sealed record NewChain(string Name, [property: JsonPropertyName("words")] string Summary, ImmutableArray<Step> Steps);

/// <param name="Version">A published version; null for the look as it is now.</param>
public sealed record LookAsLayer(LookId Look, int? Version);

/// <summary>
/// What the bench asks beside the document: findings accepted, steps studied, the generated network, times gone by, chains of the studio.
/// </summary>
public static class BenchRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var look = api.MapGroup("/looks/{id:guid}");
        look.MapPut("/findings/accepted", async (LookId id, Acceptance a, AcceptedFindingRepository accepted, ClaimsPrincipal user) =>
            {
                if (a.Reason.Trim().Length is 0 or > 500)
                    throw new LookException("Say in a few words why this is right; at most 500 characters.");
                await accepted.AcceptAsync(id, a.Code, a.Subject, a.Reason.Trim(), user.PersonId());
                return Results.NoContent();
            })
            .RequireAuthorization(Access.Works)
            .WithName("acceptFinding");
        look.MapDelete("/findings/accepted", async (LookId id, string code, string subject, AcceptedFindingRepository accepted) =>
                await accepted.TakeBackAsync(id, code, subject) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Works)
            .WithName("takeFindingBack");
        StepStudyRoutes.Map(look);
        look.MapGet("/trims", TrimsAsync).WithName("lookTrims");
        look.MapGet("/network", NetworkAsync).WithName("lookNetwork");
        look.MapGet("/history/{number:int}", async (LookId id, int number, LookRepository looks) => await looks.AtAsync(id, number))
            .WithName("lookAtTime");
        look.MapPost("/history/{number:int}/restore", ([AsParameters] LookRequest request, int number) =>
                request.ChangedAsync(request.Looks.RestoreAsync(request.Id, request.Revision, number, request.Person))
            )
            .RequireAuthorization(Access.Works)
            .WithName("restoreLook");
        look.MapPost("/covers", AddLayerAsync).Produces<LookInfo>().RequireAuthorization(Access.Works).WithName("layLookOn");
        var chains = api.MapGroup("/chains");
        chains.MapGet("", (ChainRepository kept) => kept.ListAsync()).WithName("listChains");
        chains
            .MapPost("", async (NewChain chain, ChainRepository kept, ClaimsPrincipal user) =>
            {
                var id = await kept.KeepAsync(chain.Name, chain.Summary, chain.Steps, user.PersonId());
                return (await kept.ListAsync()).First(c => c.Id == id);
            })
            .RequireAuthorization(Access.Works)
            .WithName("keepChain")
            .TakesDocuments();
        chains
            .MapGet("/{id:guid}/picture", async (ChainId id, ChainRepository kept, CancellationToken cancel) =>
                (await kept.ListAsync()).FirstOrDefault(c => c.Id == id) is { } chain
                    ? PictureAnswers.Png(await ChainPicture.OfAsync(chain, cancel))
                    : Results.NotFound()
            )
            .WithName("chainPicture");
        chains
            .MapDelete("/{id:guid}", async (ChainId id, ChainRepository kept) =>
                await kept.RemoveAsync(id) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Works)
            .WithName("removeChain");
    }

    /// <summary>What a look's collections say of its trims.</summary>
    private static Task<IReadOnlyList<TrimsOfCollections>> TrimsAsync(LookId id, LookContextRepository contexts) =>
        contexts.TrimsOfLookAsync(id);

    private static async Task<ShownNetwork> NetworkAsync(
        [AsParameters] LookRequest request,
        string dialect,
        LookCompilation compilation,
        DialectProfiles profiles
    )
    {
        const int preview = 512;
        var profile = profiles.Find(dialect);
        var (look, working) = await request.ViewedAsync();
        var network = (await compilation.CompileAsync(look, dialect, working, preview)).Network;
        return ShownNetwork.Of(
            network,
            profile.Document == DocumentKind.MaterialX ? Encoding.UTF8.GetString(MaterialXWriter.Write(network, profile, null)) : null
        );
    }

    private static async Task<LookInfo> AddLayerAsync([AsParameters] LookRequest request, LookAsLayer layer, VersionRepository versions)
    {
        var other = layer.Version is { } number
            ? (await versions.FindAsync(layer.Look, number))?.Look ?? throw new LookException($"That look has no version {number}.")
            : (await request.Looks.GetAsync(layer.Look)).Look();
        var pin = layer.Version is { } pinned ? $"{layer.Look}@{pinned}" : null;
        return await request.EditAsync(Layering.Over(await request.LookAsync(), other, pin));
    }
}
