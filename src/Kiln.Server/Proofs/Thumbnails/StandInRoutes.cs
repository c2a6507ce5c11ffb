using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Inputs;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Server.Platform;

namespace Kiln.Server.Proofs.Thumbnails;

/// <summary>
/// What stands in a look's place until its picture is rendered: its base colour map, or its colour. Nothing is rendered for it.
/// </summary>
public sealed class StandIns(LookViews views, MapPictures maps)
{
    /// <summary>Side in pixels.</summary>
    public const int Side = 96;

    public async Task<(byte[] Picture, string MediaType)> OfAsync(LookId id, CancellationToken cancel)
    {
        var viewed = await views.OfAsync(id);
        if (BaseColour(viewed.Look) is { Reading: var reading } origin && viewed.Look.Slots.TryGetValue(origin.Slot, out var slot))
        {
            var query = new ReadingQuery(reading.Kind.ToString(), reading.Space, reading.Channel.Word(), null);
            return (await maps.OfAsync(query, new(slot.File.Content, Side, null, null, null, null), cancel), PictureFormat.Png.MediaType());
        }
        var colour = viewed.Look.Lanes.GetValueOrDefault("base_color")?.Value ?? NeutralInputs.Find("base_color").DefaultValue;
        var linear = colour is TintValue tint ? tint.Colour.In(viewed.Working.Space) : new System.Numerics.Vector3(0.5f);
        var shown = View.Named("plain", viewed.Working.Space).Apply(linear);
        var picture = new ImageBuffer(8, 8, ImageBuffer.Rgb, SampleType.U8);
        for (var i = 0; i < picture.Data.Length; i++)
            picture.Data[i] = (byte)MathF.Round(shown[i % 3] * 255);
        return (PictureFormat.Png.Bytes(picture, new(Compression: 1)), PictureFormat.Png.MediaType());
    }

    /// <summary>The map by which the base colour begins; null where it begins with none.</summary>
    private static SlotOrigin? BaseColour(Look look)
    {
        var origin = look.Lanes.GetValueOrDefault("base_color")?.Chain?.Origin;
        if (origin is SourceOrigin source)
            origin = look.Sources.GetValueOrDefault(source.Source)?.Chain?.Origin;
        return origin as SlotOrigin;
    }
}

public static class StandInRoutes
{
    public static void Map(RouteGroupBuilder api) =>
        api.MapGet("/looks/{id:guid}/stand-in", async (LookId id, StandIns standIns, HttpContext http) =>
            {
                var (picture, type) = await standIns.OfAsync(id, http.RequestAborted);
                http.Response.Headers.CacheControl = "private, max-age=60";
                return Results.Bytes(picture, type);
            })
            .WithName("lookStandIn");
}
