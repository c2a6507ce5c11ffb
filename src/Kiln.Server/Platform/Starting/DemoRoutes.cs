using System.Security.Claims;
using Hangfire;
using Kiln.Demo;
using Kiln.Server.Intake;
using Kiln.Server.Platform.Security;
using Kiln.Store.Intake;

namespace Kiln.Server.Platform.Starting;

/// <summary>A delivery of the demo, for people who have no maps at hand: taken in like any other.</summary>
public static class DemoRoutes
{
    public static void Map(RouteGroupBuilder api) =>
        api.MapPost("/deliveries/demo", MakeAsync).RequireAuthorization(Access.Works).WithName("makeDemoDelivery");

    private static async Task<DeliveryInfo> MakeAsync(
        DeliveryRepository deliveries,
        Uploads uploads,
        IBackgroundJobClient jobs,
        ClaimsPrincipal user
    )
    {
        var id = await deliveries.CreateAsync("demo: tide organ breakwater", user.PersonId());
        DemoDeliveries.MakeFirst(uploads.PathFor(id, DemoDeliveries.Names[0]));
        await deliveries.AdvanceAsync(id, "receiving", "analysing");
        jobs.Enqueue<IntakeJob>(j => j.RunAsync(id.Value, CancellationToken.None));
        return DeliveryRoutes.Info((await deliveries.FindAsync(id))!);
    }
}
