using System.Security.Claims;
using Kiln.Store;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.People;

public sealed record SignIn(string Name, string Password);

public sealed record SessionInfo(bool SignedIn, string? Name, string? DisplayName, string? Role, string Token);

/// <summary>Signing in and out, and who one is.</summary>
public static class SessionRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/session", (HttpContext http, IAntiforgery forgery) => Info(http, forgery)).AllowAnonymous().WithName("getSession");
        api.MapPost("/session", SignInAsync).AllowAnonymous().RequireRateLimiting("sign-in").WithName("signIn");
        api.MapDelete("/session", async (HttpContext http) =>
        {
            await http.SignOutAsync();
            return Results.NoContent();
        }).WithName("signOut");
    }

    public static Guid PersonId(this ClaimsPrincipal user) => Guid.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier)!);

    /// <summary>Answers with a problem document and ends the request.</summary>
    public static Task RefuseAsync(HttpContext context, int status, string code, string sentence)
    {
        context.Response.StatusCode = status;
        var details = new ProblemDetails { Status = status, Title = sentence, Type = $"urn:kiln:{code}" };
        details.Extensions["code"] = code;
        return context.Response.WriteAsJsonAsync(details, (System.Text.Json.JsonSerializerOptions?)null, "application/problem+json");
    }

    private static SessionInfo Info(HttpContext http, IAntiforgery forgery)
    {
        var token = forgery.GetAndStoreTokens(http).RequestToken!;
        var user = http.User;
        return user.Identity?.IsAuthenticated == true
            ? new(true, user.Identity.Name, user.FindFirstValue("display"), user.FindFirstValue(ClaimTypes.Role), token)
            : new(false, null, null, null, token);
    }

    private static async Task<IResult> SignInAsync(SignIn request, HttpContext http, Store.People people, IAntiforgery forgery)
    {
        var person = await people.FindAsync(request.Name.Trim().ToLowerInvariant());
        // A name that does not exist costs the same time as a wrong password.
        var hash = person?.PasswordHash ?? new PasswordHasher<string>().HashPassword("", "nobody");
        if (new PasswordHasher<string>().VerifyHashedPassword(request.Name, hash, request.Password) == PasswordVerificationResult.Failed || person is null)
            return Results.Problem("Name and password do not fit together.", statusCode: 401, title: "Name and password do not fit together.", extensions: new Dictionary<string, object?> { ["code"] = "sign-in" });
        var identity = new ClaimsIdentity(
            [new(ClaimTypes.NameIdentifier, person.Id.ToString()), new(ClaimTypes.Name, person.Name), new("display", person.DisplayName), new(ClaimTypes.Role, person.Role)],
            CookieAuthenticationDefaults.AuthenticationScheme);
        http.User = new(identity);
        await http.SignInAsync(http.User);
        return Results.Ok(Info(http, forgery));
    }
}
