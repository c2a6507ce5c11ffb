using System.Text.Json;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Pixels;

namespace Kiln.Store.Models;

/// <summary>The materials that models came with.</summary>
public sealed class MaterialRepository(Database database)
{
    private sealed record Line
    {
        public required int Number { get; init; }

        public required string Document { get; init; }

        public LookId? LookId { get; init; }

        public string? LookName { get; init; }

        public required string[] Parts { get; init; }
    }

    /// <summary>Keeps them, and names the pictures that the model's file itself holds, which are in the store then.</summary>
    public async Task AddAsync(ModelId model, IReadOnlyList<KeptMaterial> materials, IEnumerable<(ContentHash Content, long Length)> held)
    {
        await using var c = await database.BeginAsync();
        await c.ExecuteAsync(
            "insert into contents (hash, bytes) values (@Content, @Length) on conflict do nothing",
            held.Select(f => new { f.Content, f.Length })
        );
        await c.ExecuteAsync(
            "insert into model_materials (model_id, number, name, document) values (@model, @number, @Name, @document)",
            materials.Select(
                (m, number) =>
                    new
                    {
                        model,
                        number,
                        m.Name,
                        document = JsonSerializer.Serialize(m, LookJson.Options),
                    }
            )
        );
        await c.CommitAsync();
    }

    /// <summary>As the file has them.</summary>
    public async Task<IReadOnlyList<MaterialRow>> ListAsync(ModelId model)
    {
        await using var c = await database.OpenAsync();
        var lines = await c.QueryAsync<Line>(
            """
            select m.number, m.document, m.look_id as LookId, l.name as LookName,
                coalesce(array_agg(p.path order by p.number) filter (where p.path is not null), '{}') as Parts
            from model_materials m left join looks l on l.id = m.look_id
                left join model_parts p on p.model_id = m.model_id and p.material_at = m.number
            where m.model_id = @model group by m.number, m.document, m.look_id, l.name order by m.number
            """,
            new { model }
        );
        return
        [
            .. lines.Select(l => new MaterialRow(
                l.Number,
                JsonSerializer.Deserialize<KeptMaterial>(l.Document, LookJson.Options)!,
                l.LookId,
                l.LookName,
                l.Parts
            )),
        ];
    }

    /// <summary>Remembers which look was made of a material.</summary>
    public async Task MadeAsync(ModelId model, int number, LookId look)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "update model_materials set look_id = @look where model_id = @model and number = @number",
            new
            {
                model,
                number,
                look,
            }
        );
    }
}
