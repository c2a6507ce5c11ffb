using Kiln.Intake.Relinking;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Store.Contents;
using Kiln.Store.Intake;
using Kiln.Store.Looks;

namespace Kiln.Server.Intake;

/// <summary>A slot whose file is gone, and what could stand in for it.</summary>
public sealed record MissingFile(string Slot, MapRole Role, MapFile File, IReadOnlyList<RelinkCandidate> Candidates);

/// <summary>
/// Files of a look that are gone from the store, found again among all that ever came in. Applying is an edit of the slot like any other.
/// </summary>
public static class RelinkRoutes
{
    private const int MostCandidates = 8;

    public static void Map(RouteGroupBuilder api) =>
        api.MapGet("/looks/{id:guid}/relink", async (LookId id, LookRepository looks, DeliveryRepository deliveries, ContentStore store) =>
            {
                if (await looks.FindAsync(id) is not { } row)
                    return Results.NotFound();
                var missing = row.Look().Slots.Where(s => !store.Has(s.Value.File.Content)).ToList();
                if (missing.Count == 0)
                    return Results.Ok(Array.Empty<MissingFile>());
                var known = (await deliveries.ResultsAsync())
                    .SelectMany(r => r.Sets)
                    .SelectMany(s => s.Maps.Concat(s.Alternates.Select(a => a.Map)))
                    .Select(m => m.File)
                    .DistinctBy(f => f.Content)
                    .Where(f => store.Has(f.Content))
                    .ToList();
                return Results.Ok(
                    missing
                        .Select(m => new MissingFile(
                            m.Key,
                            m.Value.Role,
                            m.Value.File,
                            [.. RelinkSearch.Find(m.Value.File, known).Take(MostCandidates)]
                        ))
                        .ToArray()
                );
            })
            .Produces<MissingFile[]>()
            .WithName("findMissingFiles");
}
