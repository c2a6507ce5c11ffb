using Kiln.Looks.Ids;
using Kiln.Server.Platform;
using Kiln.Server.Viewport;
using Kiln.Store;
using Kiln.Store.Looks;

namespace Kiln.Server.Proofs.Thumbnails;

/// <summary>
/// Makes the small pictures of looks when looks change, so that nobody waits for them who opens a list: first what stands in for all that
/// are new, then the pictures, one after another behind everything that a person waits for.
/// </summary>
public sealed class PictureRounds(
    LookListRepository looks,
    LookViews views,
    LookPictures pictures,
    StandIns standIns,
    ViewportPreparation viewport,
    KilnSettings settings,
    ILogger<PictureRounds> log
) : BackgroundService
{
    /// <summary>Side of the pictures in lists of looks.</summary>
    public const int Side = 200;

    private static readonly TimeSpan Between = TimeSpan.FromSeconds(2);

    private readonly Dictionary<LookId, int> made = [];

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (!settings.WarmsUp)
            return;
        var prepared = false;
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await RoundAsync(stoppingToken, isFirst: !prepared);
                prepared = true;
                await Task.Delay(Between, stoppingToken);
            }
            catch (OperationCanceledException)
            {
                return;
            }
            catch (Exception e) when (e is Npgsql.NpgsqlException or IOException or TimeoutException)
            {
                // The database is away, or starts just now: the next round finds what this one did not.
                log.LogInformation("Small pictures wait: {Reason}", e.Message);
                await Task.Delay(Between, CancellationToken.None);
            }
        }
    }

    /// <summary>Brings the pictures of all looks up to date.</summary>
    private async Task RoundAsync(CancellationToken cancel, bool isFirst)
    {
        var changed = (await looks.FindAsync(new())).Where(l => made.GetValueOrDefault(l.Id) != l.Revision).ToList();
        foreach (var look in changed)
            await EachAsync(look, () => standIns.OfAsync(look.Id, cancel));
        if (isFirst)
            await viewport.OfEveryBenchAsync();
        foreach (var look in changed)
        {
            await EachAsync(look, async () =>
            {
                var viewed = await views.OfAsync(look.Id);
                await pictures.OfAsync(viewed.Look, viewed.Working, Side, cancel: cancel);
                await viewport.OfLookAsync(look.Id, cancel);
            });
            made[look.Id] = look.Revision;
        }
    }

    /// <summary>One look that cannot be rendered is no reason to leave the others out; whoever opens it is told why.</summary>
    private async Task EachAsync(LookSummary look, Func<Task> work)
    {
        try
        {
            await work();
        }
        catch (Exception e) when (e is Kiln.Faults.KilnException or MissingException)
        {
            log.LogInformation("No small picture of {Look}: {Reason}", look.Name, e.Message);
        }
    }
}
