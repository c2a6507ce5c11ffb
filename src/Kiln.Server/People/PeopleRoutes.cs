using Kiln.Server.Platform;
using Kiln.Store;
using Kiln.Store.People;

namespace Kiln.Server.People;

/// <param name="State">active, invited (no password yet) or disabled.</param>
public sealed record PersonInfo(string Name, string ShownName, string Role, string State, DateTime? LastSeen, DateTime? Created);

/// <param name="Password">Without one the answer holds a link by which they choose it.</param>
public sealed record NewPerson(string Name, string Role, string? ShownName = null, string? Password = null);

/// <summary>What changes of a person; what is left out stays.</summary>
public sealed record PersonChange(string? Role = null, bool? Disabled = null, string? ShownName = null);

/// <param name="Link">Path with the token behind #, so that it is in no server's log; good once. Null where a password was given.</param>
public sealed record InvitedPerson(PersonInfo Person, string? Link, DateTime? LinkExpires);

/// <summary>The people of the studio, for admins.</summary>
public static class PeopleRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/people").RequireAuthorization("admin");
        group.MapGet("", async (PersonRepository people) => (await people.ListAsync()).Select(Info)).WithName("listPeople");
        group.MapPost("", AddAsync).WithName("addPerson");
        group
            .MapPatch(
                "/{name}",
                async (string name, PersonChange change, PersonRepository people, SessionCookies cookies, HttpContext http) =>
                {
                    var after = await people.UpdateAsync(name, change.Role, change.Disabled, change.ShownName, http.Actor());
                    await cookies.ForgetAsync();
                    return Info(after);
                }
            )
            .WithName("changePerson");
        group
            .MapPost(
                "/{name}/reset",
                async (string name, PersonRepository people, LinkRepository links, SessionCookies cookies, HttpContext http) =>
                {
                    var person = await people.ClearPasswordAsync(name, http.Actor());
                    await cookies.ForgetAsync();
                    return await InvitedAsync(person, links);
                }
            )
            .WithName("resetPerson");
        group.MapGet("/audit", (AuditRepository audit, long? before) => audit.ListAsync(before)).WithName("listAudit");
    }

    /// <summary>Where a link leads.</summary>
    public static string PathOf(string token) => "/welcome#" + token;

    private static async Task<InvitedPerson> AddAsync(NewPerson request, PersonRepository people, LinkRepository links, HttpContext http)
    {
        var name = PersonRepository.Checked(request.Name);
        var person = await people.AddAsync(
            name,
            request.ShownName ?? "",
            request.Role,
            request.Password is { } password ? Passwords.Hash(name, password) : "",
            http.Actor()
        );
        return request.Password is null ? await InvitedAsync(person, links) : new(Info(person), null, null);
    }

    private static async Task<InvitedPerson> InvitedAsync(Person person, LinkRepository links)
    {
        var (token, expires) = await links.MakeAsync(person.Id);
        return new(Info(person), PathOf(token), expires);
    }

    private static PersonInfo Info(Person p) =>
        new(
            p.Name,
            p.DisplayName,
            p.Role,
            p.Disabled ? "disabled"
                : p.PasswordHash.Length == 0 ? "invited"
                : "active",
            p.LastSeen,
            p.Created
        );
}
