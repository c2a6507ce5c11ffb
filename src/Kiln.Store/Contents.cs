using Dapper;
using Kiln.Looks.Intake;

namespace Kiln.Store;

/// <summary>Which stored contents something names; the others are swept away in time.</summary>
public sealed class Contents(Database database)
{
    /// <summary>Keeps contents that came without a delivery.</summary>
    public async Task NameAsync(IReadOnlyList<DeliveredFile> files)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("insert into contents (hash, bytes) values (@Content, @Length) on conflict do nothing", files.DistinctBy(f => f.Content));
    }
}
