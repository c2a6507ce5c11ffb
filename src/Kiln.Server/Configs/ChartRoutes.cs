using Kiln.Analysis.Chart;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels.Decoding;
using Kiln.Server.Platform;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Configs;

/// <summary>The chain proved by the chart: every patch, and the worst of them.</summary>
public sealed record ChartReport(IReadOnlyList<ProvedPatch> Patches, float Greatest, string WorkingSpace);

/// <summary>Where the chart is proved: on which form, as which dialect, in which working space (null: the studio's).</summary>
public sealed record ChartPlace(
    [FromQuery(Name = "of")] string Of = "form",
    [FromQuery(Name = "dialect")] string? Dialect = null,
    [FromQuery(Name = "working")] string? Working = null
);

/// <summary>The reference chart: its map to take away, its proof, and what a view does.</summary>
public static class ChartRoutes
{
    private const int SampleWidth = 240,
        SampleHeight = 84;

    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/colour");
        group
            .MapGet("/chart", async ([AsParameters] ChartPlace place, ChartRenderer charts) =>
            {
                var query = await charts.QueryAsync(place);
                var proof = await charts.ProveAsync(query);
                return new ChartReport(proof.Patches, proof.Greatest, query.Working.Id);
            })
            .WithName("proveChart");
        group
            .MapGet("/chart/picture", async ([AsParameters] ChartPlace place, ChartRenderer charts, HttpResponse response) =>
            {
                var proof = await charts.ProveAsync(await charts.QueryAsync(place));
                response.Headers.CacheControl = "no-cache";
                return PictureAnswers.Png(proof.Picture, 3);
            })
            .WithName("chartPicture");
        group
            .MapGet("/chart/map", (string format = "png") =>
            {
                var (bytes, name) = ChartRenderer.Map(format);
                return Results.File(bytes, PictureFormats.ByExtension(Path.GetExtension(name)).MediaType(), name);
            })
            .WithName("chartMap");
        group
            .MapGet("/view-sample", (string view, ConfigRegistry colour, HttpResponse response) =>
            {
                response.Headers.CacheControl = "no-cache";
                return PictureAnswers.Png(
                    ViewSample.Rendered(View.Named(view, ColourSpace.AcesCg, colour.Current.Names), SampleWidth, SampleHeight),
                    3
                );
            })
            .WithName("viewSample");
    }
}
