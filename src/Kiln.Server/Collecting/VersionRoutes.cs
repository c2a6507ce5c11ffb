using System.Text.Json.Serialization;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Server.Configs;
using Kiln.Server.Looks;
using Kiln.Server.Packages;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Platform.Security;
using Kiln.Store.Looks;

namespace Kiln.Server.Collecting;

/// <param name="Publishes">At once, which only leads may; else it waits for one.</param>
public sealed record NewVersion(string Note, bool Publishes = false);

/// <summary>A lead's word on a version that waits.</summary>
public sealed record ReviewRequest(bool Publishes, [property: JsonPropertyName("words")] string Note = "");

/// <summary>
/// Versions of looks: submitted by artists, published or sent back by leads, taken up again, written for ever by what they were made under.
/// </summary>
public static class VersionRoutes
{
    private const int LongestNote = 500;

    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/looks/{id:guid}/versions");
        group
            .MapGet("", async (LookId id, VersionRepository versions, HttpContext http) =>
                (await versions.ListAsync(id)).Where(v => http.User.Sees(v.State))
            )
            .WithName("lookVersions");
        group
            .MapGet("/{number:int}", async ([AsParameters] VersionRequest request) =>
                await request.SeenAsync() is { } version ? Results.Ok(version.Look) : Results.NotFound()
            )
            .Produces<Look>()
            .WithName("lookVersion");
        group.MapGet("/{number:int}/package", PackageAsync).WithName("versionPackage");
        group
            .MapGet("/{number:int}/changes", async ([AsParameters] VersionRequest request, int? since) =>
                LookChanges.Between(
                    since is { } earlier ? (await request.RequiredAsync(earlier)).Look : await request.LookAsync(),
                    (await request.RequiredAsync()).Look
                )
            )
            .WithName("versionChanges");
        group.MapPost("", AddAsync).Produces<VersionRow>().RequireAuthorization(Access.Works).WithName("addVersion");
        group
            .MapPost("/{number:int}/judgement", ([AsParameters] VersionRequest request, ReviewRequest word) =>
                request.Versions.ReviewAsync(request.Id, request.Number, word.Publishes, Bounded(word.Note), request.Person)
            )
            .RequireAuthorization(Access.Leads)
            .WithName("judgeVersion");
        group
            .MapPost("/{number:int}/restore", async ([AsParameters] VersionRequest request) =>
                await request.EditAsync(new RestoreEdit((await request.RequiredAsync()).Look, $"to version {request.Number}"))
            )
            .RequireAuthorization(Access.Works)
            .WithName("restoreVersion");
    }

    private static string Bounded(string note) =>
        note.Trim() is { Length: <= LongestNote } text ? text : throw new LookException($"A note has at most {LongestNote} characters.");

    private static async Task<IResult> AddAsync(
        [AsParameters] LookRequest request,
        NewVersion version,
        VersionRepository versions,
        VersionContexts contexts
    ) =>
        version.Publishes && !request.Http.User.MayPublish()
            ? Problems.Of(403, "role", "Only a lead publishes. Hand the version in; a lead will look at it.")
            : Results.Ok(
                await versions.AddAsync(
                    request.Id,
                    request.Revision,
                    Bounded(version.Note),
                    request.Person,
                    version.Publishes,
                    await contexts.OfAsync(request.Id)
                )
            );

    private static async Task<IResult> PackageAsync([AsParameters] VersionRequest request, string dialect, LookPackages packages)
    {
        if (await request.SeenAsync() is not { } version)
            return Results.NotFound();
        return await Download.ZipAsync(async stream =>
        {
            var compiled = await packages.WriteAsync(stream, version, dialect);
            return $"{compiled.Network.Material}_v{request.Number}_{dialect}.zip";
        });
    }
}

/// <summary>What a look is made under now: kept with each version, so that it is written the same for ever.</summary>
public sealed class VersionContexts(LookContextRepository contexts, DialectProfiles profiles, ConfigRegistry colour)
{
    public async Task<VersionContext> OfAsync(LookId look)
    {
        var names = ColourSpace
            .All.Select(s => (Id: s.Id.Text, Name: colour.NameOf(s.Id)))
            .Where(s => s.Name != s.Id)
            .ToDictionary(s => s.Id, s => s.Name);
        var around = await contexts.OfLookAsync(look);
        return new(around.Space.Id, names, profiles.All.ToDictionary(p => p.Id, p => p.Text), around.Trims);
    }
}
