using Kiln.Looks.Ids;

namespace Kiln.Store.Models;

/// <summary>Models, their parts, and the looks that lie on them.</summary>
public sealed class ModelRepository(Database database, MaterialRepository materials)
{
    private const string Columns = """
        m.id, m.name, m.path, m.format, m.up_axis as UpAxis, m.meters_per_unit as MetersPerUnit, m.remarks, m.packed,
        m.delivery_id as DeliveryId, m.created,
        count(p.number)::int as Parts, count(p.look_id)::int as Bound,
        count(*) filter (where p.look_id is null and cardinality(p.candidates) > 0)::int as Asked,
        coalesce(sum(p.triangles), 0)::bigint as Triangles
        from models m left join model_parts p on p.model_id = m.id
        """;

    private const string PartColumns = """
        p.path, p.name, p.material, p.triangles, p.uv_sets as UvSets, p.area, p.size, p.look_id as LookId, l.name as LookName,
        l.archived is not null as LookArchived,
        p.bound_by as BoundBy, p.confidence, p.reasons, p.candidates, p.own, p.projection
        from model_parts p left join looks l on l.id = p.look_id
        """;

    /// <summary>The newest first.</summary>
    public async Task<IReadOnlyList<ModelRow>> ListAsync(DeliveryId? delivery = null)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<ModelRow>(
                $"select {Columns} where @delivery::uuid is null or m.delivery_id = @delivery group by m.id "
                    + "order by m.created desc, m.name",
                new { delivery }
            ),
        ];
    }

    public async Task<ModelRow?> FindAsync(ModelId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<ModelRow>($"select {Columns} where m.id = @id group by m.id", new { id });
    }

    /// <summary>As the file has them.</summary>
    public async Task<IReadOnlyList<PartRow>> PartsAsync(ModelId id)
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<PartRow>($"select {PartColumns} where p.model_id = @id order by p.number", new { id })];
    }

    /// <summary>
    /// How each part stands and how its maps lie on it, as JSON by path; without those that came in before this was kept.
    /// </summary>
    public async Task<IReadOnlyDictionary<string, string>> FiguresAsync(ModelId id)
    {
        await using var c = await database.OpenAsync();
        return (
            await c.QueryAsync<(string Path, string Figures)>(
                "select path, figures::text from model_parts where model_id = @id and figures is not null",
                new { id }
            )
        ).ToDictionary(p => p.Path, p => p.Figures);
    }

    public async Task<ModelId> AddAsync(NewModel model, DeliveryId delivery)
    {
        var id = Ids.New<ModelId>();
        await using var c = await database.BeginAsync();
        await c.ExecuteAsync(
            "insert into contents (hash, bytes) values (@Packed, @PackedBytes) on conflict do nothing",
            new { model.Packed, model.PackedBytes }
        );
        await c.ExecuteAsync(
            """
            insert into models (id, name, path, format, up_axis, meters_per_unit, remarks, packed, delivery_id, created_by)
            select @id, @Name, @Path, @Format, @up, @MetersPerUnit, @remarks, @Packed, d.id, d.created_by
            from deliveries d where d.id = @delivery
            """,
            new
            {
                id,
                model.Name,
                model.Path,
                model.Format,
                up = model.UpAxis.ToString(),
                model.MetersPerUnit,
                remarks = model.Remarks.ToArray(),
                model.Packed,
                delivery,
            }
        );
        await c.ExecuteAsync(
            "insert into model_parts (model_id, number, path, name, material, material_at, triangles, uv_sets, area, size, figures) values "
                + "(@id, @number, @Path, @Name, @Material, @MaterialAt, @Triangles, @uvSets, @Area, @size, @Figures::jsonb)",
            model.Parts.Select(
                (p, number) =>
                    new
                    {
                        id,
                        number,
                        p.Path,
                        p.Name,
                        p.Material,
                        p.MaterialAt,
                        p.Triangles,
                        uvSets = p.UvSets.ToArray(),
                        p.Area,
                        size = p.Size.ToArray(),
                        p.Figures,
                    }
            )
        );
        await c.CommitAsync();
        await materials.AddAsync(id, model.Materials, model.Held);
        return id;
    }

    /// <summary>A file that was no model, and why.</summary>
    public async Task RefuseAsync(DeliveryId delivery, string path, string reason)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "insert into refused_models (delivery_id, path, reason) values (@delivery, @path, @reason) on conflict do nothing",
            new
            {
                delivery,
                path,
                reason,
            }
        );
    }

    public async Task<IReadOnlyList<(string Path, string Reason)>> RefusedAsync(DeliveryId delivery)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<(string, string)>(
                "select path, reason from refused_models where delivery_id = @delivery order by path",
                new { delivery }
            ),
        ];
    }

    /// <summary>What names say, for parts that no look lies on and nobody was asked about.</summary>
    public async Task BindByNameAsync(ModelId id, IEnumerable<NamedPart> parts)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            """
            update model_parts set look_id = @LookId, bound_by = case when @LookId::uuid is null then null else 'name' end,
                confidence = @Confidence, reasons = @Reasons, candidates = @Candidates
            where model_id = @id and path = @Path and look_id is null and cardinality(candidates) = 0
            """,
            parts.Select(p => new
            {
                id,
                p.Path,
                p.LookId,
                p.Confidence,
                p.Reasons,
                p.Candidates,
            })
        );
    }

    /// <summary>
    /// Puts a look on parts, or takes what lies on them away: on all of them, or, where one has another look meanwhile than was seen, on
    /// none.
    /// </summary>
    /// <returns>The parts that somebody else changed meanwhile; empty where it is done.</returns>
    public async Task<IReadOnlyList<string>> PutOnAsync(ModelId id, IReadOnlyList<PartChange> parts, LookId? look)
    {
        await using var c = await database.BeginAsync();
        var now = (
            await c.QueryAsync<(string Path, LookId? Look)>(
                "select path, look_id from model_parts where model_id = @id and path = any(@paths) order by number for update",
                new { id, paths = parts.Select(p => p.Path).ToArray() }
            )
        ).ToDictionary(p => p.Path, p => p.Look);
        var changed = parts.Where(p => !now.TryGetValue(p.Path, out var is_) || is_ != p.Was).Select(p => p.Path).ToList();
        if (changed.Count > 0)
            return changed;
        await c.ExecuteAsync(
            """
            update model_parts set look_id = @look, bound_by = case when @look::uuid is null then null else 'person' end,
                confidence = null, reasons = '{}', candidates = '{}'
            where model_id = @id and path = any(@paths)
            """,
            new
            {
                id,
                look,
                paths = parts.Select(p => p.Path).ToArray(),
            }
        );
        await c.CommitAsync();
        return [];
    }

    /// <summary>All looks that are in use, by whose names parts may be bound.</summary>
    public async Task<IReadOnlyList<(LookId Id, string Name)>> LooksAsync()
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<(LookId, string)>("select id, name from looks where archived is null order by name, id")];
    }

    /// <summary>Whether there was such a model.</summary>
    public async Task<bool> RemoveAsync(ModelId id)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("delete from models where id = @id", new { id }) == 1;
    }
}
