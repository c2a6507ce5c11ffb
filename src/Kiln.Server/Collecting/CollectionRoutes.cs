using System.Security.Claims;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Server.Studio;
using Kiln.Store.Collections;
using Kiln.Store.Looks;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Collecting;

public sealed record NewCollection(string Name);

/// <summary>Looks of a collection that belong into one of its sections; an empty name takes them out of theirs.</summary>
public sealed record SectionOfLooks(string Section, IReadOnlyList<LookId> Looks);

/// <summary>The collection and the dialect whose trims are set.</summary>
public sealed record TrimsPlace([FromRoute(Name = "id")] CollectionId Id, [FromRoute(Name = "dialect")] string Dialect);

/// <summary>Collections and what lies in them.</summary>
public static class CollectionRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/collections");
        group.MapGet("", (CollectionRepository c) => c.ListAsync()).WithName("listCollections");
        group
            .MapPost("", async (NewCollection request, CollectionRepository c) =>
            {
                var name = request.Name.Trim();
                if (name.Length is 0 or > 120 || name.Any(char.IsControl))
                    throw new LookException("A collection needs a name of 1 to 120 characters.");
                var id = await c.EnsureAsync(name);
                return (await c.ListAsync()).First(r => r.Id == id);
            })
            .RequireAuthorization(Access.Works)
            .WithName("createCollection");
        group
            .MapGet("/{id:guid}/trims", (CollectionId id, LookContextRepository contexts) => contexts.TrimsAsync(id))
            .WithName("houseTrims");
        group
            .MapPut(
                "/{id:guid}/trims/{dialect}",
                ([AsParameters] TrimsPlace place, Trim[] trims, CollectionTrims own, ClaimsPrincipal user) =>
                    own.SetAsync(place, trims, user.PersonId())
            )
            .RequireAuthorization(Access.Leads)
            .WithName("setHouseTrims");
        group
            .MapPut("/{id:guid}/working-space", async (CollectionId id, ChosenSpace choice, LookContextRepository spaces) =>
                await spaces.SetForCollectionAsync(id, choice.Id is { } space ? WorkingSpace.Find(space) : null)
                    ? Results.NoContent()
                    : Results.NotFound()
            )
            .RequireAuthorization(Access.Works)
            .WithName("collectionWorkingSpace");
        MapLooks(group);
    }

    /// <summary>Which looks are in a collection, and in which of its sections.</summary>
    private static void MapLooks(RouteGroupBuilder group)
    {
        group
            .MapPut("/{id:guid}/looks/{look:guid}", async (CollectionId id, LookId look, CollectionRepository c) =>
            {
                await c.AddAsync(id, look);
                return Results.NoContent();
            })
            .RequireAuthorization(Access.Works)
            .WithName("addToCollection");
        group
            .MapPut("/{id:guid}/sections", async (CollectionId id, SectionOfLooks request, CollectionRepository c) =>
            {
                var section = request.Section.Trim();
                if (section.Length > 80 || section.Any(char.IsControl))
                    throw new LookException("A section has a name of at most 80 characters on one line.");
                await c.SetSectionAsync(id, request.Looks, section);
                return Results.NoContent();
            })
            .RequireAuthorization(Access.Works)
            .WithName("setSection");
        group
            .MapDelete("/{id:guid}/looks/{look:guid}", async (CollectionId id, LookId look, CollectionRepository c) =>
            {
                await c.RemoveAsync(id, look);
                return Results.NoContent();
            })
            .RequireAuthorization(Access.Works)
            .WithName("removeFromCollection");
    }
}

/// <summary>A collection's own trims, set by leads and told to all who have one of its looks open.</summary>
public sealed class CollectionTrims(LookContextRepository contexts, DialectProfiles profiles, IHubContext<ProgressHub> hub)
{
    public async Task<IReadOnlyList<StudioTrimsRow>> SetAsync(TrimsPlace place, Trim[] trims, PersonId person)
    {
        await contexts.SetTrimsAsync(place.Id, profiles.Find(place.Dialect).Id, [.. trims], person);
        await hub.Clients.All.SendAsync("collection", new { place.Id });
        return await contexts.TrimsAsync(place.Id);
    }
}
