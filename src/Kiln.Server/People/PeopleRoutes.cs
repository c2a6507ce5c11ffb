using Kiln.Server.Platform.Security;
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
        var group = api.MapGroup("/people").RequireAuthorization(Access.Administers);
        group.MapGet("", async (PersonRepository people) => (await people.ListAsync()).Select(Info)).WithName("listPeople");
        group.MapPost("", AddAsync).WithName("addPerson");
        group
            .MapPatch("/{name}", async (string name, PersonChange change, PeopleChanges people, HttpContext http) =>
                Info(await people.ChangeAsync(name, change, http.Actor()))
            )
            .WithName("changePerson");
        group
            .MapPost("/{name}/reset", async (string name, PeopleChanges people, HttpContext http) =>
            {
                var (person, link) = await people.ResetAsync(name, http.Actor());
                return Invited(person, link);
            })
            .WithName("resetPerson");
        group.MapGet("/audit", (AuditRepository audit, long? before) => audit.ListAsync(before)).WithName("listAudit");
    }

    /// <summary>Where a link leads.</summary>
    public static string PathOf(string token) => "/welcome#" + token;

    private static async Task<InvitedPerson> AddAsync(NewPerson request, PeopleChanges people, HttpContext http)
    {
        var (person, link) = await people.AddAsync(request, http.Actor());
        return Invited(person, link);
    }

    private static InvitedPerson Invited(Person person, (string Token, DateTime Expires)? link) =>
        new(Info(person), link is { } made ? PathOf(made.Token) : null, link?.Expires);

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

/// <summary>Changes of people by an admin: written to the audit, and in force at once for those who are signed in.</summary>
public sealed class PeopleChanges(PersonRepository people, LinkRepository links, SessionCookies cookies)
{
    /// <returns>The person, and a link by which they choose a password where none was given.</returns>
    public async Task<(Person Person, (string Token, DateTime Expires)? Link)> AddAsync(NewPerson request, Actor by)
    {
        var name = PersonRepository.Checked(request.Name);
        var person = await people.AddAsync(
            name,
            request.ShownName ?? "",
            request.Role,
            request.Password is { } password ? Passwords.Hash(name, password) : "",
            by
        );
        return (person, request.Password is null ? await links.MakeAsync(person.Id) : null);
    }

    public async Task<Person> ChangeAsync(string name, PersonChange change, Actor by)
    {
        var after = await people.UpdateAsync(name, change.Role, change.Disabled, change.ShownName, by);
        await cookies.ForgetAsync();
        return after;
    }

    /// <summary>Takes the password away; the link lets them choose another.</summary>
    public async Task<(Person Person, (string Token, DateTime Expires)? Link)> ResetAsync(string name, Actor by)
    {
        var person = await people.ClearPasswordAsync(name, by);
        await cookies.ForgetAsync();
        return (person, await links.MakeAsync(person.Id));
    }
}
