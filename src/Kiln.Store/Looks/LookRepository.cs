using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Looks.Steps;
using Kiln.Store.People;

namespace Kiln.Store.Looks;

public sealed record LookRow(LookId Id, string Name, string Document, int Revision, DeliveryId? DeliveryId, DateTime Changed)
{
    /// <exception cref="LookException">The document cannot be read.</exception>
    public Look Look() => LookJson.Read(Encoding.UTF8.GetBytes(Document));

    /// <summary>The look, or why it cannot be read: for lists and tables, which one bad document must not break.</summary>
    public (Look? Look, string? Fault) Readable()
    {
        try
        {
            return (Look(), null);
        }
        catch (LookException e)
        {
            return (null, e.Message);
        }
    }
}

public sealed record HistoryRow(int Number, [property: JsonPropertyName("words")] string Sentence, bool Undone, string Person, DateTime At);

/// <summary>Somebody else changed the look in the meantime; nothing was written.</summary>
public sealed class LookConflictException(int revision, string who)
    : KilnException(
        FaultKind.Stale,
        "look.conflict",
        $"{who} changed this look in the meantime (revision {revision}). Nothing of yours was written; look at it again and "
            + "repeat your edit."
    )
{
    public int Revision { get; } = revision;
}

/// <summary>Looks with their history. Every edit is one transaction that checks the revision it was made on.</summary>
public sealed class LookRepository(Database database)
{
    private sealed record Step(int Number, string Edit, string Inverse, string Sentence);

    public async Task<LookId> CreateAsync(Look look, PersonId person, DeliveryId? delivery)
    {
        var id = Ids.New<LookId>();
        await using var c = await database.OpenAsync();
        var facts = LookFacts.Of(look);
        await c.ExecuteAsync(
            "insert into looks (id, name, document, delivery_id, created_by, tags, roles, hash, contents, search) values (@id, "
                + "@name, @document, @delivery, @person, @Tags, @Roles, @Hash, @Contents, @Search)",
            new
            {
                id,
                name = look.Name,
                document = Text(look),
                delivery,
                person,
                facts.Tags,
                facts.Roles,
                facts.Hash,
                facts.Contents,
                facts.Search,
            }
        );
        return id;
    }

    public async Task<LookRow?> FindAsync(LookId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<LookRow>(
            "select id, name, document, revision, delivery_id as DeliveryId, changed from looks where id = @id",
            new { id }
        );
    }

    /// <exception cref="MissingException">It is not there any more.</exception>
    public async Task<LookRow> GetAsync(LookId id) =>
        await FindAsync(id) ?? throw new MissingException("look.missing", "This look is not there any more.");

    /// <summary>Names of other looks that differ from this one in nothing but name, tags and the config they remember.</summary>
    public async Task<IReadOnlyList<string>> TwinsAsync(LookId id)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<string>(
                """
                select o.name from looks l join looks o on o.id <> l.id
                  -- Names and tags make little of a document: others need not be parsed.
                  and abs(length(o.document) - length(l.document)) < 600
                  and o.document::jsonb - '{name,tags,colour}'::text[] = l.document::jsonb - '{name,tags,colour}'::text[]
                where l.id = @id order by o.name limit 20
                """,
                new { id }
            ),
        ];
    }

    /// <exception cref="LookConflictException">The look is at another revision.</exception>
    /// <exception cref="LookException">The edit does not fit.</exception>
    public Task<LookRow> EditAsync(LookId id, int revision, LookEdit edit, PersonId person) =>
        ChangeAsync(id, revision, person, (c, look) => RecordAsync(c, id, look, edit, person));

    /// <summary>Takes back the newest edit that stands, or null when there is none.</summary>
    public Task<LookRow> UndoAsync(LookId id, int revision, PersonId person) => ChangeAsync(id, revision, person, async (c, look) =>
        {
            var step = await c.QuerySingleOrDefaultAsync<Step>(
                "select number, edit, inverse, words as Sentence from look_history where look_id = @id and not undone order by "
                    + "number desc limit 1",
                new { id }
            ) ?? throw new LookException("There is nothing to undo.");
            await c.ExecuteAsync("update look_history set undone = true where look_id = @id and number = @Number", new { id, step.Number });
            return LookJson.ReadEdit(step.Inverse).Apply(look).Look;
        });

    /// <summary>Brings back the oldest edit that was taken back.</summary>
    public Task<LookRow> RedoAsync(LookId id, int revision, PersonId person) => ChangeAsync(id, revision, person, async (c, look) =>
        {
            var step = await c.QuerySingleOrDefaultAsync<Step>(
                "select number, edit, inverse, words as Sentence from look_history where look_id = @id and undone order by number limit 1",
                new { id }
            ) ?? throw new LookException("There is nothing to redo.");
            await c.ExecuteAsync(
                "update look_history set undone = false where look_id = @id and number = @Number",
                new { id, step.Number }
            );
            return LookJson.ReadEdit(step.Edit).Apply(look).Look;
        });

    public async Task<IReadOnlyList<HistoryRow>> HistoryAsync(LookId id)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<HistoryRow>(
                "select h.number, h.words as Sentence, h.undone, coalesce(h.origin || ' (from an archive)', p.display_name) as "
                    + "Person, h.at from look_history h join people p on p.id = h.person_id where h.look_id = @id order by h.number "
                    + "desc limit 200",
                new { id }
            ),
        ];
    }

    /// <summary>The look as it was after an edit of its history; 0 is how it was wired. Edits that were taken back are not in it.</summary>
    /// <exception cref="LookException">The history does not reach there.</exception>
    public async Task<Look> AtAsync(LookId id, int number)
    {
        await using var c = await database.OpenAsync();
        var row = await c.QuerySingleOrDefaultAsync<LookRow>(
            "select id, name, document, revision, delivery_id as DeliveryId, changed from looks where id = @id",
            new { id }
        ) ?? throw new MissingException("look.missing", "This look is not there any more.");
        return await BackAsync(c, id, row.Look(), number);
    }

    /// <summary>Goes back to how the look was after an edit, as an edit of its own: nothing of the history is lost.</summary>
    public Task<LookRow> RestoreAsync(LookId id, int revision, int number, PersonId person) =>
        ChangeAsync(id, revision, person, async (c, look) =>
        {
            var words =
                number == 0
                    ? "how it was wired"
                    : await c.QuerySingleOrDefaultAsync<string>(
                        "select words from look_history where look_id = @id and number = @number",
                        new { id, number }
                    );
            return await RecordAsync(c, id, look, new RestoreEdit(await BackAsync(c, id, look, number), $"after “{words}”"), person);
        });

    private static async Task<Look> BackAsync(UnitOfWork c, LookId id, Look look, int number)
    {
        if (
            number != 0
            && await c.QuerySingleOrDefaultAsync<int?>(
                "select number from look_history where look_id = @id and number = @number",
                new { id, number }
            )
                is null
        )
            throw new LookException($"The history of this look has no edit {number}.");
        foreach (
            var inverse in await c.QueryAsync<string>(
                "select inverse from look_history where look_id = @id and not undone and number > @number order by number desc",
                new { id, number }
            )
        )
            look = LookJson.ReadEdit(inverse).Apply(look).Look;
        return look;
    }

    /// <summary>Applies an edit and writes it with its inverse into the history; what had been taken back is gone.</summary>
    private static async Task<Look> RecordAsync(UnitOfWork c, LookId id, Look look, LookEdit edit, PersonId person)
    {
        var (result, inverse) = edit.Apply(look);
        await c.ExecuteAsync("delete from look_history where look_id = @id and undone", new { id });
        await c.ExecuteAsync(
            "insert into look_history (look_id, number, words, edit, inverse, person_id) select @id, coalesce(max(number), 0) + "
                + "1, @words, @edit, @inverse, @person from look_history where look_id = @id",
            new
            {
                id,
                words = edit.Sentence,
                edit = Json(edit),
                inverse = Json(inverse),
                person,
            }
        );
        return result;
    }

    private async Task<LookRow> ChangeAsync(LookId id, int revision, PersonId person, Func<UnitOfWork, Look, Task<Look>> change)
    {
        await using var c = await database.BeginAsync();
        var row = await LockAsync(c, id, revision);
        var look = await change(c, row.Look());
        var facts = LookFacts.Of(look);
        await c.ExecuteAsync(
            "update looks set document = @document, name = @Name, tags = @Tags, roles = @Roles, hash = @Hash, contents = "
                + "@Contents, search = @Search, revision = revision + 1, changed = now() where id = @id",
            new
            {
                id,
                document = Text(look),
                look.Name,
                facts.Tags,
                facts.Roles,
                facts.Hash,
                facts.Contents,
                facts.Search,
            }
        );
        // Read by the same connection: a second one may be what others wait for.
        var changed = await c.QuerySingleAsync<LookRow>(
            "select id, name, document, revision, delivery_id as DeliveryId, changed from looks where id = @id",
            new { id }
        );
        await c.CommitAsync();
        return changed;
    }

    internal static async Task<LookRow> LockAsync(UnitOfWork c, LookId id, int revision)
    {
        var row = await c.QuerySingleOrDefaultAsync<LookRow>(
            "select id, name, document, revision, delivery_id as DeliveryId, changed from looks where id = @id for update",
            new { id }
        ) ?? throw new MissingException("look.missing", "This look is not there any more.");
        if (row.Revision == revision)
            return row;
        var who = await c.QuerySingleOrDefaultAsync<string>(
            "select coalesce(h.origin || ' (from an archive)', p.display_name) from look_history h join people p on p.id = "
                + "h.person_id where h.look_id = @id order by h.at desc limit 1",
            new { id }
        );
        throw new LookConflictException(row.Revision, who ?? "Somebody");
    }

    private static string Text(Look look) => Encoding.UTF8.GetString(LookJson.WriteChecked(look));

    private static string Json(LookEdit edit) => JsonSerializer.Serialize(edit, LookJson.Options);
}
