using System.Security.Claims;
using Kiln.Looks.Ids;
using Kiln.Store.Looks;

namespace Kiln.Server.Platform.Security;

/// <summary>
/// Who may do what, by name: every rule of access stands here and nowhere else. Viewers look, artists work, leads publish, admins run the
/// studio; each may what the one before may. docs/roles.md lists the routes.
/// </summary>
public static class Access
{
    /// <summary>Policies of routes: to work on looks and deliveries, to decide for others, to run the studio.</summary>
    public const string Works = "artist",
        Leads = "lead",
        Administers = "admin";

    private const string Artist = "artist",
        Lead = "lead",
        Admin = "admin";

    public static IServiceCollection AddAccess(this IServiceCollection services)
    {
        services
            .AddAuthorizationBuilder()
            .AddPolicy(Works, p => p.RequireRole(Artist, Lead, Admin))
            .AddPolicy(Leads, p => p.RequireRole(Lead, Admin))
            .AddPolicy(Administers, p => p.RequireRole(Admin));
        return services;
    }

    /// <summary>The signed-in person's id.</summary>
    public static PersonId PersonId(this ClaimsPrincipal user) =>
        Kiln.Looks.Ids.PersonId.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier)!);

    /// <summary>Puts a version out at once, instead of handing it in.</summary>
    public static bool MayPublish(this ClaimsPrincipal user) => user.IsInRole(Lead) || user.IsInRole(Admin);

    /// <summary>Who only looks sees what is published.</summary>
    public static bool Sees(this ClaimsPrincipal user, string stateOfVersion) =>
        stateOfVersion == "published" || user.IsInRole(Artist) || user.IsInRole(Lead) || user.IsInRole(Admin);

    /// <summary>Whose sessions and orders somebody may see and end: their own, an admin everybody's.</summary>
    /// <returns>The only person it may be; null where it may be anybody.</returns>
    public static PersonId? Only(this ClaimsPrincipal user) => user.IsInRole(Admin) ? null : user.PersonId();

    /// <summary>Whether an order (proof, batch, sheet, comparison) is theirs.</summary>
    public static bool Owns(this ClaimsPrincipal user, PersonId person) => user.PersonId() == person;

    /// <summary>A version as this person may see it; null where it is not there for them.</summary>
    public static async Task<LookVersion?> SeenAsync(this VersionRepository versions, ClaimsPrincipal user, LookId look, int number) =>
        await versions.FindAsync(look, number) is { } version && user.Sees(version.State) ? version : null;
}
