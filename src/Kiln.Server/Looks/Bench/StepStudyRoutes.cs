using Kiln.Looks.Document;
using Kiln.Server.Platform;
using Kiln.Server.Proofs.Scheduling;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Looks.Bench;

/// <summary>What the settings of a step ask: distributions, numbers at a place, a picture with other settings.</summary>
internal static class StepStudyRoutes
{
    /// <summary>Side up to which a tried step is answered without loss.</summary>
    private const int LargestExact = 512;

    public static void Map(RouteGroupBuilder look)
    {
        look.MapGet("/histogram", async ([AsParameters] LookRequest request, LaneAddress lane, int step, StepStudy study) =>
                await study.HistogramsAsync(await request.RowAsync(), lane, step, request.Cancel)
            )
            .WithName("stepHistograms");
        look.MapGet("/quantiles", async ([AsParameters] LookRequest request, [AsParameters] QuantilesQuery of, StepStudy study) =>
                await study.QuantilesAsync(await request.RowAsync(), of.Lane, of.Step, of.Components, request.Cancel)
            )
            .WithName("laneQuantiles");
        look.MapGet("/numbers", async ([AsParameters] LookRequest request, [AsParameters] PlaceInStep at, StepStudy study) =>
                await study.ReadAsync(await request.RowAsync(), at, request.Cancel)
            )
            .WithName("readStepNumbers");
        look.MapPost("/try-step", ([AsParameters] LookRequest request, TriedStep tried, StepStudy study, RenderScheduler scheduler) =>
                scheduler.UrgentAsync(async () =>
                {
                    var (picture, type, working) = await study.TryAsync(await request.RowAsync(), tried, request.Cancel);
                    var shown = ShownPicture.Of(picture, type, working);
                    // A large picture is looked at, not measured: what counts is that it is there at once.
                    return tried.Size > LargestExact ? PictureAnswers.Jpeg(shown, 92) : PictureAnswers.Png(shown);
                })
            )
            .WithName("tryStep");
        look.MapPost("/try-lane", ([AsParameters] LookRequest request, TriedEdit tried, LaneTrial trial, RenderScheduler scheduler) =>
                scheduler.UrgentAsync(async () => await trial.OfAsync(await request.RowAsync(), tried, request.Cancel))
            )
            .WithName("tryLane");
    }
}

/// <param name="Step">The distribution before this step; null for the lane's end.</param>
/// <param name="Components">How many of a colour's; null for what the lane has.</param>
public sealed record QuantilesQuery(
    [FromQuery(Name = "lane")] LaneAddress Lane,
    [FromQuery(Name = "step")] int? Step,
    [FromQuery(Name = "components")] int? Components
);
