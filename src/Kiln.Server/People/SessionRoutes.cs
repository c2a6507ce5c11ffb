using System.Security.Claims;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Errors;
using Kiln.Store;
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
public sealed record SessionLine(Guid Id, string Person, DateTime Created, DateTime LastSeen, string Address, string Browser, bool IsThis);

/// <summary>Signing in and out, who one is, one's own password and sessions.</summary>
public static class SessionRoutes
{
    /// <summary>Longer texts are no name or password of anybody.</summary>
    private const int Longest = 200;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/session", InfoAsync).AllowAnonymous().WithName("getSession");
        api.MapPost("/session", SignInAsync).AllowAnonymous().Produces<SessionInfo>().WithName("signIn");
        api.MapDelete("/session", SignOutAsync).WithName("signOut");
        api.MapPut("/session/password", ChangeAsync).WithName("changePassword");
        api.MapPost("/session/link/look", LinkAsync).AllowAnonymous().Produces<LinkInfo>().WithName("lookAtLink");
        api.MapPost("/session/link", UseLinkAsync).AllowAnonymous().Produces<SessionInfo>().WithName("useLink");
        api.MapGet("/sessions", async (SessionRepository sessions, ClaimsPrincipal user, bool all = false) =>
                (await sessions.ListAsync(all && user.IsInRole("admin") ? null : user.PersonId())).Select(s => new SessionLine(
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
        api.MapDelete("/sessions/{id:guid}", async (Guid id, SessionRepository sessions, SessionCookies cookies, ClaimsPrincipal user) =>
            {
                var ended = await sessions.EndAsync(id, user.IsInRole("admin") ? null : user.PersonId());
                await cookies.ForgetAsync();
                return ended ? Results.NoContent() : Problems.Of(404, "session.missing", "This session is not there, or has ended.");
            })
            .WithName("endSession");
    }

    public static Guid PersonId(this ClaimsPrincipal user) => Guid.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier)!);

    /// <summary>Who does something, for the audit.</summary>
    public static Actor Actor(this HttpContext http) => new(http.User.Identity?.Name ?? "", SessionCookies.AddressOf(http));

    private static async Task<SessionInfo> InfoAsync(HttpContext http, IAntiforgery forgery, PersonRepository people, KilnSettings settings)
    {
        var token = forgery.GetAndStoreTokens(http).RequestToken!;
        var user = http.User;
        return user.Identity?.IsAuthenticated == true
            ? new(
                true,
                user.Identity.Name,
                user.FindFirstValue("display"),
                user.FindFirstValue(ClaimTypes.Role),
                token,
                false,
                settings.DemoDeliveries is not null
            )
            : new(false, null, null, null, token, await people.IsEmptyAsync(), settings.DemoDeliveries is not null);
    }

    private static async Task<IResult> SignInAsync(
        SignIn request,
        HttpContext http,
        PersonRepository people,
        SessionCookies cookies,
        SignInLimits limits,
        IAntiforgery forgery,
        KilnSettings settings
    )
    {
        var name = request.Name.Length > Longest ? "" : request.Name.Trim().ToLowerInvariant();
        if (limits.Refusal(http, name) is { } wait)
            return wait;
        var person = name.Length == 0 || name.Any(char.IsControl) ? null : await people.FindAsync(name);
        // A name that does not exist, and one that is disabled, cost the same time as a wrong password.
        if (!Passwords.Fits(person is { Disabled: false } ? person.PasswordHash : null, request.Password) || person is null)
            return Problems.Of(401, "sign-in", "Name and password do not fit together.");
        http.User = await cookies.BeginAsync(http, person);
        return Results.Ok(await InfoAsync(http, forgery, people, settings));
    }

    private static async Task<IResult> SignOutAsync(HttpContext http, SessionRepository sessions, SessionCookies cookies)
    {
        if (SessionCookies.SessionOf(http.User) is { } id)
            await sessions.EndAsync(id, http.User.PersonId());
        await cookies.ForgetAsync();
        await http.SignOutAsync();
        return Results.NoContent();
    }

    /// <summary>One's own password: the other sessions end, this one stays.</summary>
    private static async Task<IResult> ChangeAsync(
        NewPassword request,
        HttpContext http,
        PersonRepository people,
        SessionCookies cookies,
        SignInLimits limits
    )
    {
        var name = http.User.Identity!.Name!;
        if (limits.Refusal(http, name) is { } wait)
            return wait;
        if (!Passwords.Fits((await people.FindAsync(name))?.PasswordHash, request.Current))
            return Problems.Of(400, "password.wrong", "This is not the password that is in force.");
        await people.SetPasswordAsync(name, Passwords.Hash(name, request.Password), http.Actor(), SessionCookies.SessionOf(http.User));
        await cookies.ForgetAsync();
        return Results.NoContent();
    }

    private static async Task<IResult> LinkAsync(LinkToken request, HttpContext http, LinkRepository links, SignInLimits limits)
    {
        if (limits.Refusal(http, "link") is { } wait)
            return wait;
        return await links.FindAsync(request.Token) is { } link
            ? Results.Ok(new LinkInfo(link.Name, link.Role, link.Expires))
            : Problems.Of(404, "link.spent", "This link was used already, or is too old. Ask an admin for another.");
    }

    private static async Task<IResult> UseLinkAsync(
        UsedLink request,
        HttpContext http,
        LinkRepository links,
        PersonRepository people,
        SessionCookies cookies,
        SignInLimits limits,
        IAntiforgery forgery,
        KilnSettings settings
    )
    {
        if (limits.Refusal(http, "link") is { } wait)
            return wait;
        var link = await links.FindAsync(request.Token)
            ?? throw new PersonException("link.spent", "This link was used already, or is too old. Ask an admin for another.");
        var person = await links.UseAsync(
            request.Token,
            request.Name,
            Passwords.Hash(link.Name ?? request.Name ?? "", request.Password),
            SessionCookies.AddressOf(http)
        );
        await cookies.ForgetAsync();
        http.User = await cookies.BeginAsync(http, person);
        return Results.Ok(await InfoAsync(http, forgery, people, settings));
    }
}

public sealed record LinkToken(string Token);
