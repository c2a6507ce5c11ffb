using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Looks.Ids;
using Kiln.Server.Models;
using Kiln.Store;
using Kiln.Store.Contents;
using Kiln.Store.Intake;

namespace Kiln.Server.Intake;

/// <summary>Keeps what an analysis found: files first, then the result and the models that came with it, all of them or nothing.</summary>
public sealed class DeliveryKeeping(DeliveryRepository deliveries, ContentStore store, ModelArrivals models, Database database)
{
    public async Task KeepAsync(DeliveryId id, DeliveryListing listing, IntakeResult result, CancellationToken stop)
    {
        foreach (var file in listing.Files)
        {
            stop.ThrowIfCancellationRequested();
            store.Take(file.LocalPath, file.Content);
        }
        var arrived = models.Read(listing, result, stop);
        // Where a person stopped it in the last moment, nothing is written and their word stands.
        await database.TogetherAsync(async () =>
        {
            var done = await deliveries.FinishAsync(id, result, listing.Files);
            if (done)
                await models.KeepAsync(id, arrived);
            return done;
        });
    }
}
