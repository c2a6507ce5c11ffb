using System.Security.Claims;
using System.Text.Json.Serialization;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Ids;
using Kiln.Proof.Rendering;
using Kiln.Server.Looks.Bench;
using Kiln.Server.Platform.Security;
using Kiln.Store.People;
using Kiln.Store.Studio;

namespace Kiln.Server.Profiles;

/// <summary>A dialect as the studio has it: shipped, or from a profile of its own.</summary>
public sealed record ProfileInfo(
    string Id,
    string Title,
    [property: JsonPropertyName("words")] string Summary,
    bool IsShipped,
    [property: JsonPropertyName("houseVersion")] int? StudioVersion,
    int Inputs,
    string Hash,
    IReadOnlyList<ProfileVersionInfo> Versions
);

public sealed record ProfileVersionInfo(StudioProfileId Id, int Version, string Note, bool InForce, string Person, DateTime Created);

public sealed record ProfileText(string Text);

/// <param name="Knowing">Whether the person has seen which looks are written otherwise by it.</param>
public sealed record KeptProfile(string Text, string Note, bool Knowing);

public sealed record TriedProfile(ShownNetwork Network, Kiln.Dialects.Networks.ConversionReport Report, string Picture);

/// <summary>Dialect profiles of the studio: read, checked, tried on a look, kept, taken back.</summary>
public static class ProfileRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/profiles");
        group.MapGet("", ListAsync).WithName("listProfiles");
        group
            .MapGet("/schema", () => Results.Text(ProfileSchema.Text(), "application/schema+json"))
            .Produces<System.Text.Json.JsonElement>(200, "application/schema+json")
            .WithName("profileSchema");
        group
            .MapGet("/{dialect}/text", (string dialect, DialectProfiles profiles, StudioProfileRepository kept) =>
                TextAsync(dialect, profiles, kept)
            )
            .WithName("profileText");
        group
            .MapGet("/versions/{id:guid}/text", async (StudioProfileId id, StudioProfileRepository kept) =>
                await kept.FindAsync(id) is { } row ? Results.Ok(new ProfileText(row.Text)) : Results.NotFound()
            )
            .Produces<ProfileText>()
            .WithName("profileVersionText");
        group
            .MapPost("/check", (ProfileText profile, ProfileRegistry registry, CancellationToken cancel) =>
                registry.CheckAsync(profile.Text, cancel)
            )
            .RequireAuthorization(Access.Works)
            .WithName("checkProfile")
            .TakesDocuments();
        group
            .MapPost("/try", (LookId look, ProfileText profile, ProfileTrials trials, CancellationToken cancel) =>
                trials.OfAsync(look, profile.Text, cancel)
            )
            .RequireAuthorization(Access.Works)
            .WithName("tryProfile")
            .TakesDocuments();
        group
            .MapPost("", async (KeptProfile profile, ProfileRegistry registry, ClaimsPrincipal user, CancellationToken cancel) =>
                Version(await registry.KeepAsync(profile.Text, profile.Note, profile.Knowing, user.PersonId(), cancel))
            )
            .RequireAuthorization(Access.Administers)
            .WithName("keepProfile")
            .TakesDocuments();
        group
            .MapDelete("/{dialect}", async (string dialect, ProfileRegistry registry) =>
                await registry.TakeBackAsync(dialect) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Administers)
            .WithName("takeProfileBack");
    }

    private static async Task<IReadOnlyList<ProfileInfo>> ListAsync(DialectProfiles profiles, StudioProfileRepository kept)
    {
        var rows = (await kept.ListAsync()).ToLookup(r => r.Dialect);
        return
        [
            .. profiles.All.Select(p => new ProfileInfo(
                p.Id,
                p.Title,
                p.Summary,
                profiles.IsShipped(p.Id),
                rows[p.Id].FirstOrDefault(r => r.InForce)?.Version,
                p.Inputs.Length,
                p.Hash,
                [.. rows[p.Id].Select(Version)]
            )),
        ];
    }

    private static ProfileVersionInfo Version(StudioProfileRow row) =>
        new(row.Id, row.Version, row.Note, row.InForce, row.Person, row.Created);

    private static async Task<ProfileText> TextAsync(string dialect, DialectProfiles profiles, StudioProfileRepository kept)
    {
        if ((await kept.ListAsync()).FirstOrDefault(r => r.Dialect == dialect && r.InForce) is { } own)
            return new(own.Text);
        var profile = profiles.Find(dialect);
        return new(await File.ReadAllTextAsync(Path.Combine(profiles.Folder!, profile.Id + ".json")));
    }
}
