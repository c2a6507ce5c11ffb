using System.Text.Json;
using Hangfire;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Proof.Geometry;
using Kiln.Server.Proofs.Lights;
using Kiln.Store.Proofs;

namespace Kiln.Server.Proofs.Orders;

/// <summary>Takes an order for a picture: the look as it is now, so that later edits do not change what was ordered.</summary>
public sealed class ProofOrdering(
    LookViews views,
    LightRegistry lights,
    DialectProfiles profiles,
    ProofOrderRepository orders,
    IBackgroundJobClient jobs
)
{
    /// <exception cref="LookException">What is ordered does not exist, or is too large.</exception>
    public async Task<ProofOrderRow> OrderAsync(LookId id, ProofOrder order, PersonId person)
    {
        order.Checked();
        // What does not exist is said now, not when its turn has come.
        await lights.OwnAsync(order.Light);
        Forms.Named(order.Form);
        var viewed = await views.OfAsync(id);
        views.View(order.View, viewed.Working);
        if (order.Dialect is { } dialect)
            profiles.Find(dialect);
        var made = await orders.AddAsync(
            id,
            viewed.Look.Name,
            LookJson.Write(viewed.Look),
            viewed.Working.Id,
            person,
            JsonSerializer.Serialize(order, JsonSerializerOptions.Web),
            order.Total
        );
        jobs.Enqueue<ProofOrderJob>(j => j.RunAsync(made.Value, CancellationToken.None));
        return (await orders.FindAsync(made))!;
    }
}
