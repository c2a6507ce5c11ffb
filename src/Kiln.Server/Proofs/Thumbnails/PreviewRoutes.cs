using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Store.Contents;
using Kiln.Store.Intake;
using Kiln.Store.Looks;

namespace Kiln.Server.Proofs.Thumbnails;

/// <summary>A picture of the surface that came with its maps: to be looked at beside a proof, never measured as truth.</summary>
public sealed record DeliveredPreview(string Name, ContentHash Content);

public static class PreviewRoutes
{
    public static void Map(RouteGroupBuilder api) =>
        api.MapGet(
                "/looks/{id:guid}/previews",
                async (LookId id, LookRepository looks, DeliveryRepository deliveries, ContentStore store) =>
                {
                    var row = await looks.GetAsync(id);
                    if (row.DeliveryId is not { } delivery || (await deliveries.FindAsync(delivery))?.Intake() is not { } result)
                        return [];
                    var used = row.Look().Slots.Values.Select(s => s.File.Content).ToHashSet();
                    var paths = result
                        .Sets.Where(s => s.Maps.Any(m => used.Contains(m.File.Content)))
                        .SelectMany(s => s.Previews)
                        .ToHashSet();
                    return (IReadOnlyList<DeliveredPreview>)
                        [
                            .. result
                                .SetAside.Where(f => f.File is { } file && paths.Contains(f.Path) && store.Has(file.Content))
                                .Select(f => new DeliveredPreview(Path.GetFileName(f.Path), f.File!.Content)),
                        ];
                }
            )
            .WithName("deliveredPreviews");
}
