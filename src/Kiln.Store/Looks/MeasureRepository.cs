namespace Kiln.Store.Looks;

/// <summary>
/// Measurements of looks by their document and by what they were measured under, as JSON text; looks that are the same share them.
/// </summary>
public sealed class MeasureRepository(Database database)
{
    public async Task<IReadOnlyDictionary<string, string>> FindAsync(IReadOnlyCollection<string> hashes, string under)
    {
        await using var c = await database.OpenAsync();
        return (
            await c.QueryAsync<(string Hash, string Measures)>(
                "select hash, measures::text from look_measures where hash = any(@hashes) and under = @under",
                new { hashes = hashes.ToArray(), under }
            )
        ).ToDictionary(r => r.Hash, r => r.Measures);
    }

    public async Task KeepAsync(string hash, string under, string measures)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "insert into look_measures (hash, under, measures) values (@hash, @under, @measures::jsonb) on conflict (hash, "
                + "under) do update set measures = excluded.measures, at = now()",
            new
            {
                hash,
                under,
                measures,
            }
        );
    }
}
