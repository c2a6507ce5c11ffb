using Kiln.Looks.Ids;

namespace Kiln.Store.People;

/// <summary>Somebody's session as lists show it.</summary>
public sealed record SessionRow(SessionId Id, string Person, DateTime Created, DateTime LastSeen, string Address, string Browser);

/// <summary>Who a session belongs to, as it is now.</summary>
public sealed record SessionOwner(SessionId Id, PersonId PersonId, string Name, string DisplayName, string Role);

/// <summary>
/// Sessions are rows, so that they can be listed and ended; one that is ended, or whose person is disabled, opens nothing any more.
/// </summary>
public sealed class SessionRepository(Database database)
{
    /// <summary>Longest text kept of where a session comes from.</summary>
    private const int MostText = 200;

    /// <summary>A session that was not used for so long has ended.</summary>
    public static readonly TimeSpan Unused = TimeSpan.FromDays(7);

    public async Task<SessionId> BeginAsync(PersonId person, string address, string browser)
    {
        var id = Ids.New<SessionId>();
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "insert into sessions (id, person_id, address, browser) values (@id, @person, @address, @browser)",
            new
            {
                id,
                person,
                address = Short(address),
                browser = Short(browser),
            }
        );
        await c.ExecuteAsync("update people set last_seen = now() where id = @person", new { person });
        return id;
    }

    /// <summary>The owner of a session that stands, or null; that it was used is noted.</summary>
    public async Task<SessionOwner?> StandingAsync(SessionId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<SessionOwner>(
            """
            with used as (
                update sessions s set last_seen = now() from people p
                where s.id = @id and s.ended is null and s.last_seen > now() - @Unused and p.id = s.person_id and not p.disabled
                returning s.id, p.id as person_id, p.name, p.display_name, p.role
            ), seen as (update people set last_seen = now() where id = (select person_id from used))
            select id, person_id as PersonId, name, display_name as DisplayName, role from used
            """,
            new { id, Unused }
        );
    }

    /// <param name="person">Whose; null for everybody's.</param>
    public async Task<IReadOnlyList<SessionRow>> ListAsync(PersonId? person)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<SessionRow>(
                "select s.id, p.name as Person, s.created, s.last_seen as LastSeen, s.address, s.browser from sessions s join "
                    + "people p on p.id = s.person_id where s.ended is null and s.last_seen > now() - @Unused and (@person::uuid is "
                    + "null or p.id = @person) order by s.last_seen desc limit 500",
                new { person, Unused }
            ),
        ];
    }

    /// <param name="person">Only if it is theirs; null ends anybody's.</param>
    public async Task<bool> EndAsync(SessionId id, PersonId? person)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync(
                "update sessions set ended = now() where id = @id and ended is null and (@person::uuid is null or person_id = @person)",
                new { id, person }
            ) == 1;
    }

    internal static Task<int> EndAllAsync(UnitOfWork c, PersonId person, SessionId? keep = null) =>
        c.ExecuteAsync(
            "update sessions set ended = now() where person_id = @person and ended is null and (@keep::uuid is null or id <> @keep)",
            new { person, keep }
        );

    private static string Short(string text) => string.Concat(text.Where(c => !char.IsControl(c)).Take(MostText));
}
