using Kiln.Looks.Ids;
using Kiln.Looks.Overrides;

namespace Kiln.Store.Models;

/// <summary>What a part has of its own, whichever look lies on it.</summary>
/// <param name="Projection">box, front, side, top, cylinder or sphere: UVs that are made; null for those of the file.</param>
public sealed record PartSettings(PartOverride Own, string? Projection);

/// <param name="Was">As whoever says so saw it.</param>
public sealed record PartSettingsChange(string Path, PartSettings Was, PartSettings Now);

/// <summary>The settings of parts.</summary>
public sealed class PartSettingsRepository(Database database)
{
    /// <summary>Changes all of them, or, where one is otherwise meanwhile than was seen, none.</summary>
    /// <returns>The parts that somebody else changed meanwhile, or removed; empty where it is done.</returns>
    public async Task<IReadOnlyList<string>> ChangeAsync(ModelId model, IReadOnlyList<PartSettingsChange> changes)
    {
        await using var c = await database.BeginAsync();
        var now = (
            await c.QueryAsync<(string Path, PartOverride Own, string? Projection)>(
                "select path, own, projection from model_parts where model_id = @model and path = any(@paths) order by number for update",
                new { model, paths = changes.Select(p => p.Path).ToArray() }
            )
        ).ToDictionary(p => p.Path, p => new PartSettings(p.Own, p.Projection));
        var changed = changes.Where(p => now.GetValueOrDefault(p.Path) != p.Was).Select(p => p.Path).ToList();
        if (changed.Count > 0)
            return changed;
        await c.ExecuteAsync(
            "update model_parts set own = @Own, projection = @Projection where model_id = @model and path = @Path",
            changes.Select(p => new
            {
                model,
                p.Path,
                p.Now.Own,
                p.Now.Projection,
            })
        );
        await c.CommitAsync();
        return [];
    }
}
