using Kiln.Pixels.Writing;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Store.Looks;

namespace Kiln.Server.Looks.Bench;

/// <summary>What the settings of a step ask: distributions, numbers at a place, a picture with other settings.</summary>
internal static class StepStudyRoutes
{
    /// <summary>Side up to which a tried step is answered without loss.</summary>
    private const int LargestExact = 512;

    public static void Map(RouteGroupBuilder look)
    {
        look.MapGet("/histogram", async (Guid id, string lane, int step, LookRepository looks, StepStudy study, CancellationToken cancel) =>
                await study.HistogramsAsync(await LookRoutes.RowAsync(looks, id), lane, step, cancel)
            )
            .WithName("stepHistograms");
        look.MapGet(
                "/quantiles",
                async (Guid id, string lane, int? step, int? components, LookRepository looks, StepStudy study, CancellationToken cancel) =>
                    await study.QuantilesAsync(await LookRoutes.RowAsync(looks, id), lane, step, components, cancel)
            )
            .WithName("laneQuantiles");
        look.MapGet(
                "/numbers",
                async (Guid id, [AsParameters] PlaceInStep at, LookRepository looks, StepStudy study, CancellationToken cancel) =>
                    await study.ReadAsync(await LookRoutes.RowAsync(looks, id), at, cancel)
            )
            .WithName("readStepNumbers");
        look.MapPost(
                "/try-step",
                (Guid id, TriedStep tried, LookRepository looks, StepStudy study, RenderScheduler scheduler, CancellationToken cancel) =>
                    scheduler.UrgentAsync(async () =>
                    {
                        var (picture, type, working) = await study.TryAsync(await LookRoutes.RowAsync(looks, id), tried, cancel);
                        var shown = ShownPicture.Of(picture, type, working);
                        // A large picture is looked at, not measured: what counts is that it is there at once.
                        return tried.Size > LargestExact
                            ? Results.Bytes(PictureWriter.Jpeg(shown, 92), "image/jpeg")
                            : Results.Bytes(PictureWriter.Png(shown, 1), "image/png");
                    })
            )
            .WithName("tryStep");
    }
}
