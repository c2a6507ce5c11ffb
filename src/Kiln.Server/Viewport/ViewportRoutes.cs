using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels;
using Kiln.Server.Configs;
using Kiln.Server.Proofs;
using Kiln.Server.Proofs.Walls;
using Kiln.Viewport;

namespace Kiln.Server.Viewport;

/// <summary>What the viewport draws: looks as shaders with their numbers and maps, and what they stand in.</summary>
public static class ViewportRoutes
{
    private const string Kept = "private, max-age=604800, immutable",
        Bytes = "application/octet-stream";

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/looks/{id:guid}/viewport", ([AsParameters] ViewportQuery query, ViewportLooks looks, CancellationToken cancel) =>
                looks.OfAsync(query, cancel)
            )
            .WithName("viewportLook");
        api.MapGet("/looks/{id:guid}/viewport/followed", ([AsParameters] ViewportQuery query, ViewportLooks looks) =>
                looks.FollowedAsync(query)
            )
            .WithName("viewportFollowed");
        api.MapGet("/viewport/shaders", () => ViewportText.Shipped).WithName("viewportShaders");
        api.MapGet("/looks/{id:guid}/viewport/forms/{form}", FormAsync).WithName("viewportForm");
        api.MapGet("/viewport/lights/{name}", LightAsync).WithName("viewportLight");
        api.MapGet("/viewport/views", ViewAsync).WithName("viewportView");
        api.MapGet("/viewport/albedo/{distribution}", Albedo).WithName("viewportAlbedo");
        api.MapGet("/viewport/maps/{hash}", LayerAsync).WithName("viewportMap");
        api.MapGet("/viewport/readout", ([AsParameters] LightQuery light, ConfigRegistry colour) => Read(light.Light, colour))
            .WithName("viewportReadout");
        api.MapPost("/viewport/cell-readout", (TwoLights of, ConfigRegistry colour) =>
                CellReadout.Of(Read(of.First, colour), of.Second is { } other ? Read(other, colour) : null)
            )
            .WithName("readViewportCells");
        api.MapPost("/viewport/difference", ViewportDifference.OfAsync).Produces<DifferenceFigures>().WithName("viewportDifference");
    }

    private static async Task<IResult> FormAsync(
        [AsParameters] FormQuery query,
        ViewportLooks looks,
        ViewportScenes scenes,
        HttpContext http
    )
    {
        var movement = query.Moved is null ? null : await looks.MovementAsync(query.Look, http.RequestAborted);
        return Keep(http, await scenes.FormAsync(query.Form, movement));
    }

    private static async Task<IResult> LightAsync(string name, string working, ViewportScenes scenes, HttpContext http)
    {
        // A person's light may be another one tomorrow.
        http.Response.Headers.CacheControl = "no-cache";
        return Results.Bytes(await scenes.LightAsync(name, working), Bytes);
    }

    private static async Task<IResult> ViewAsync(string name, string working, ViewportScenes scenes, HttpContext http)
    {
        http.Response.Headers.CacheControl = "no-cache";
        return Results.Bytes(await scenes.ViewAsync(name, working), Bytes);
    }

    /// <summary>What the light of a place, read by the viewer's graphics processor, is in numbers.</summary>
    private static LightReadout Read(SeenLight light, ConfigRegistry colour)
    {
        var working = WorkingSpace.Find(light.Working);
        var pixel = ImageBuffer.FromFloats(1, 1, 3, [light.R, light.G, light.B]);
        return LightReadout.Of(pixel, working, View.Named(light.View, working.Space, colour.Current.Names), light.Exposure, 0, 0, 1);
    }

    private static IResult Albedo(string distribution, HttpContext http) => Keep(http, ViewportScenes.Albedo(distribution));

    private static async Task<IResult> LayerAsync([AsParameters] LayerQuery query, ViewportLooks looks, HttpContext http) =>
        Keep(http, await looks.LayerAsync(query, http.RequestAborted));

    private static IResult Keep(HttpContext http, byte[] bytes)
    {
        http.Response.Headers.CacheControl = Kept;
        return Results.Bytes(bytes, Bytes);
    }
}
