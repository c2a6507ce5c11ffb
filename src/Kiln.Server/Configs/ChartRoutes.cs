using Kiln.Analysis.Chart;
using Kiln.Colour;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels.Writing;
using Kiln.Store;
using Kiln.Store.Looks;

namespace Kiln.Server.Configs;

/// <summary>The chain proved by the chart: every patch, and the worst of them.</summary>
public sealed record ChartReport(IReadOnlyList<ProvedPatch> Patches, float Greatest, string WorkingSpace);

/// <summary>The reference chart: its map to take away, its proof, and what a view does.</summary>
public static class ChartRoutes
{
    private const int SampleWidth = 240,
        SampleHeight = 84;

    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/colour");
        group
            .MapGet(
                "/chart",
                async (
                    ChartRenderer charts,
                    LookContextRepository spaces,
                    string of = "form",
                    string? dialect = null,
                    string? working = null
                ) =>
                {
                    var query = await QueryAsync(spaces, of, dialect, working);
                    var proof = await charts.ProveAsync(query);
                    return new ChartReport(proof.Patches, proof.Greatest, query.Working.Id);
                }
            )
            .WithName("proveChart");
        group
            .MapGet(
                "/chart/picture",
                async (
                    ChartRenderer charts,
                    LookContextRepository spaces,
                    HttpResponse response,
                    string of = "form",
                    string? dialect = null,
                    string? working = null
                ) =>
                {
                    var proof = await charts.ProveAsync(await QueryAsync(spaces, of, dialect, working));
                    response.Headers.CacheControl = "no-cache";
                    return Results.Bytes(PictureWriter.Png(proof.Picture, 3), "image/png");
                }
            )
            .WithName("chartPicture");
        group
            .MapGet("/chart/map", (string format = "png") =>
            {
                var (bytes, name) = ChartRenderer.Map(format);
                return Results.File(bytes, format == "exr" ? "image/x-exr" : "image/png", name);
            })
            .WithName("chartMap");
        group
            .MapGet("/view-sample", (string view, ConfigRegistry colour, HttpResponse response) =>
            {
                response.Headers.CacheControl = "no-cache";
                return Results.Bytes(
                    PictureWriter.Png(
                        ViewSample.Rendered(View.Named(view, ColourSpace.AcesCg, colour.Current.Names), SampleWidth, SampleHeight),
                        3
                    ),
                    "image/png"
                );
            })
            .WithName("viewSample");
    }

    private static async Task<ChartQuery> QueryAsync(LookContextRepository spaces, string of, string? dialect, string? working) =>
        new(
            of,
            dialect is { Length: > 0 } ? dialect : null,
            working is null ? (await spaces.OfStudioAsync()).Space : WorkingSpace.Find(working)
        );
}
