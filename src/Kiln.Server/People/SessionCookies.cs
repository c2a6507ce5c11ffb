using System.Collections.Concurrent;
using System.Security.Claims;
using Kiln.Looks.Ids;
using Kiln.Server.Platform;
using Kiln.Store.People;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;

namespace Kiln.Server.People;

/// <summary>
/// The cookie names a session; what the session's person may do is asked of the database, at most so often. One that was ended opens
/// nothing, here at once and on other servers within the time kept.
/// </summary>
public sealed class SessionCookies(SessionRepository sessions, Listeners listeners)
{
    /// <summary>How long an answer is believed. Ends of sessions take effect on this server at once, on others within this time.</summary>
    private static readonly TimeSpan Believed = TimeSpan.FromSeconds(20);

    private const int MostKept = 10_000;
    private const string SessionClaim = "session";

    private readonly ConcurrentDictionary<SessionId, (SessionOwner? Owner, DateTime At)> known = new();

    public async Task<ClaimsPrincipal> BeginAsync(HttpContext http, Person person)
    {
        var id = await sessions.BeginAsync(person.Id, AddressOf(http), http.Request.Headers.UserAgent.ToString());
        var user = Principal(new(id, person.Id, person.Name, person.DisplayName, person.Role));
        await http.SignInAsync(user);
        return user;
    }

    public static SessionId? SessionOf(ClaimsPrincipal user) =>
        SessionId.TryParse(user.FindFirstValue(SessionClaim), out var id) ? id : null;

    public static string AddressOf(HttpContext http) => http.Connection.RemoteIpAddress?.ToString() ?? "";

    /// <summary>
    /// Forgets what was known of all sessions, so that the next request asks, and cuts off who listens by one that ended.
    /// </summary>
    public Task ForgetAsync()
    {
        known.Clear();
        return listeners.CloseEndedAsync();
    }

    /// <summary>For every request with a cookie: the person as they are now, or nobody.</summary>
    public async Task ValidateAsync(CookieValidatePrincipalContext context)
    {
        if (context.Principal is not { } user || SessionOf(user) is not { } id || await OwnerAsync(id) is not { } owner)
        {
            context.RejectPrincipal();
            return;
        }
        if (owner.Role != user.FindFirstValue(ClaimTypes.Role) || owner.DisplayName != user.FindFirstValue("display"))
            context.ReplacePrincipal(Principal(owner));
    }

    private async Task<SessionOwner?> OwnerAsync(SessionId id)
    {
        if (known.TryGetValue(id, out var kept) && DateTime.UtcNow - kept.At < Believed)
            return kept.Owner;
        var owner = await sessions.StandingAsync(id);
        if (known.Count >= MostKept)
            known.Clear();
        known[id] = (owner, DateTime.UtcNow);
        return owner;
    }

    private static ClaimsPrincipal Principal(SessionOwner owner) =>
        new(
            new ClaimsIdentity(
                [
                    new(ClaimTypes.NameIdentifier, owner.PersonId.ToString()),
                    new(ClaimTypes.Name, owner.Name),
                    new("display", owner.DisplayName),
                    new(ClaimTypes.Role, owner.Role),
                    new(SessionClaim, owner.Id.ToString()),
                ],
                CookieAuthenticationDefaults.AuthenticationScheme
            )
        );
}
