using System.Collections.Concurrent;
using Kiln.Colour;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Server.Configs;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Store;
using Kiln.Store.Contents;

namespace Kiln.Server.Proofs;

/// <summary>The last pictures that somebody pointed at, at full size, so that the next pixel is there at once.</summary>
public sealed class ReadoutPictures(IPictureDecoder decoder, ContentStore store)
{
    private const int Kept = 4;

    private readonly ConcurrentDictionary<string, (Lazy<Task<ImageBuffer>> Picture, long Used)> kept = new();
    private long clock;

    public Task<ImageBuffer> GetAsync(string content)
    {
        var entry = kept.AddOrUpdate(
            content,
            _ => (new(() => Task.Run(() => decoder.DecodeAsync(store.PathOf(content)))), Interlocked.Increment(ref clock)),
            (_, old) => (old.Picture, Interlocked.Increment(ref clock))
        );
        foreach (var old in kept.OrderByDescending(k => k.Value.Used).Skip(Kept))
            kept.TryRemove(old.Key, out _);
        var task = entry.Picture.Value;
        if (task.IsFaulted)
            kept.TryRemove(content, out _);
        return task;
    }
}

/// <summary>What stands at one place of a map, from the stored code to the display.</summary>
public static class ReadoutRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/proofs/readout", ReadProof).Produces<LightReadout>().WithName("readProofPixel");
        api.MapGet("/contents/{hash}/readout", ReadAsync).Produces<PixelReadout>().WithName("readPixel");
    }

    /// <param name="viewer">Whose newest picture is asked.</param>
    private static IResult ReadProof(string viewer, float u, float v, RenderScheduler scheduler, HttpContext http, int patch = 1) =>
        scheduler.Shown(http.User.Identity!.Name + "/" + viewer) is not { } p
            ? Results.NotFound()
            : Results.Ok(
                LightReadout.Of(
                    p.Light,
                    p.Working,
                    p.View,
                    p.Exposure,
                    (int)(Math.Clamp(u, 0, 1) * p.Light.Width),
                    (int)(Math.Clamp(v, 0, 1) * p.Light.Height),
                    patch
                )
            );

    private static async Task<IResult> ReadAsync(
        string hash,
        [AsParameters] ReadingQuery reading,
        [AsParameters] PixelQuery pixel,
        ReadoutPictures pictures,
        ConfigRegistry colour
    )
    {
        var working = WorkingSpace.Find(pixel.Working);
        var asked = reading.Reading() with { Space = ColourSpace.Find(reading.Space).Id };
        var picture = await pictures.GetAsync(hash);
        return Results.Ok(
            PixelReadout.Of(
                picture,
                asked,
                (int)(Math.Clamp(pixel.U, 0, 1) * picture.Width),
                (int)(Math.Clamp(pixel.V, 0, 1) * picture.Height),
                pixel.Patch,
                View.Named(pixel.View, working.Space, colour.Current.Names),
                working
            )
        );
    }
}
