using System.Security.Claims;
using Kiln.Looks.Ids;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Platform.Security;
using Kiln.Store.People;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Authentication;

namespace Kiln.Server.People;

public sealed record SignIn(string Name, string Password);

/// <param name="Empty">Whether the studio has nobody who can sign in yet: its first start printed a link for the first admin.</param>
public sealed record SessionInfo(bool SignedIn, string? Name, string? DisplayName, string? Role, string Token, bool Empty, bool Demo);

/// <param name="Current">The password that is in force.</param>
public sealed record NewPassword(string Current, string Password);

/// <summary>A link as it is used up.</summary>
/// <param name="Name">The name to sign in with, for the first admin of a studio; else null.</param>
public sealed record UsedLink(string Token, string Password, string? Name = null);

/// <param name="Name">Whom the link is for; null for the first admin, who chooses a name.</param>
public sealed record LinkInfo(string? Name, string? Role, DateTime Expires);

/// <summary>One of the sessions of a person, or of all for an admin.</summary>
public sealed record SessionLine(
    SessionId Id,
    string Person,
    DateTime Created,
    DateTime LastSeen,
    string Address,
    string Browser,
    bool IsThis
);

/// <summary>Signing in and out, who one is, one's own password and sessions.</summary>
public static class SessionRoutes
{
    /// <summary>Longer texts are no name or password of anybody.</summary>
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/session", (Authentication door, HttpContext http) => door.InfoAsync(http)).AllowAnonymous().WithName("getSession");
        api.MapPost("/session", (SignIn request, Authentication door, HttpContext http) => door.SignInAsync(request, http))
            .AllowAnonymous()
            .Produces<SessionInfo>()
            .WithName("signIn");
        api.MapDelete("/session", SignOutAsync).WithName("signOut");
        api.MapPut("/session/password", (NewPassword request, Authentication door, HttpContext http) => door.ChangeAsync(request, http))
            .WithName("changePassword");
        api.MapPost("/session/link/look", (LinkToken request, Authentication door, HttpContext http) => door.LinkAsync(request, http))
            .AllowAnonymous()
            .Produces<LinkInfo>()
            .WithName("lookAtLink");
        api.MapPost("/session/link", (UsedLink request, Authentication door, HttpContext http) => door.UseLinkAsync(request, http))
            .AllowAnonymous()
            .Produces<SessionInfo>()
            .WithName("useLink");
        api.MapGet("/sessions", async (SessionRepository sessions, ClaimsPrincipal user, bool all = false) =>
                (await sessions.ListAsync(all ? user.Only() : user.PersonId())).Select(s => new SessionLine(
                    s.Id,
                    s.Person,
                    s.Created,
                    s.LastSeen,
                    s.Address,
                    s.Browser,
                    s.Id == SessionCookies.SessionOf(user)
                ))
            )
            .WithName("listSessions");
        api.MapDelete(
                "/sessions/{id:guid}",
                async (SessionId id, SessionRepository sessions, SessionCookies cookies, ClaimsPrincipal user) =>
                {
                    var ended = await sessions.EndAsync(id, user.Only());
                    await cookies.ForgetAsync();
                    return ended ? Results.NoContent() : Problems.Of(404, "session.missing", "This session is not there, or has ended.");
                }
            )
            .WithName("endSession");
    }

    /// <summary>Who does something, for the audit.</summary>
    public static Actor Actor(this HttpContext http) => new(http.User.Identity?.Name ?? "", SessionCookies.AddressOf(http));

    private static async Task<IResult> SignOutAsync(HttpContext http, SessionRepository sessions, SessionCookies cookies)
    {
        if (SessionCookies.SessionOf(http.User) is { } id)
            await sessions.EndAsync(id, http.User.PersonId());
        await cookies.ForgetAsync();
        await http.SignOutAsync();
        return Results.NoContent();
    }
}

public sealed record LinkToken(string Token);
