using Kiln.Server.Looks;
using Kiln.Colour;
using Kiln.Demo;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Wiring;
using Kiln.Server.Configs;
using Kiln.Server.Intake;
using Kiln.Server.Archives;
using Kiln.Server.Packages;
using Kiln.Server.Sheets;
using Kiln.Server.Profiles;
using Kiln.Proof.Rendering;
using Kiln.Scattering;
using Kiln.Store;
using Microsoft.AspNetCore.Identity;

namespace Kiln.Server.Platform;

/// <summary>What happens before the first request: schema, leftovers of a killed server, demo people and the demo collection.</summary>
public static class Start
{
    public static async Task PrepareAsync(IServiceProvider services, CancellationToken cancel)
    {
        services.GetRequiredService<Database>().Migrate();
        var deliveries = services.GetRequiredService<Deliveries>();
        await deliveries.MarkUnfinishedAsync();
        services.GetRequiredService<Uploads>().KeepOnly(await deliveries.WaitingAsync());
        await services.GetRequiredService<ContentStore>().SweepAsync(services.GetRequiredService<Database>(), TimeSpan.FromDays(1), cancel);
        await services.GetRequiredService<LookList>().FillInAsync();
        await services.GetRequiredService<ConfigDesk>().RefreshAsync();
        await services.GetRequiredService<ProfileDesk>().RefreshAsync();
        await services.GetRequiredService<BatchJob>().GoOnAsync(services.GetRequiredService<Hangfire.IBackgroundJobClient>());
        services.GetRequiredService<ArchiveRoutes>().Clear();
        await services.GetRequiredService<SheetJob>().GoOnAsync(services.GetRequiredService<Hangfire.IBackgroundJobClient>());
        if (services.GetRequiredService<KilnSettings>().WarmsUp)
            _ = Task.Run(() => services.GetRequiredService<WarmingUp>().RunAsync(cancel), cancel);
        if (services.GetRequiredService<KilnSettings>().DemoDeliveries is { } folder)
            await services.GetRequiredService<DemoHouse>().FillAsync(folder, cancel);
    }
}
