using Kiln.Intake.Content;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Analysis.Findings;

/// <summary>What was measured of a map, by content: kept, so that findings cost nothing on every edit.</summary>
/// <param name="Direction">Of normal maps.</param>
/// <param name="Content">What its pixels say of its kind, and what only the full size tells.</param>
/// <param name="Levels">Shares of 256 levels of stored brightness, 0..1 clamped; for three channels the greatest of them.</param>
/// <param name="DistinctLevels">How many of the 256 levels an 8-bit copy uses between its darkest and brightest.</param>
public sealed record MapMeasurement(
    DirectionMeasurement? Direction,
    ContentEvidence? Content = null,
    float[]? Levels = null,
    float Darkest = 0,
    float Brightest = 1
)
{
    private const int ThumbSide = 48;

    /// <summary>The first channel at 48 × 48, for comparing maps of one surface with each other; null where nothing was measured.</summary>
    public float[]? Thumb { get; init; }

    /// <summary>Slopes across and down at the same 48 × 48 places, of normal maps and heights; null of other maps.</summary>
    public (float[] Across, float[] Down)? Slopes { get; init; }

    /// <summary>
    /// Steady change of brightness from the left edge to the right and from the top to the bottom, over the mean; 0 where it is not steady.
    /// </summary>
    public (float Across, float Down) Fall { get; init; }

    private const int Count = 256;

    /// <summary>A map that could not be read: nothing is known, and nothing is claimed.</summary>
    public static readonly MapMeasurement Unknown = new(null as DirectionMeasurement);

    /// <param name="copy">A copy of at most a few hundred pixels on a side.</param>
    /// <param name="probe">What was seen at full size.</param>
    public static MapMeasurement Of(ImageBuffer copy, PictureProbe probe, MapRole role)
    {
        var small = Resample.ToFit(copy, 256, copy.Type);
        var levels = new float[Count];
        int n = small.ChannelCount,
            colours = small.Channels.IndexOf("A") >= 0 ? n - 1 : n;
        float least = float.MaxValue,
            most = float.MinValue;
        var row = new float[small.Width * n];
        for (var y = 0; y < small.Height; y++)
        {
            small.ReadRow(y, row);
            for (var i = 0; i < row.Length; i += n)
            {
                var v = row[i];
                for (var c = 1; c < Math.Min(3, colours); c++)
                    v = MathF.Max(v, row[i + c]);
                (least, most) = (MathF.Min(least, v), MathF.Max(most, v));
                levels[(int)(Math.Clamp(v, 0, 1) * (Count - 1) + 0.5f)]++;
            }
        }
        for (var i = 0; i < Count; i++)
            levels[i] /= (float)small.Width * small.Height;
        return new(role == MapRole.Normal ? NormalDirection.Measure(copy) : null, ContentEvidence.Of(small, probe), levels, least, most)
        {
            Thumb = Shrunk(small, 0),
            Slopes = role switch
            {
                MapRole.Normal when colours >= 2 => (Shrunk(small, 0), Shrunk(small, 1)),
                MapRole.Height or MapRole.Bump => (Differences(small, 1, 0), Differences(small, 0, 1)),
                _ => null,
            },
            Fall = (LightFalloff.Across(small), LightFalloff.Down(small)),
        };
    }

    /// <summary>
    /// How far brightness follows a light from one side: the multiple correlation of this map with the slopes of another, 0..1; null where
    /// one is not known or does not vary.
    /// </summary>
    public (float Strength, float Across, float Down)? LightFrom(MapMeasurement relief)
    {
        if (Thumb is not { } b || relief.Slopes is not var (x, y))
            return null;
        double mb = b.Average(),
            mx = x.Average(),
            my = y.Average(),
            bb = 0,
            xx = 0,
            yy = 0,
            xy = 0,
            bx = 0,
            by = 0;
        for (var i = 0; i < b.Length; i++)
        {
            double db = b[i] - mb,
                dx = x[i] - mx,
                dy = y[i] - my;
            (bb, xx, yy, xy, bx, by) = (bb + db * db, xx + dx * dx, yy + dy * dy, xy + dx * dy, bx + db * dx, by + db * dy);
        }
        var determinant = xx * yy - xy * xy;
        if (bb < 1e-6 * b.Length || determinant < 1e-12 * b.Length * b.Length)
            return null;
        double p = (bx * yy - by * xy) / determinant,
            q = (by * xx - bx * xy) / determinant;
        return ((float)Math.Sqrt(Math.Clamp((p * bx + q * by) / bb, 0, 1)), (float)p, (float)q);
    }

    /// <summary>Correlation (Pearson) of two maps of one surface, −1..1; null where one is not known or does not vary.</summary>
    public float? Correlation(MapMeasurement other)
    {
        if (Thumb is not { } a || other.Thumb is not { } b)
            return null;
        double ma = a.Average(),
            mb = b.Average(),
            ab = 0,
            aa = 0,
            bb = 0;
        for (var i = 0; i < a.Length; i++)
            (ab, aa, bb) = (ab + (a[i] - ma) * (b[i] - mb), aa + (a[i] - ma) * (a[i] - ma), bb + (b[i] - mb) * (b[i] - mb));
        return aa < 1e-6 * a.Length || bb < 1e-6 * a.Length ? null : (float)(ab / Math.Sqrt(aa * bb));
    }

    private static float[] Shrunk(ImageBuffer picture, int channel) => AtPlaces(picture, (x, y) => picture[x, y, channel]);

    private static float[] Differences(ImageBuffer picture, int across, int down) =>
        AtPlaces(picture, (x, y) =>
            picture[(x + across) % picture.Width, (y + down) % picture.Height, 0]
            - picture[(x - across + picture.Width) % picture.Width, (y - down + picture.Height) % picture.Height, 0]
        );

    private static float[] AtPlaces(ImageBuffer picture, Func<int, int, float> value)
    {
        var result = new float[ThumbSide * ThumbSide];
        for (var y = 0; y < ThumbSide; y++)
        for (var x = 0; x < ThumbSide; x++)
            result[y * ThumbSide + x] = value(
                (int)((x + 0.5f) / ThumbSide * picture.Width),
                (int)((y + 0.5f) / ThumbSide * picture.Height)
            );
        return result;
    }

    /// <summary>Share of pixels whose level lies in a range of stored values 0..1, ends included.</summary>
    public float Share(float low, float high)
    {
        if (Levels is null)
            return 0;
        var sum = 0f;
        for (var i = (int)MathF.Round(low * (Count - 1)); i <= (int)MathF.Round(high * (Count - 1)); i++)
            sum += Levels[i];
        return sum;
    }

    /// <summary>Mean of the levels, 0..1.</summary>
    public float Mean => Levels is null ? 0.5f : Levels.Select((share, i) => share * i / (Count - 1f)).Sum();
}
