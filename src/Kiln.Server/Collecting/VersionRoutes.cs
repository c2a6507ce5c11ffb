using System.Text.Json.Serialization;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Server.Configs;
using Kiln.Server.Looks;
using Kiln.Server.Packages;
using Kiln.Server.People;
using Kiln.Server.Platform;
using Kiln.Store;
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
            .MapGet("", async (Guid id, VersionRepository versions, HttpContext http) =>
                (await versions.ListAsync(id)).Where(v =>
                    v.State == "published" || http.User.IsInRole("artist") || http.User.IsInRole("lead") || http.User.IsInRole("admin")
                )
            )
            .WithName("lookVersions");
        group
            .MapGet("/{number:int}", async (Guid id, int number, VersionRepository versions, HttpContext http) =>
                await SeenAsync(id, number, versions, http) is { } version ? Results.Ok(version.Look) : Results.NotFound()
            )
            .Produces<Look>()
            .WithName("lookVersion");
        group.MapGet("/{number:int}/package", PackageAsync).WithName("versionPackage");
        group
            .MapGet(
                "/{number:int}/changes",
                async (Guid id, int number, int? since, VersionRepository versions, LookRepository looks, HttpContext http) =>
                {
                    var after = await SeenAsync(id, number, versions, http)
                        ?? throw new LookException($"That look has no version {number}.");
                    var before = since is { } earlier
                        ? (
                            await SeenAsync(id, earlier, versions, http) ?? throw new LookException($"That look has no version {earlier}.")
                        ).Look
                        : (await LookRoutes.RowAsync(looks, id)).Look();
                    return LookChanges.Between(before, after.Look);
                }
            )
            .WithName("versionChanges");
        group.MapPost("", AddAsync).RequireAuthorization("artist").WithName("addVersion");
        group
            .MapPost("/{number:int}/judgement", (Guid id, int number, ReviewRequest word, VersionRepository versions, HttpContext http) =>
                versions.ReviewAsync(id, number, word.Publishes, Bounded(word.Note), http.User.PersonId())
            )
            .RequireAuthorization("lead")
            .WithName("judgeVersion");
        group
            .MapPost(
                "/{number:int}/restore",
                async (
                    Guid id,
                    int number,
                    VersionRepository versions,
                    LookRepository looks,
                    HttpContext http,
                    Microsoft.AspNetCore.SignalR.IHubContext<Platform.ProgressHub> hub
                ) =>
                {
                    var version = await SeenAsync(id, number, versions, http)
                        ?? throw new LookException($"That look has no version {number}.");
                    var edit = new Kiln.Looks.Edits.RestoreEdit(version.Look, $"to version {number}");
                    return await LookRoutes.ChangedAsync(
                        looks.EditAsync(id, LookRoutes.Revision(http), edit, http.User.PersonId()),
                        http,
                        hub
                    );
                }
            )
            .RequireAuthorization("artist")
            .WithName("restoreVersion");
    }

    /// <summary>Who only looks sees what is published.</summary>
    internal static async Task<LookVersion?> SeenAsync(Guid id, int number, VersionRepository versions, HttpContext http) =>
        await versions.FindAsync(id, number) is { } version && (version.State == "published" || !http.User.IsInRole("viewer"))
            ? version
            : null;

    private static string Bounded(string note) =>
        note.Trim() is { Length: <= LongestNote } text ? text : throw new LookException($"A note has at most {LongestNote} characters.");

    private static async Task<IResult> AddAsync(
        Guid id,
        NewVersion request,
        VersionRepository versions,
        LookContextRepository spaces,
        DialectProfiles profiles,
        ConfigRegistry colour,
        HttpContext http
    )
    {
        if (request.Publishes && !(http.User.IsInRole("lead") || http.User.IsInRole("admin")))
            return Results.Problem(
                title: "Only a lead publishes. Hand the version in; a lead will look at it.",
                statusCode: 403,
                extensions: new Dictionary<string, object?> { ["code"] = "role" }
            );
        return Results.Ok(
            await versions.AddAsync(
                id,
                LookRoutes.Revision(http),
                Bounded(request.Note),
                http.User.PersonId(),
                request.Publishes,
                await ContextAsync(id, spaces, profiles, colour)
            )
        );
    }

    /// <summary>What a look is made under now.</summary>
    internal static async Task<VersionContext> ContextAsync(
        Guid look,
        LookContextRepository spaces,
        DialectProfiles profiles,
        ConfigRegistry colour
    )
    {
        var names = Kiln
            .Colour.Spaces.ColourSpace.All.Select(s => (s.Id, Name: colour.NameOf(s.Id)))
            .Where(s => s.Name != s.Id)
            .ToDictionary(s => s.Id, s => s.Name);
        var around = await spaces.OfLookAsync(look);
        return new(around.Space.Id, names, profiles.All.ToDictionary(p => p.Id, p => p.Text), around.Trims);
    }

    private static async Task<IResult> PackageAsync(
        Guid id,
        int number,
        string dialect,
        VersionRepository versions,
        LookPackages packages,
        HttpContext http
    )
    {
        if (await SeenAsync(id, number, versions, http) is not { } version)
            return Results.NotFound();
        return await Download.ZipAsync(async stream =>
        {
            var compiled = await packages.WriteAsync(stream, version, dialect);
            return $"{compiled.Network.Material}_v{number}_{dialect}.zip";
        });
    }
}
