using Kiln.Looks.Ids;
using Kiln.Store.People;

namespace Kiln.Store.Studio;

/// <summary>A version of a dialect profile that the studio has of its own.</summary>
public sealed record StudioProfileRow(
    StudioProfileId Id,
    string Dialect,
    int Version,
    string Text,
    string Note,
    bool InForce,
    string Person,
    DateTime Created
);

/// <summary>Dialect profiles of the studio, every version of them.</summary>
public sealed class StudioProfileRepository(Database database)
{
    private const string Select =
        "select d.id, d.dialect, d.version, d.text, d.note, d.in_force as InForce, p.display_name as Person, d.created from "
        + "dialect_profiles d join people p on p.id = d.person_id ";

    public async Task<IReadOnlyList<StudioProfileRow>> ListAsync()
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<StudioProfileRow>(Select + "order by d.dialect, d.version desc")];
    }

    public async Task<StudioProfileRow?> FindAsync(StudioProfileId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<StudioProfileRow>(Select + "where d.id = @id", new { id });
    }

    /// <summary>The next version of a dialect's profile, in force from now on.</summary>
    public async Task<StudioProfileId> AddAsync(string dialect, string text, string note, PersonId person)
    {
        await using var c = await database.BeginAsync();
        // Two people at once: the second waits, and its version comes after.
        await c.ExecuteAsync("select pg_advisory_xact_lock(hashtext('profile ' || @dialect))", new { dialect });
        await c.ExecuteAsync("update dialect_profiles set in_force = false where dialect = @dialect and in_force", new { dialect });
        var id = Ids.New<StudioProfileId>();
        await c.ExecuteAsync(
            "insert into dialect_profiles (id, dialect, version, text, note, person_id) select @id, @dialect, "
                + "coalesce(max(version), 0) + 1, @text, @note, @person from dialect_profiles where dialect = @dialect",
            new
            {
                id,
                dialect,
                text,
                note,
                person,
            }
        );
        await c.CommitAsync();
        return id;
    }

    /// <summary>No profile of the studio stands for the dialect any more; its versions stay.</summary>
    public async Task<bool> TakeBackAsync(string dialect)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("update dialect_profiles set in_force = false where dialect = @dialect and in_force", new { dialect })
            > 0;
    }
}
