using Kiln.Analysis.Findings;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Intake.Content;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Writing;
using Kiln.Store.Contents;

namespace Kiln.Server.Proofs.Thumbnails;

/// <summary>
/// Stored maps through a reading, small; and as the evidence of a finding: marked, with its edges in the middle, or a piece of it at full
/// size.
/// </summary>
public static class MapThumbnails
{
    public static void Map(RouteGroupBuilder api) => api.MapGet("/contents/{hash}/thumbnail", ThumbnailAsync).WithName("mapThumbnail");

    private static async Task<IResult> ThumbnailAsync(
        [AsParameters] ReadingQuery reading,
        [AsParameters] ThumbnailQuery query,
        MapPictures pictures,
        HttpContext http
    )
    {
        var bytes = await pictures.OfAsync(reading, query, http.RequestAborted);
        http.Response.Headers.CacheControl = "private, max-age=604800, immutable";
        return Results.Bytes(bytes, PictureFormat.Png.MediaType());
    }
}

/// <summary>The pictures, made once each.</summary>
public sealed class MapPictures(ContentStore store, IPictureDecoder decoder, ThumbnailCache thumbnails)
{
    private const int LargestCrop = 512;

    public Task<byte[]> OfAsync(ReadingQuery query, ThumbnailQuery how, CancellationToken cancel)
    {
        var hash = how.Hash;
        var side = Math.Clamp(how.Size ?? 176, 16, 1024);
        var marks = how.Mark is null ? null : PictureMarks.Parse(how.Mark);
        var key =
            $"map-as-number/{hash}/{query.Kind}/{query.Space}/{query.Channel}/{query.NormalY}/{side}/{how.Lit}"
            + (how.Mark is null && how.Halved != true && how.Crop is null ? "" : $"/{how.Mark}/{how.Halved}/{how.Crop}");
        return thumbnails.GetAsync(key, async () =>
        {
            var picture = await decoder.DecodeAsync(store.PathOf(hash), how.Crop is null ? side : null, cancel);
            if (how.Crop is { } pixels)
                picture = Middle(picture, Math.Clamp(pixels, 8, LargestCrop));
            if (how.Halved == true)
                picture = Moved(picture, picture.Width / 2, picture.Height / 2, picture.Width, picture.Height);
            var reading = query.Reading();
            var taken =
                how.Lit == true && reading.Kind == ReadingKind.Direction
                    ? NormalDirection.Lit(picture, reading.NormalY ?? NormalY.Up)
                    : Taken(picture, reading);
            // A measurement is shown as the number it becomes: read as sRGB by mistake it must look wrong.
            var shown = reading.Kind == ReadingKind.Colour ? View.Named("plain", ColourSpace.AcesCg).Apply(taken) : taken.As(SampleType.U8);
            return PictureWriter.Png(marks is null ? shown : Marked(shown, picture, marks), 3);
        });
    }

    private static ImageBuffer Middle(ImageBuffer picture, int side)
    {
        int width = Math.Min(side, picture.Width),
            height = Math.Min(side, picture.Height);
        return Moved(picture, (picture.Width - width) / 2, (picture.Height - height) / 2, width, height);
    }

    /// <summary>A piece that begins at a place and goes on from the other side where the picture ends.</summary>
    private static ImageBuffer Moved(ImageBuffer picture, int left, int top, int width, int height)
    {
        var n = picture.ChannelCount;
        var result = new ImageBuffer(width, height, picture.Channels, picture.Type);
        var row = new float[picture.Width * n];
        var target = new float[width * n];
        for (var y = 0; y < height; y++)
        {
            picture.ReadRow((y + top) % picture.Height, row);
            for (var i = 0; i < target.Length; i++)
                target[i] = row[(i + left * n) % row.Length];
            result.WriteRow(y, target);
        }
        return result;
    }

    private static ImageBuffer Marked(ImageBuffer shown, ImageBuffer stored, PictureMarks marks)
    {
        var result = new ImageBuffer(shown.Width, shown.Height, ImageBuffer.Rgb, SampleType.U8);
        int n = stored.ChannelCount,
            colours = stored.Channels.IndexOf("A") >= 0 ? n - 1 : n,
            m = shown.ChannelCount;
        var pixels = new float[stored.Width * n];
        var row = new float[shown.Width * m];
        var target = new float[shown.Width * 3];
        var beyond = new ClippingMarks.Beyond[shown.Width];
        for (var y = 0; y < shown.Height; y++)
        {
            stored.ReadRow(y, pixels);
            shown.ReadRow(y, row);
            for (var x = 0; x < beyond.Length; x++)
            {
                for (var c = 0; c < 3; c++)
                    target[3 * x + c] = row[x * m + Math.Min(c, m - 1)];
                var (marked, bright) = marks.Of(pixels.AsSpan(x * n, colours));
                beyond[x] =
                    !marked ? ClippingMarks.Beyond.Nothing
                    : bright ? ClippingMarks.Beyond.Above
                    : ClippingMarks.Beyond.Below;
            }
            ClippingMarks.Draw(target, beyond, y);
            result.WriteRow(y, target);
        }
        return result;
    }

    private static ImageBuffer Taken(ImageBuffer picture, Reading reading)
    {
        var result = new ImageBuffer(picture.Width, picture.Height, ImageBuffer.Rgb, SampleType.F32);
        var take = ChannelTaker.For(picture, reading, WorkingSpace.AcesCg);
        var row = new float[picture.Width * picture.ChannelCount];
        var part = new float[picture.Width * reading.Components];
        var target = new float[picture.Width * 3];
        for (var y = 0; y < picture.Height; y++)
        {
            picture.ReadRow(y, row);
            take.Row(row, part);
            for (var i = 0; i < target.Length; i++)
            {
                target[i] = reading.Components == 3 ? part[i] : part[i / 3];
                // The other green direction is shown as the map that would have been meant.
                if (reading is { Kind: ReadingKind.Direction, NormalY: NormalY.Down } && i % 3 == 1)
                    target[i] = 1 - target[i];
            }
            result.WriteRow(y, target);
        }
        return result;
    }
}
