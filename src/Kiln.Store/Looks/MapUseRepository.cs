using Kiln.Looks.Ids;
using Kiln.Pixels;

namespace Kiln.Store.Looks;

/// <summary>A look that uses a file.</summary>
/// <param name="Versions">Numbers of its versions that use it.</param>
/// <param name="UsesItNow">Whether the look as it is does, and not only a version.</param>
public sealed record MapUser
{
    public required LookId Id { get; init; }

    public required string Name { get; init; }

    public required int Revision { get; init; }

    public required bool Archived { get; init; }

    public required bool UsesItNow { get; init; }

    public required int[] Versions { get; init; }
}

/// <summary>Where files are used.</summary>
public sealed class MapUseRepository(Database database)
{
    public async Task<IReadOnlyList<MapUser>> OfAsync(ContentHash content)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<MapUser>(
                """
                with kept as (
                    select look_id, array_agg(number order by number) as numbers from look_versions
                    where contents @> array[@content] group by look_id
                )
                select l.id, l.name, l.revision, l.archived is not null as archived, l.contents @> array[@content] as UsesItNow,
                       coalesce(k.numbers, '{}') as versions
                from looks l left join kept k on k.look_id = l.id
                where l.contents @> array[@content] or k.look_id is not null
                order by l.name, l.id
                """,
                new { content = content.ToString() }
            ),
        ];
    }
}
