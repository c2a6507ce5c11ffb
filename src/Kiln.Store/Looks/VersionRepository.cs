using System.Collections.Immutable;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Store.People;

namespace Kiln.Store.Looks;

/// <summary>A version as lists show it.</summary>
/// <param name="State">in review, published, sent back.</param>
/// <param name="Review">What the lead said.</param>
public sealed record VersionRow(
    VersionId Id,
    int Number,
    string Hash,
    string Note,
    string Person,
    DateTime At,
    string State,
    [property: JsonPropertyName("judgedBy")] string? ReviewedBy,
    [property: JsonPropertyName("judgedAt")] DateTime? ReviewedAt,
    [property: JsonPropertyName("judgement")] string Review
);

/// <summary>What a version was made under: it is written by these for ever, whatever the studio changes later.</summary>
/// <param name="SpaceNames">Our spaces by the names the config gave them then; empty where none was in force.</param>
/// <param name="Profiles">Dialect to the text of its profile.</param>
/// <param name="Trims">The studio trims that held, by dialect.</param>
public sealed record VersionContext(
    string WorkingSpace,
    IReadOnlyDictionary<string, string> SpaceNames,
    IReadOnlyDictionary<string, string> Profiles,
    IReadOnlyDictionary<string, ImmutableArray<Trim>> Trims
);

/// <summary>A version whole.</summary>
public sealed record LookVersion(
    int Number,
    string State,
    string Hash,
    Look Look,
    [property: JsonPropertyName("surroundings")] VersionContext Context
)
{
    /// <summary>The look as it is written and rendered, with the studio trims of then.</summary>
    public Look Rendered => Look.Under(Context.Trims);
}

/// <summary>Numbered, unchangeable copies of looks: submitted for review, published by a lead or sent back.</summary>
public sealed class VersionRepository(Database database)
{
    private const string Select = """
        select v.id, v.number, v.hash, v.note, coalesce(v.origin || ' (from an archive)', p.display_name) as Person, v.at, v.state,
               case when v.origin is null then j.display_name end as ReviewedBy, v.judged_at as ReviewedAt, v.judgement as Review
        from look_versions v join people p on p.id = v.person_id left join people j on j.id = v.judged_by
        """;

    private sealed record Stored(
        int Number,
        string State,
        string Hash,
        string Document,
        string WorkingSpace,
        string SpaceNames,
        string Profiles,
        string StudioTrims
    );

    /// <summary>Copies the look as it is at a revision.</summary>
    /// <param name="published">At once, by a lead; else it waits for one.</param>
    /// <exception cref="LookConflictException">The look is at another revision.</exception>
    public async Task<VersionRow> AddAsync(LookId look, int revision, string note, PersonId person, bool published, VersionContext contexts)
    {
        await using var c = await database.BeginAsync();
        // Holds the look: two people who hand in at once get numbers one after the other.
        var row = await LookRepository.LockAsync(c, look, revision);
        var profiles = new Dictionary<string, string>();
        foreach (var (dialect, text) in contexts.Profiles)
        {
            var hash = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(Encoding.UTF8.GetBytes(text)));
            profiles[dialect] = hash;
            await c.ExecuteAsync("insert into profile_texts (hash, text) values (@hash, @text) on conflict do nothing", new { hash, text });
        }
        var id = Ids.New<VersionId>();
        await c.ExecuteAsync(
            """
            insert into look_versions (id, look_id, number, document, hash, note, person_id, state, judged_by, judged_at,
                                       working_space, space_names, profiles, house_trims, contents)
            select @id, @look, coalesce(max(number), 0) + 1, @Document, @hash, @note, @person, @state, @reviewer, @reviewed,
                   @WorkingSpace, @names::jsonb, @profiles::jsonb, @trims::jsonb, @contents
            from look_versions where look_id = @look
            """,
            new
            {
                id,
                look,
                row.Document,
                hash = LookJson.Hash(row.Look()),
                note,
                person,
                state = published ? "published" : "in review",
                reviewer = published ? person : (PersonId?)null,
                reviewed = published ? DateTime.UtcNow : (DateTime?)null,
                contexts.WorkingSpace,
                names = JsonSerializer.Serialize(contexts.SpaceNames),
                profiles = JsonSerializer.Serialize(profiles),
                trims = JsonSerializer.Serialize(contexts.Trims, LookJson.Options),
                contents = LookFacts.Of(row.Look()).Contents,
            }
        );
        await c.CommitAsync();
        return await c.QuerySingleAsync<VersionRow>(Select + " where v.id = @id", new { id });
    }

    public async Task<IReadOnlyList<VersionRow>> ListAsync(LookId look)
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<VersionRow>(Select + " where v.look_id = @look order by v.number desc", new { look })];
    }

    /// <summary>A lead's word on a version that waits. Of two who speak at once, the first is heard.</summary>
    /// <exception cref="LookException">There is no such version, or it does not wait any more.</exception>
    public async Task<VersionRow> ReviewAsync(LookId look, int number, bool publishes, string note, PersonId person)
    {
        await using var c = await database.OpenAsync();
        var done = await c.ExecuteAsync(
            "update look_versions set state = @state, judged_by = @person, judged_at = now(), judgement = @note where look_id = "
                + "@look and number = @number and state = 'in review'",
            new
            {
                look,
                number,
                state = publishes ? "published" : "sent back",
                person,
                note,
            }
        );
        var row = await c.QuerySingleOrDefaultAsync<VersionRow>(
            Select + " where v.look_id = @look and v.number = @number",
            new { look, number }
        ) ?? throw new LookException($"That look has no version {number}.");
        return done == 1
            ? row
            : throw new LookException(
                $"Version {number} does not wait for a lead any more: it was "
                    + $"{(row.State == "published" ? "published" : "sent back")} by {row.ReviewedBy ?? "somebody"}."
            );
    }

    /// <summary>The newest version that is published; null where none is.</summary>
    public async Task<int?> PublishedAsync(LookId look)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteScalarAsync<int?>(
            "select max(number) from look_versions where look_id = @look and state = 'published'",
            new { look }
        );
    }

    public async Task<LookVersion?> FindAsync(LookId look, int number)
    {
        await using var c = await database.OpenAsync();
        var row = await c.QuerySingleOrDefaultAsync<Stored>(
            "select number, state, hash, document, working_space as WorkingSpace, space_names::text as SpaceNames, "
                + "profiles::text as Profiles, house_trims::text as StudioTrims from look_versions where look_id = @look and number = "
                + "@number",
            new { look, number }
        );
        if (row is null)
            return null;
        var hashes = JsonSerializer.Deserialize<Dictionary<string, string>>(row.Profiles)!;
        var texts = (
            await c.QueryAsync<(string Hash, string Text)>(
                "select hash, text from profile_texts where hash = any(@wanted)",
                new { wanted = hashes.Values.ToArray() }
            )
        ).ToDictionary(t => t.Hash, t => t.Text);
        return new(
            row.Number,
            row.State,
            row.Hash,
            LookJson.Read(Encoding.UTF8.GetBytes(row.Document)),
            new(
                row.WorkingSpace,
                JsonSerializer.Deserialize<Dictionary<string, string>>(row.SpaceNames)!,
                hashes.ToDictionary(h => h.Key, h => texts[h.Value]),
                JsonSerializer.Deserialize<Dictionary<string, ImmutableArray<Trim>>>(row.StudioTrims, LookJson.Options)!
            )
        );
    }
}
