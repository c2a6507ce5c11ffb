using System.Buffers.Text;
using System.Security.Cryptography;
using System.Text;
using Kiln.Looks.Ids;

namespace Kiln.Store.People;

/// <summary>What a link lets somebody do: choose a password for themselves, or, where there is no person yet, be the first admin.</summary>
public sealed record PersonLink(PersonId? PersonId, string? Name, string? Role, DateTime Expires);

/// <summary>Links that are good once and for a time. Only their hashes are kept.</summary>
public sealed class LinkRepository(Database database)
{
    private const int TokenBytes = 32;

    public static readonly TimeSpan Lifetime = TimeSpan.FromDays(7),
        FirstAdminLifetime = TimeSpan.FromDays(1);

    /// <summary>A link for somebody who is there; older ones of theirs are good no more.</summary>
    public async Task<(string Token, DateTime Expires)> MakeAsync(PersonId person)
    {
        await using var c = await database.BeginAsync();
        await c.ExecuteAsync("update person_links set used = now() where person_id = @person and used is null", new { person });
        var made = await InsertAsync(c, person, null, Lifetime);
        await c.CommitAsync();
        return made;
    }

    /// <summary>The link for the first admin of an empty studio; the one before is good no more.</summary>
    public async Task<(string Token, DateTime Expires)> FirstAdminAsync()
    {
        await using var c = await database.BeginAsync();
        await c.ExecuteAsync("update person_links set used = now() where person_id is null and used is null");
        var made = await InsertAsync(c, null, "admin", FirstAdminLifetime);
        await c.CommitAsync();
        return made;
    }

    /// <summary>What a link is for; null where it was used, is too old, or never was.</summary>
    public async Task<PersonLink?> FindAsync(string token)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<PersonLink>(
            "select l.person_id as PersonId, p.name, coalesce(p.role, l.role) as Role, l.expires from person_links l left join "
                + "people p on p.id = l.person_id where l.hash = @hash and l.used is null and l.expires > now() and "
                + "coalesce(p.disabled, false) = false",
            new { hash = Hash(token) }
        );
    }

    /// <summary>Uses a link up.</summary>
    /// <param name="name">For the first admin: the name they want.</param>
    /// <exception cref="PersonException">The link is no good any more, or the name cannot be used.</exception>
    public async Task<Person> UseAsync(string token, string? name, string passwordHash, string address)
    {
        await using var c = await database.BeginAsync();
        var link = await c.QuerySingleOrDefaultAsync<(PersonId? PersonId, string? Role, bool Found)>(
            "update person_links set used = now() where hash = @hash and used is null and expires > now() returning person_id, role, true",
            new { hash = Hash(token) }
        );
        if (!link.Found)
            throw new PersonException("link.spent", "This link was used already, or is too old. Ask an admin for another.");
        Person person;
        if (link.PersonId is { } id)
        {
            person = await c.QuerySingleAsync<Person>(
                "update people set password_hash = @passwordHash where id = @id and not disabled returning id, name, "
                    + "display_name as DisplayName, role, password_hash as PasswordHash, disabled, last_seen as LastSeen, created",
                new { id, passwordHash }
            );
            await SessionRepository.EndAllAsync(c, id);
        }
        else
        {
            if (await c.ExecuteScalarAsync<bool>("select exists (select 1 from people where password_hash <> '')"))
                throw new PersonException("link.spent", "There is an admin already; ask them for a link of your own.");
            person = new(
                Ids.New<PersonId>(),
                PersonRepository.Checked(name ?? ""),
                PersonRepository.Checked(name ?? ""),
                link.Role ?? "admin",
                passwordHash
            );
            await c.ExecuteAsync(
                "insert into people (id, name, display_name, role, password_hash) values (@Id, @Name, @DisplayName, @Role, "
                    + "@PasswordHash) on conflict (name) do update set role = excluded.role, password_hash = excluded.password_hash, "
                    + "disabled = false",
                person
            );
            person = await PersonRepository.OneAsync(c, person.Name);
        }
        await AuditRepository.WriteAsync(c, new(person.Name, address), "person.link", person.Name, person.Role);
        await c.CommitAsync();
        return person;
    }

    private static async Task<(string, DateTime)> InsertAsync(UnitOfWork c, PersonId? person, string? role, TimeSpan life)
    {
        var token = Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(TokenBytes));
        var expires = DateTime.UtcNow + life;
        await c.ExecuteAsync(
            "insert into person_links (hash, person_id, role, expires) values (@hash, @person, @role, @expires)",
            new
            {
                hash = Hash(token),
                person,
                role,
                expires,
            }
        );
        return (token, expires);
    }

    private static string Hash(string token) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)));
}
