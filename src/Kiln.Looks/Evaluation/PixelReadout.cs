using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Looks.Evaluation;

/// <summary>
/// One pixel, or the average over a patch, through the whole chain: as stored, decoded, in the working space, as displayed.
/// </summary>
/// <param name="X">Of the middle, from the left.</param>
/// <param name="Y">From the top.</param>
/// <param name="Pixels">How many were averaged; the patch ends at the picture's edges.</param>
/// <param name="Stored">Each channel as stored, 0..1 for integers.</param>
/// <param name="Codes">The same as integer codes; null for float files.</param>
/// <param name="Decoded">Linear values in the reading's own primaries; a measurement as it is; a direction as a unit vector with Y
/// up.</param>
/// <param name="Working">In the working space; null for what is no colour.</param>
/// <param name="Displayed">Code values of an sRGB display under the view, 0..1.</param>
/// <param name="Hex">The same as #rrggbb.</param>
public sealed record PixelReadout(
    int X,
    int Y,
    int Pixels,
    IReadOnlyList<string> Channels,
    IReadOnlyList<float> Stored,
    IReadOnlyList<int>? Codes,
    IReadOnlyList<float> Decoded,
    IReadOnlyList<float>? Working,
    IReadOnlyList<float> Displayed,
    string Hex
)
{
    public const int WidestPatch = 512;

    /// <param name="patch">Side of the square around the pixel, 1 for the pixel alone.</param>
    /// <exception cref="PictureException">The reading names a channel that the picture does not have.</exception>
    public static PixelReadout Of(ImageBuffer picture, Reading reading, int x, int y, int patch, View view, WorkingSpace workingSpace)
    {
        (x, y) = (Math.Clamp(x, 0, picture.Width - 1), Math.Clamp(y, 0, picture.Height - 1));
        var half = Math.Clamp(patch, 1, WidestPatch) / 2;
        int left = Math.Max(0, x - half),
            right = Math.Min(picture.Width - 1, x + half),
            top = Math.Max(0, y - half),
            bottom = Math.Min(picture.Height - 1, y + half);
        var stored = new double[picture.ChannelCount];
        var decoded = Vector3.Zero;
        var count = (right - left + 1) * (bottom - top + 1);
        for (var py = top; py <= bottom; py++)
        for (var px = left; px <= right; px++)
        {
            for (var c = 0; c < stored.Length; c++)
                stored[c] += picture[px, py, c];
            // Light is averaged, not codes.
            decoded += Decode(picture, reading, px, py);
        }
        decoded /= count;
        if (reading.Kind == ReadingKind.Direction && decoded.LengthSquared() > 0)
            decoded = Vector3.Normalize(decoded);
        for (var c = 0; c < stored.Length; c++)
            stored[c] /= count;
        var space = ColourSpace.Find(reading.Space);
        Vector3? working =
            reading.Kind != ReadingKind.Colour ? null
            : space.IsRaw ? decoded
            : ColourTransform.Between(space.Linear, workingSpace.Space).Apply(decoded);
        // What is no colour is shown as grey, or as the picture itself, without a view.
        var shown =
            working is { } w ? view.Apply(w)
            : reading.Kind == ReadingKind.Direction ? decoded * 0.5f + new Vector3(0.5f)
            : Vector3.Clamp(decoded, Vector3.Zero, Vector3.One);
        int Code(float v) => (int)MathF.Round(Math.Clamp(v, 0, 1) * 255);
        var scale = picture.Type switch
        {
            SampleType.U8 => 255,
            SampleType.U16 => 65535,
            _ => 0,
        };
        return new(
            x,
            y,
            count,
            picture.Channels,
            [.. stored.Select(v => (float)v)],
            scale == 0 ? null : [.. stored.Select(v => (int)Math.Round(v * scale))],
            reading.Kind == ReadingKind.Scalar ? [decoded.X] : Three(decoded),
            working is { } inWorking ? Three(inWorking) : null,
            Three(shown),
            $"#{Code(shown.X):x2}{Code(shown.Y):x2}{Code(shown.Z):x2}"
        );
    }

    private static float[] Three(Vector3 v) => [v.X, v.Y, v.Z];

    private static Vector3 Decode(ImageBuffer picture, Reading reading, int x, int y)
    {
        var n = picture.ChannelCount;
        var curve = ColourSpace.Find(reading.Space).Encoding;
        if (reading.Kind == ReadingKind.Scalar)
        {
            var channel = reading.Channel == MapChannel.A ? n - 1 : reading.Channel.Place() ?? 0;
            return channel < n
                ? new(curve.Decode(picture[x, y, channel]))
                : throw new PictureException($"The picture has no channel '{reading.Channel.Word()}'.");
        }
        var stored =
            n >= 3 ? new Vector3(picture[x, y, 0], picture[x, y, 1], picture[x, y, 2])
            : n == 2 && reading.Kind == ReadingKind.Direction ? new(picture[x, y, 0], picture[x, y, 1], 0)
            : new(picture[x, y, 0]);
        if (reading.Kind == ReadingKind.Colour)
            return new(curve.Decode(stored.X), curve.Decode(stored.Y), curve.Decode(stored.Z));
        var v = stored * 2 - Vector3.One;
        if (n < 3 || reading.Channel == MapChannel.Rg)
            v.Z = MathF.Sqrt(MathF.Max(0, 1 - v.X * v.X - v.Y * v.Y));
        return reading.NormalY == NormalY.Down ? v with { Y = -v.Y } : v;
    }
}
