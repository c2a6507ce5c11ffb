using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Server.Configs;
using Kiln.Server.Platform;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Store.Contents;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Proofs;

/// <summary>Pictures that somebody pointed at, at full size, so that the next pixel is there at once.</summary>
public sealed class ReadoutPictures(IPictureDecoder decoder, ContentStore store, StudioCache cache)
{
    public Task<ImageBuffer> GetAsync(ContentHash content) =>
        cache.OnceAsync("pointed", content.ToString(), () => decoder.DecodeAsync(store.PathOf(content)), Megabytes);

    private static long Megabytes(ImageBuffer picture) =>
        (long)picture.Width * picture.Height * picture.ChannelCount * picture.Type.Bytes() >> 20;
}

/// <summary>What stands at one place of a map, from the stored code to the display.</summary>
public static class ReadoutRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/proofs/readout", ReadProof).Produces<LightReadout>().WithName("readProofPixel");
        api.MapGet("/contents/{hash}/readout", ReadAsync).Produces<PixelReadout>().WithName("readPixel");
    }

    private static IResult ReadProof([AsParameters] ProofPixelQuery at, RenderScheduler scheduler, HttpContext http) =>
        scheduler.Shown(http.User.Identity!.Name + "/" + at.Viewer) is not { } p
            ? Results.NotFound()
            : Results.Ok(
                LightReadout.Of(
                    p.Light,
                    p.Working,
                    p.View,
                    p.Exposure,
                    (int)(Math.Clamp(at.U, 0, 1) * p.Light.Width),
                    (int)(Math.Clamp(at.V, 0, 1) * p.Light.Height),
                    at.Patch
                )
            );

    private static async Task<IResult> ReadAsync(
        ContentHash hash,
        [AsParameters] ReadingQuery reading,
        [AsParameters] PixelQuery pixel,
        MapReadouts readouts
    ) => Results.Ok(await readouts.OfAsync(hash, reading, pixel));
}

/// <param name="Viewer">Whose newest picture is asked.</param>
public sealed record ProofPixelQuery(
    [FromQuery(Name = "viewer")] string Viewer,
    [FromQuery(Name = "u")] float U,
    [FromQuery(Name = "v")] float V,
    [FromQuery(Name = "patch")] int Patch = 1
);

/// <summary>What stands at a place of a stored map, read in a way and shown by a view.</summary>
public sealed class MapReadouts(ReadoutPictures pictures, ConfigRegistry colour)
{
    public async Task<PixelReadout> OfAsync(ContentHash hash, ReadingQuery reading, PixelQuery pixel)
    {
        var working = WorkingSpace.Find(pixel.Working);
        var asked = reading.Reading() with { Space = ColourSpace.Find(reading.Space).Id };
        var picture = await pictures.GetAsync(hash);
        return PixelReadout.Of(
            picture,
            asked,
            (int)(Math.Clamp(pixel.U, 0, 1) * picture.Width),
            (int)(Math.Clamp(pixel.V, 0, 1) * picture.Height),
            pixel.Patch,
            View.Named(pixel.View, working.Space, colour.Current.Names),
            working
        );
    }
}
