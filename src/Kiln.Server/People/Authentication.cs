using System.Security.Claims;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Errors;
using Kiln.Store.People;
using Microsoft.AspNetCore.Antiforgery;

namespace Kiln.Server.People;

/// <summary>Lets people in: by name and password, or by a link that is good once; every way is limited by address and name.</summary>
public sealed class Authentication(
    PersonRepository people,
    LinkRepository links,
    SessionCookies cookies,
    SignInLimits limits,
    IAntiforgery forgery,
    KilnSettings settings
)
{
    private const int Longest = 200;

    public async Task<SessionInfo> InfoAsync(HttpContext http)
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

    public async Task<IResult> SignInAsync(SignIn request, HttpContext http)
    {
        var name = request.Name.Length > Longest ? "" : request.Name.Trim().ToLowerInvariant();
        if (limits.Refusal(http, name) is { } wait)
            return wait;
        var person = name.Length == 0 || name.Any(char.IsControl) ? null : await people.FindAsync(name);
        // A name that does not exist, and one that is disabled, cost the same time as a wrong password.
        if (!Passwords.Fits(person is { Disabled: false } ? person.PasswordHash : null, request.Password) || person is null)
            return Problems.Of(401, "sign-in", "Name and password do not fit together.");
        http.User = await cookies.BeginAsync(http, person);
        return Results.Ok(await InfoAsync(http));
    }

    /// <summary>One's own password: the other sessions end, this one stays.</summary>
    public async Task<IResult> ChangeAsync(NewPassword request, HttpContext http)
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

    public async Task<IResult> LinkAsync(LinkToken request, HttpContext http)
    {
        if (limits.Refusal(http, "link") is { } wait)
            return wait;
        return await links.FindAsync(request.Token) is { } link
            ? Results.Ok(new LinkInfo(link.Name, link.Role, link.Expires))
            : Problems.Of(404, "link.spent", "This link was used already, or is too old. Ask an admin for another.");
    }

    public async Task<IResult> UseLinkAsync(UsedLink request, HttpContext http)
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
        return Results.Ok(await InfoAsync(http));
    }
}
