using System.Text;
using System.Text.Json;
using Dapper;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;

namespace Kiln.Store;

public sealed record LookRow(Guid Id, string Name, string Document, int Revision, Guid? DeliveryId, DateTime Changed)
{
    public Look Look() => LookJson.Read(Encoding.UTF8.GetBytes(Document));
}

public sealed record LookSummary(Guid Id, string Name, int Revision, DateTime Changed, int? Version, string Document, string? Collections)
{
    public Look Look() => LookJson.Read(Encoding.UTF8.GetBytes(Document));
}

public sealed record HistoryRow(int Number, string Words, bool Undone, string Person, DateTime At);

public sealed record VersionRow(Guid Id, int Number, string Hash, string Note, string Person, DateTime At);

/// <summary>Somebody else changed the look in the meantime; nothing was written.</summary>
public sealed class LookConflictException(int revision, string who) : Exception($"{who} changed this look in the meantime (revision {revision}). Nothing of yours was written; look at it again and repeat your edit.")
{
    public int Revision { get; } = revision;
}

/// <summary>Looks with their history and versions. Every edit is one transaction that checks the revision it was made on.</summary>
public sealed class LookStore(Database database)
{
    private sealed record Step(int Number, string Edit, string Inverse, string Words);

    public async Task<Guid> CreateAsync(Look look, Guid person, Guid? delivery)
    {
        var id = Guid.CreateVersion7();
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("insert into looks (id, name, document, delivery_id, created_by) values (@id, @name, @document, @delivery, @person)",
            new { id, name = look.Name, document = Text(look), delivery, person });
        return id;
    }

    public async Task<LookRow?> FindAsync(Guid id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<LookRow>("select id, name, document, revision, delivery_id as DeliveryId, changed from looks where id = @id", new { id });
    }

    public async Task<IReadOnlyList<LookSummary>> ListAsync(Guid? collection)
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<LookSummary>(
            """
            select l.id, l.name, l.revision, l.changed,
                   (select max(v.number) from look_versions v where v.look_id = l.id) as version,
                   l.document,
                   (select string_agg(n.name, ', ' order by n.name) from collection_looks cl join collections n on n.id = cl.collection_id where cl.look_id = l.id) as collections
            from looks l
            where @collection::uuid is null or exists (select 1 from collection_looks cl where cl.look_id = l.id and cl.collection_id = @collection)
            order by l.name, l.id
            limit 500
            """, new { collection })];
    }

    /// <summary>Names of other looks that differ from this one in nothing but name, tags and the config they remember.</summary>
    public async Task<IReadOnlyList<string>> TwinsAsync(Guid id)
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<string>(
            """
            select o.name from looks l join looks o on o.id <> l.id
              -- Names and tags make little of a document: others need not be parsed.
              and abs(length(o.document) - length(l.document)) < 600
              and o.document::jsonb - '{name,tags,colour}'::text[] = l.document::jsonb - '{name,tags,colour}'::text[]
            where l.id = @id order by o.name limit 20
            """, new { id })];
    }

    /// <exception cref="LookConflictException">The look is at another revision.</exception>
    /// <exception cref="LookException">The edit does not fit.</exception>
    public Task<LookRow> EditAsync(Guid id, int revision, LookEdit edit, Guid person) => ChangeAsync(id, revision, person, (c, t, look) => RecordAsync(c, t, id, look, edit, person));

    /// <summary>Takes back the newest edit that stands, or null when there is none.</summary>
    public Task<LookRow> UndoAsync(Guid id, int revision, Guid person) => ChangeAsync(id, revision, person, async (c, t, look) =>
    {
        var step = await c.QuerySingleOrDefaultAsync<Step>("select number, edit, inverse, words from look_history where look_id = @id and not undone order by number desc limit 1", new { id }, t)
            ?? throw new LookException("There is nothing to undo.");
        await c.ExecuteAsync("update look_history set undone = true where look_id = @id and number = @Number", new { id, step.Number }, t);
        return Edit(step.Inverse).Apply(look).Look;
    });

    /// <summary>Brings back the oldest edit that was taken back.</summary>
    public Task<LookRow> RedoAsync(Guid id, int revision, Guid person) => ChangeAsync(id, revision, person, async (c, t, look) =>
    {
        var step = await c.QuerySingleOrDefaultAsync<Step>("select number, edit, inverse, words from look_history where look_id = @id and undone order by number limit 1", new { id }, t)
            ?? throw new LookException("There is nothing to redo.");
        await c.ExecuteAsync("update look_history set undone = false where look_id = @id and number = @Number", new { id, step.Number }, t);
        return Edit(step.Edit).Apply(look).Look;
    });

    public async Task<IReadOnlyList<HistoryRow>> HistoryAsync(Guid id)
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<HistoryRow>(
            "select h.number, h.words, h.undone, p.display_name as Person, h.at from look_history h join people p on p.id = h.person_id where h.look_id = @id order by h.number desc limit 200", new { id })];
    }

    /// <summary>The look as it was after an edit of its history; 0 is how it was wired. Edits that were taken back are not in it.</summary>
    /// <exception cref="LookException">The history does not reach there.</exception>
    public async Task<Look> AtAsync(Guid id, int number)
    {
        await using var c = await database.OpenAsync();
        var row = await c.QuerySingleOrDefaultAsync<LookRow>("select id, name, document, revision, delivery_id as DeliveryId, changed from looks where id = @id", new { id }) ?? throw new LookException("This look is not there any more.");
        return await BackAsync(c, null, id, row.Look(), number);
    }

    /// <summary>Goes back to how the look was after an edit, as an edit of its own: nothing of the history is lost.</summary>
    public Task<LookRow> RestoreAsync(Guid id, int revision, int number, Guid person) => ChangeAsync(id, revision, person, async (c, t, look) =>
    {
        var words = number == 0 ? "how it was wired" : await c.QuerySingleOrDefaultAsync<string>("select words from look_history where look_id = @id and number = @number", new { id, number }, t);
        return await RecordAsync(c, t, id, look, new RestoreEdit(await BackAsync(c, t, id, look, number), $"after “{words}”"), person);
    });

    private static async Task<Look> BackAsync(Npgsql.NpgsqlConnection c, Npgsql.NpgsqlTransaction? t, Guid id, Look look, int number)
    {
        if (number != 0 && await c.QuerySingleOrDefaultAsync<int?>("select number from look_history where look_id = @id and number = @number", new { id, number }, t) is null)
            throw new LookException($"The history of this look has no edit {number}.");
        foreach (var inverse in await c.QueryAsync<string>("select inverse from look_history where look_id = @id and not undone and number > @number order by number desc", new { id, number }, t))
            look = Edit(inverse).Apply(look).Look;
        return look;
    }

    /// <summary>Applies an edit and writes it with its inverse into the history; what had been taken back is gone.</summary>
    private static async Task<Look> RecordAsync(Npgsql.NpgsqlConnection c, Npgsql.NpgsqlTransaction t, Guid id, Look look, LookEdit edit, Guid person)
    {
        var (result, inverse) = edit.Apply(look);
        await c.ExecuteAsync("delete from look_history where look_id = @id and undone", new { id }, t);
        await c.ExecuteAsync(
            "insert into look_history (look_id, number, words, edit, inverse, person_id) select @id, coalesce(max(number), 0) + 1, @words, @edit, @inverse, @person from look_history where look_id = @id",
            new { id, words = edit.Words, edit = Json(edit), inverse = Json(inverse), person }, t);
        return result;
    }

    /// <summary>Publishes the look as it is: a numbered, unchangeable copy with the hash of its document.</summary>
    public async Task<VersionRow> PublishAsync(Guid id, int revision, string note, Guid person)
    {
        await using var c = await database.OpenAsync();
        await using var t = await c.BeginTransactionAsync();
        var row = await LockAsync(c, t, id, revision);
        var hash = LookJson.Hash(row.Look());
        var version = Guid.CreateVersion7();
        await c.ExecuteAsync(
            "insert into look_versions (id, look_id, number, document, hash, note, person_id) select @version, @id, coalesce(max(number), 0) + 1, @Document, @hash, @note, @person from look_versions where look_id = @id",
            new { version, id, row.Document, hash, note, person }, t);
        await t.CommitAsync();
        return (await VersionsAsync(id)).First(v => v.Id == version);
    }

    public async Task<IReadOnlyList<VersionRow>> VersionsAsync(Guid id)
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<VersionRow>(
            "select v.id, v.number, v.hash, v.note, p.display_name as Person, v.at from look_versions v join people p on p.id = v.person_id where v.look_id = @id order by v.number desc", new { id })];
    }

    public async Task<Look?> VersionAsync(Guid id, int number)
    {
        await using var c = await database.OpenAsync();
        var document = await c.QuerySingleOrDefaultAsync<string>("select document from look_versions where look_id = @id and number = @number", new { id, number });
        return document is null ? null : LookJson.Read(Encoding.UTF8.GetBytes(document));
    }

    private async Task<LookRow> ChangeAsync(Guid id, int revision, Guid person, Func<Npgsql.NpgsqlConnection, Npgsql.NpgsqlTransaction, Look, Task<Look>> change)
    {
        await using var c = await database.OpenAsync();
        await using var t = await c.BeginTransactionAsync();
        var row = await LockAsync(c, t, id, revision);
        var look = await change(c, t, row.Look());
        await c.ExecuteAsync("update looks set document = @document, name = @Name, revision = revision + 1, changed = now() where id = @id", new { id, document = Text(look), look.Name }, t);
        await t.CommitAsync();
        return (await FindAsync(id))!;
    }

    private static async Task<LookRow> LockAsync(Npgsql.NpgsqlConnection c, Npgsql.NpgsqlTransaction t, Guid id, int revision)
    {
        var row = await c.QuerySingleOrDefaultAsync<LookRow>("select id, name, document, revision, delivery_id as DeliveryId, changed from looks where id = @id for update", new { id }, t)
            ?? throw new LookException("This look is not there any more.");
        if (row.Revision == revision)
            return row;
        var who = await c.QuerySingleOrDefaultAsync<string>("select p.display_name from look_history h join people p on p.id = h.person_id where h.look_id = @id order by h.at desc limit 1", new { id }, t);
        throw new LookConflictException(row.Revision, who ?? "Somebody");
    }

    private static string Text(Look look) => Encoding.UTF8.GetString(LookJson.Write(look));

    private static string Json(LookEdit edit) => JsonSerializer.Serialize(edit, LookJson.Options);

    private static LookEdit Edit(string json) => JsonSerializer.Deserialize<LookEdit>(json, LookJson.Options)!;
}
