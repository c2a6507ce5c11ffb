using Kiln.Faults;
using Kiln.Looks.Ids;

namespace Kiln.Store.People;

/// <param name="Name">What they sign in with: small letters, digits, dot, hyphen, underscore.</param>
/// <param name="Role">viewer, artist, lead or admin.</param>
/// <param name="PasswordHash">Empty where they have not chosen one yet.</param>
public sealed record Person(
    PersonId Id,
    string Name,
    string DisplayName,
    string Role,
    string PasswordHash,
    bool Disabled = false,
    DateTime? LastSeen = null,
    DateTime? Created = null
);

/// <summary>What cannot be done with a person, a password or a link; the message is a sentence, the code is stable.</summary>
public sealed class PersonException(string code, string message) : KilnException(KindOf(code), code, message)
{
    private static FaultKind KindOf(string code) =>
        code switch
        {
            "person.unknown" => FaultKind.Missing,
            "person.exists" or "person.last-admin" or "link.spent" => FaultKind.Taken,
            _ => FaultKind.Request,
        };
}

/// <summary>Who did something, and from where; null for the command line or the server itself.</summary>
public sealed record Actor(string Name, string Address = "");

/// <summary>
/// The people of a studio. Every change is told in the audit, in the same transaction; a change of role, password or state ends the
/// person's sessions.
/// At least one admin who can sign in stays.
/// </summary>
public sealed class PersonRepository(Database database)
{
    public static readonly IReadOnlyList<string> Roles = ["viewer", "artist", "lead", "admin"];

    private const string Columns =
        "id, name, display_name as DisplayName, role, password_hash as PasswordHash, disabled, last_seen as LastSeen, created";

    public async Task<Person?> FindAsync(string name)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<Person>($"select {Columns} from people where name = @name", new { name });
    }

    public async Task<IReadOnlyList<Person>> ListAsync()
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<Person>($"select {Columns} from people order by name")];
    }

    /// <summary>Whether nobody can sign in yet: no person, or none with a password.</summary>
    public async Task<bool> IsEmptyAsync()
    {
        await using var c = await database.OpenAsync();
        return !await c.ExecuteScalarAsync<bool>("select exists (select 1 from people where password_hash <> '')");
    }

    public async Task<bool> AnyAsync()
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteScalarAsync<bool>("select exists (select 1 from people)");
    }

    /// <exception cref="PersonException">The name or the role cannot be used, or the name is taken.</exception>
    public async Task<Person> AddAsync(string name, string shown, string role, string passwordHash, Actor by)
    {
        var person = new Person(Ids.New<PersonId>(), Checked(name), Shown(shown.Length == 0 ? name : shown), Role(role), passwordHash);
        return await ChangeAsync(
            async (c) =>
            {
                if (
                    await c.ExecuteAsync(
                        "insert into people (id, name, display_name, role, password_hash) values (@Id, @Name, @DisplayName, "
                            + "@Role, @PasswordHash) on conflict (name) do nothing",
                        person
                    ) == 0
                )
                    throw new PersonException("person.exists", $"There is somebody called '{person.Name}' already.");
                await AuditRepository.WriteAsync(c, by, "person.added", person.Name, person.Role);
                return person;
            }
        );
    }

    /// <exception cref="PersonException">There is no such person, the role is none, or no admin would be left.</exception>
    public Task<Person> UpdateAsync(string name, string? role, bool? disabled, string? shown, Actor by) =>
        ChangeAsync(
            async (c) =>
            {
                var before = await OneAsync(c, name);
                var after = before with
                {
                    Role = role is null ? before.Role : Role(role),
                    Disabled = disabled ?? before.Disabled,
                    DisplayName = shown is null ? before.DisplayName : Shown(shown),
                };
                if (before is { Role: "admin", Disabled: false } && after is not { Role: "admin", Disabled: false })
                    await KeepAnAdminAsync(c, before.Id);
                await c.ExecuteAsync(
                    "update people set role = @Role, disabled = @Disabled, display_name = @DisplayName where id = @Id",
                    after
                );
                if (after.Role != before.Role)
                    await AuditRepository.WriteAsync(c, by, "person.role", name, $"{before.Role} to {after.Role}");
                if (after.Disabled != before.Disabled)
                    await AuditRepository.WriteAsync(c, by, after.Disabled ? "person.disabled" : "person.enabled", name);
                if (after.DisplayName != before.DisplayName)
                    await AuditRepository.WriteAsync(c, by, "person.renamed", name, after.DisplayName);
                if (after.Role != before.Role || after.Disabled)
                    await SessionRepository.EndAllAsync(c, before.Id);
                return after;
            }
        );

    /// <summary>Gives somebody a password; their sessions end, but for the one that is kept.</summary>
    public Task SetPasswordAsync(string name, string passwordHash, Actor by, SessionId? keep = null) =>
        ChangeAsync(
            async (c) =>
            {
                var person = await OneAsync(c, name);
                await c.ExecuteAsync("update people set password_hash = @passwordHash where id = @Id", new { person.Id, passwordHash });
                await SessionRepository.EndAllAsync(c, person.Id, keep);
                await c.ExecuteAsync("update person_links set used = now() where person_id = @Id and used is null", new { person.Id });
                await AuditRepository.WriteAsync(c, by, "person.password", name);
                return person;
            }
        );

    /// <summary>Takes somebody's password away until they choose a new one by a link.</summary>
    public Task<Person> ClearPasswordAsync(string name, Actor by) =>
        ChangeAsync(
            async (c) =>
            {
                var person = await OneAsync(c, name);
                if (person is { Role: "admin", Disabled: false })
                    await KeepAnAdminAsync(c, person.Id);
                await c.ExecuteAsync("update people set password_hash = '' where id = @Id", new { person.Id });
                await SessionRepository.EndAllAsync(c, person.Id);
                await AuditRepository.WriteAsync(c, by, "person.reset", name);
                return person;
            }
        );

    private static async Task KeepAnAdminAsync(UnitOfWork c, PersonId person)
    {
        // Locked, so that two admins cannot take each other's role away at once.
        var admins = await c.QueryAsync<PersonId>(
            "select id from people where role = 'admin' and not disabled and password_hash <> '' order by id for update"
        );
        if (admins.All(a => a == person))
            throw new PersonException("person.last-admin", "This is the only admin who can sign in. Make somebody else an admin first.");
    }

    internal static async Task<Person> OneAsync(UnitOfWork c, string name) =>
        await c.QuerySingleOrDefaultAsync<Person>($"select {Columns} from people where name = @name for update", new { name })
        ?? throw new PersonException("person.unknown", $"There is nobody called '{name}'.");

    private async Task<T> ChangeAsync<T>(Func<UnitOfWork, Task<T>> change)
    {
        await using var c = await database.BeginAsync();
        var result = await change(c);
        await c.CommitAsync();
        return result;
    }

    /// <exception cref="PersonException">It cannot be a name.</exception>
    public static string Checked(string name) =>
        name.Trim().ToLowerInvariant() is { Length: >= 2 and <= 60 } plain
        && plain.All(c => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) || c is '.' or '-' or '_')
            ? plain
            : throw new PersonException(
                "person.name",
                "A name to sign in with has 2 to 60 letters (a to z), digits, dots, hyphens or underscores."
            );

    private static string Shown(string shown) =>
        shown.Trim() is { Length: >= 1 and <= 80 } plain && !plain.Any(char.IsControl)
            ? plain
            : throw new PersonException("person.shown-name", "A shown name has 1 to 80 characters on one line.");

    private static string Role(string role) =>
        Roles.Contains(role) ? role : throw new PersonException("person.role", $"'{role}' is no role; viewer, artist, lead and admin are.");
}
