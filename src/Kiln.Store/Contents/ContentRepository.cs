using Kiln.Intake.Listing;
using Kiln.Pixels;

namespace Kiln.Store.Contents;

/// <summary>Which stored contents something names; the others are swept away in time.</summary>
public sealed class ContentRepository(Database database)
{
    /// <summary>Keeps contents that came without a delivery.</summary>
    public Task NameAsync(IReadOnlyList<DeliveredFile> files) =>
        NameAsync(files.DistinctBy(f => f.Content).Select(f => (f.Content, f.Length)));

    public async Task NameAsync(IEnumerable<(ContentHash Content, long Length)> files)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "insert into contents (hash, bytes) values (@Content, @Length) on conflict do nothing",
            files.Select(f => new { Content = f.Content.ToString(), f.Length })
        );
    }
}
