using Kiln.Colour;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;

namespace Kiln.Store.Looks;

/// <summary>A look as lists show it, without its document.</summary>
public sealed record LookSummary
{
    public required LookId Id { get; init; }

    public required string Name { get; init; }

    public required int Revision { get; init; }

    public required DateTime Changed { get; init; }

    /// <summary>The newest that is published.</summary>
    public int? Version { get; init; }

    /// <summary>The newest that waits for a lead.</summary>
    public int? Waiting { get; init; }

    public string? Collections { get; init; }

    public required string[] Tags { get; init; }

    public required string[] Roles { get; init; }

    public required string Author { get; init; }

    /// <summary>Of the collection that was asked for.</summary>
    public string? Section { get; init; }
}

/// <summary>What is looked for; null and empty ask for nothing. Words are found in names and tags, all of them.</summary>
/// <param name="Dialect">One that takes the look without loss.</param>
/// <param name="Finding">A code, or how codes begin.</param>
/// <param name="Colour">Near the mean base colour, as people type colours (<see cref="Kiln.Colour.ColourText"/>).</param>
/// <param name="Within">How near, in CIELAB (ΔE*ab).</param>
/// <param name="After">The name and identifier of the last look of the page before.</param>
public sealed record LookQuery(
    CollectionId? Collection = null,
    string? Words = null,
    string? Tag = null,
    string? Role = null,
    string? Author = null,
    string? State = null,
    DateTime? Since = null,
    bool Archived = false,
    string? AfterName = null,
    LookId? AfterId = null,
    int Most = 500,
    string? Dialect = null,
    string? Finding = null,
    string? Colour = null,
    double Within = 15
)
{
    /// <summary>Whether it asks for what only measuring a look tells.</summary>
    public bool AsksForMeasures =>
        !string.IsNullOrWhiteSpace(Dialect) || !string.IsNullOrWhiteSpace(Finding) || !string.IsNullOrWhiteSpace(Colour);
}

/// <summary>Looks found by what is known of them beside their documents.</summary>
public sealed class LookListRepository(Database database)
{
    public const int LongestPage = 1000;

    private const string Sql = """
        with page as (
            select l.id, l.name, l.revision, l.changed, l.tags, l.roles, l.created_by
            from looks l
            where (l.archived is not null) = @Archived
              and (@Collection::uuid is null
                   or exists (select 1 from collection_looks cl where cl.look_id = l.id and cl.collection_id = @Collection))
              and (@AfterName::text is null or (l.name, l.id) > (@AfterName, @AfterId::uuid))
              and (@Tag::text is null or @Tag = any(l.tags))
              and (@Role::text is null or @Role = any(l.roles))
              and (@Since::timestamptz is null or l.changed >= @Since)
              and (@Author::text is null or l.created_by = (select id from people where name = @Author))
              and (@State::text is null
                   or @State = 'draft' and not exists (select 1 from look_versions v where v.look_id = l.id and v.state <> 'sent back')
                   or exists (select 1 from look_versions v where v.look_id = l.id and v.state = @State))
              and (not @asksForMeasures or exists (
                   select 1 from (select measures as m from look_measures where hash = l.hash order by at desc limit 1) newest
                   where (@Dialect::text is null or (m ->> 'measures' is not null and not m -> 'lossy' ? @Dialect))
                     and (@finding::text is null
                          or exists (select 1 from jsonb_array_elements_text(
                              case jsonb_typeof(m -> 'findings') when 'array' then m -> 'findings' else '[]' end) f where f like @finding))
                     and (@L::float8 is null
                          or sqrt(power((m #>> '{measures,baseLab,0}')::float8 - @L, 2)
                                  + power((m #>> '{measures,baseLab,1}')::float8 - @A, 2)
                                  + power((m #>> '{measures,baseLab,2}')::float8 - @B, 2)) <= @Within)))
              and (@patterns::text[] is null or l.search like all(@patterns))
            order by l.name, l.id
            limit @Most
        )
        select p.id, p.name, p.revision, p.changed,
               (select max(v.number) from look_versions v where v.look_id = p.id and v.state = 'published') as version,
               (select max(v.number) from look_versions v where v.look_id = p.id and v.state = 'in review') as waiting,
               (select string_agg(n.name, ', ' order by n.name)
                from collection_looks cl join collections n on n.id = cl.collection_id where cl.look_id = p.id) as collections,
               p.tags, p.roles, a.display_name as author,
               (select cl.section from collection_looks cl where cl.look_id = p.id and cl.collection_id = @Collection) as section
        from page p join people a on a.id = p.created_by
        order by p.name, p.id
        """;

    public async Task<IReadOnlyList<LookSummary>> FindAsync(LookQuery query)
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<LookSummary>(Sql, Parameters(query))];
    }

    /// <summary>How the database goes about it, in its own words: for the figures of benches.</summary>
    public async Task<string> PlanAsync(LookQuery query)
    {
        await using var c = await database.OpenAsync();
        return string.Join('\n', await c.QueryAsync<string>("explain (analyze, buffers) " + Sql, Parameters(query)));
    }

    private static object Parameters(LookQuery q)
    {
        var lab = Given(q.Colour) is { } colour ? LabOf(colour) : ((double L, double A, double B)?)null;
        return Parameters(q, lab);
    }

    private static (double L, double A, double B) LabOf(string colour)
    {
        try
        {
            return CieLab.Of(ColourText.Read(colour).In(ColourSpace.CieXyzD65));
        }
        catch (FormatException e)
        {
            throw new LookException(e.Message, e);
        }
    }

    private static object Parameters(LookQuery q, (double L, double A, double B)? lab) =>
        new
        {
            asksForMeasures = q.AsksForMeasures,
            Dialect = Given(q.Dialect),
            finding = Given(q.Finding) is { } code
                ? code.Replace("\\", "", StringComparison.Ordinal)
                    .Replace("%", "", StringComparison.Ordinal)
                    .Replace("_", "\\_", StringComparison.Ordinal) + "%"
                : null,
            lab?.L,
            lab?.A,
            lab?.B,
            q.Within,
            q.Collection,
            Tag = Given(q.Tag),
            Role = Given(q.Role),
            Author = Given(q.Author),
            State = Given(q.State),
            q.Since,
            q.Archived,
            q.AfterName,
            q.AfterId,
            Most = Math.Clamp(q.Most, 1, LongestPage),
            patterns = Given(q.Words) is { } words
                ? words.ToLowerInvariant().Split(' ', StringSplitOptions.RemoveEmptyEntries).Take(8).Select(Containing).ToArray()
                : null,
        };

    /// <summary>A word as a pattern of SQL that finds it anywhere.</summary>
    private static string Containing(string word)
    {
        foreach (var sign in (string[])["\\", "%", "_"])
            word = word.Replace(sign, "\\" + sign, StringComparison.Ordinal);
        return $"%{word}%";
    }

    private static string? Given(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();

    /// <summary>All looks with their documents, for what has to read every one.</summary>
    public async Task<IReadOnlyList<LookRow>> DocumentsAsync(CollectionId? collection = null)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<LookRow>(
                """
                select l.id, l.name, l.document, l.revision, l.delivery_id as DeliveryId, l.changed from looks l
                where l.archived is null
                  and (@collection::uuid is null
                       or exists (select 1 from collection_looks cl where cl.look_id = l.id and cl.collection_id = @collection))
                order by l.name, l.id limit 10000
                """,
                new { collection }
            ),
        ];
    }

    /// <summary>Looks that searches by measurements cannot find yet, at most so many.</summary>
    public async Task<IReadOnlyList<LookRow>> UnmeasuredAsync(int most)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<LookRow>(
                "select id, name, document, revision, delivery_id as DeliveryId, changed from looks l where archived is null and "
                    + "not exists (select 1 from look_measures m where m.hash = l.hash) order by changed desc limit @most",
                new { most }
            ),
        ];
    }

    /// <summary>The codes of findings that looks have, as measured.</summary>
    public async Task<IReadOnlyList<string>> FindingCodesAsync()
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<string>(
                "select distinct f from looks l join look_measures m on m.hash = l.hash cross join "
                    + "jsonb_array_elements_text(m.measures -> 'findings') f where l.archived is null and jsonb_typeof(m.measures -> "
                    + "'findings') = 'array' order by f"
            ),
        ];
    }

    /// <summary>Puts a look away, or brings it back; nothing that uses it is touched.</summary>
    public async Task<bool> ArchiveAsync(LookId id, bool away)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("update looks set archived = case when @away then now() else null end where id = @id", new { id, away })
            == 1;
    }

    /// <summary>Fills in what lists need of looks that were written before it was kept.</summary>
    public async Task FillInAsync()
    {
        await using var c = await database.OpenAsync();
        foreach (
            var row in await c.QueryAsync<LookRow>(
                "select id, name, document, revision, delivery_id as DeliveryId, changed from looks where hash is null or "
                    + "contents is null or search is null"
            )
        )
        {
            // One that cannot be read stays as it is, found by its name; opening it says why.
            if (row.Readable().Look is not { } look)
                continue;
            var facts = LookFacts.Of(look);
            await c.ExecuteAsync(
                "update looks set tags = @Tags, roles = @Roles, hash = @Hash, contents = @Contents, search = @Search where id = @Id",
                new
                {
                    facts.Tags,
                    facts.Roles,
                    facts.Hash,
                    facts.Contents,
                    facts.Search,
                    row.Id,
                }
            );
        }
    }
}

/// <summary>What is kept of a look beside its document.</summary>
internal sealed record LookFacts(string[] Tags, string[] Roles, string Hash, string[] Contents, string Search)
{
    public static LookFacts Of(Look look) =>
        new(
            [.. look.Tags],
            [.. look.Slots.Keys],
            LookJson.Hash(look),
            [.. look.FilesWithVariants().SelectMany(f => f.Contents).Distinct().Select(c => c.ToString())],
            string.Join('\n', look.Tags.Prepend(look.Name)).ToLowerInvariant()
        );
}
