using Kiln.Intake.Listing;
using Kiln.Intake.Wiring;
using Kiln.Looks.Ids;
using Kiln.Server.Configs;
using Kiln.Server.Models;
using Kiln.Store;
using Kiln.Store.Collections;
using Kiln.Store.Intake;
using Kiln.Store.Looks;

namespace Kiln.Server.Intake;

/// <summary>Makes looks of a delivery's sets, and puts them into a collection.</summary>
public sealed class DeliveryWiring(
    DeliveryRepository deliveries,
    LookRepository looks,
    CollectionRepository collections,
    ConfigRegistry colour,
    ModelBinding models,
    Database database
)
{
    /// <summary>All of the looks, in their collection, or none.</summary>
    /// <exception cref="DeliveryException">The delivery is not there or not analysed.</exception>
    public async Task<IReadOnlyList<WiredLook>> WireAsync(DeliveryId id, WireRequest request, PersonId person)
    {
        var wired = await database.TogetherAsync(() => WiredAsync(id, request, person));
        await models.TellAsync(id);
        return wired;
    }

    private async Task<IReadOnlyList<WiredLook>> WiredAsync(DeliveryId id, WireRequest request, PersonId person)
    {
        var result = (await deliveries.FindAsync(id))?.Intake()
            ?? throw new DeliveryException("The delivery is not there or not analysed yet.");
        var chosen = result.Sets.Where(s => request.Sets is null ? s.Ready : request.Sets.Contains(s.Name)).ToList();
        var collection = request.Collection is { Length: > 0 } name ? await collections.EnsureAsync(name) : (CollectionId?)null;
        var wired = new List<WiredLook>();
        foreach (var set in chosen)
        {
            var look = SetWiring.Wire(set) with { Tags = [.. set.Tags], Colour = colour.Remembered };
            var lookId = await looks.CreateAsync(look, person, id);
            if (collection is { } c)
                await collections.AddAsync(c, lookId);
            wired.Add(new(lookId, look.Name));
        }
        await models.ByNameAsync(id, wired);
        return wired;
    }
}
