using Kiln.Demo;
using Kiln.Scattering;
using Kiln.Server.Archives;
using Kiln.Server.Configs;
using Kiln.Server.Intake;
using Kiln.Server.Models;
using Kiln.Server.Packages;
using Kiln.Server.People;
using Kiln.Server.Profiles;
using Kiln.Server.Sheets;
using Kiln.Store;
using Kiln.Store.Contents;
using Kiln.Store.Intake;
using Kiln.Store.Looks;
using Kiln.Store.People;

namespace Kiln.Server.Platform.Starting;

/// <summary>What happens before the first request: schema, leftovers of a killed server, demo people and the demo collection.</summary>
public static class Start
{
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(1),
        Between = TimeSpan.FromSeconds(1),
        Silence = TimeSpan.FromSeconds(10);

    /// <summary>Waits up to a minute for a database that is slow or late; says so, and gives up with a sentence.</summary>
    public static async Task<bool> DatabaseAnswersAsync(Database database, TextWriter told)
    {
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var said = TimeSpan.Zero - Silence;
        while (await FaultAsync(database, CancellationToken.None) is { } fault)
        {
            if (clock.Elapsed > Patience)
            {
                await told.WriteLineAsync(
                    $"The database does not answer after {Patience.TotalSeconds:0} seconds ({fault}). Start it, or name another "
                        + "by --Kiln:Database; then start again."
                );
                return false;
            }
            if (clock.Elapsed - said >= Silence)
            {
                said = clock.Elapsed;
                await told.WriteLineAsync($"Waiting for the database ({fault}).");
            }
            await Task.Delay(Between);
        }
        return true;
    }

    /// <summary>Whether the database answers within a few seconds.</summary>
    public static async Task<bool> AnswersAsync(Database database, CancellationToken cancel)
    {
        using var soon = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        soon.CancelAfter(Silence);
        try
        {
            return await FaultAsync(database, soon.Token) is null;
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }

    /// <summary>Why the database does not answer; null where it does. One that is not made yet answers.</summary>
    private static async Task<string?> FaultAsync(Database database, CancellationToken cancel)
    {
        try
        {
            await using var work = await database.OpenAsync(cancel);
            await work.ExecuteScalarAsync<int>("select 1");
            return null;
        }
        catch (Npgsql.PostgresException e) when (e.SqlState == Npgsql.PostgresErrorCodes.InvalidCatalogName)
        {
            return null;
        }
        catch (Exception e) when (e is Npgsql.NpgsqlException or System.Net.Sockets.SocketException or TimeoutException)
        {
            return e.Message.TrimEnd('.');
        }
    }

    public static async Task PrepareAsync(IServiceProvider services, CancellationToken cancel)
    {
        services.GetRequiredService<Database>().Migrate();
        services.GetRequiredService<ContentStore>().ClearLeftovers();
        services.GetRequiredService<ModelArrivals>().ClearLeftovers();
        Passwords.Prepare();
        var deliveries = services.GetRequiredService<DeliveryRepository>();
        await deliveries.MarkUnfinishedAsync();
        services.GetRequiredService<Uploads>().KeepOnly(await deliveries.WaitingAsync());
        await services.GetRequiredService<ContentStore>().SweepAsync(services.GetRequiredService<Database>(), TimeSpan.FromDays(1), cancel);
        await services.GetRequiredService<LookListRepository>().FillInAsync();
        await services.GetRequiredService<ConfigRegistry>().RefreshAsync();
        await services.GetRequiredService<ProfileRegistry>().RefreshAsync();
        await services.GetRequiredService<BatchJob>().GoOnAsync(services.GetRequiredService<Hangfire.IBackgroundJobClient>());
        services.GetRequiredService<ArchiveRoutes>().Clear();
        await services.GetRequiredService<SheetJob>().GoOnAsync(services.GetRequiredService<Hangfire.IBackgroundJobClient>());
        if (services.GetRequiredService<KilnSettings>().WarmsUp)
            _ = Task.Run(() => services.GetRequiredService<WarmingUp>().RunAsync(cancel), cancel);
        if (services.GetRequiredService<KilnSettings>().DemoDeliveries is { } folder)
            await services.GetRequiredService<DemoStudio>().FillAsync(folder, cancel);
        if (await services.GetRequiredService<PersonRepository>().IsEmptyAsync())
        {
            var (token, expires) = await services.GetRequiredService<LinkRepository>().FirstAdminAsync();
            var settings = services.GetRequiredService<KilnSettings>();
            Console.WriteLine($"Nobody can sign in yet. First admin: {settings.Address}{PeopleRoutes.PathOf(token)}");
            Console.WriteLine($"The link is good once, until {expires:yyyy-MM-dd HH:mm} UTC. Or: kiln people add NAME --role admin");
        }
    }
}
