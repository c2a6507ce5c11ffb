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

    /// <param name="u">From the left, 0..1.</param>
    /// <param name="v">From the top, 0..1.</param>
    /// <param name="patch">Side of the patch to average, in pixels.</param>
    private static async Task<IResult> ReadAsync(
        string hash,
        string kind,
        string space,
        string channel,
        float u,
        float v,
        ReadoutPictures pictures,
        ConfigRegistry colour,
        string? normalY = null,
        int patch = 1,
        string view = "plain",
        string working = "acescg"
    )
    {
        var reading = new Reading(
            Enum.Parse<ReadingKind>(kind, true),
            ColourSpace.Find(space).Id,
            channel,
            normalY is null ? null : Enum.Parse<NormalY>(normalY, true)
        );
        var workingSpace = WorkingSpace.Find(working);
        var picture = await pictures.GetAsync(hash);
        return Results.Ok(
            PixelReadout.Of(
                picture,
                reading,
                (int)(Math.Clamp(u, 0, 1) * picture.Width),
                (int)(Math.Clamp(v, 0, 1) * picture.Height),
                patch,
                View.Named(view, workingSpace.Space, colour.Current.Names),
                workingSpace
            )
        );
    }
}
