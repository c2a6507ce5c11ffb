using Kiln.Looks.Intake;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Judge.Findings;

/// <summary>What was measured of a map, by content: kept, so that findings cost nothing on every edit.</summary>
/// <param name="Direction">Of normal maps.</param>
/// <param name="Content">What its pixels say of its kind, and what only the full size tells.</param>
/// <param name="Levels">Shares of 256 levels of stored brightness, 0..1 clamped; for three channels the greatest of them.</param>
/// <param name="DistinctLevels">How many of the 256 levels an 8-bit copy uses between its darkest and brightest.</param>
public sealed record MapMeasurement(DirectionMeasurement? Direction, ContentEvidence? Content = null, float[]? Levels = null, float Darkest = 0, float Brightest = 1)
{
    private const int ThumbSide = 48;

    /// <summary>The first channel at 48 × 48, for comparing maps of one surface with each other; null where nothing was measured.</summary>
    public float[]? Thumb { get; init; }

    private const int Count = 256;

    /// <summary>A map that could not be read: nothing is known, and nothing is claimed.</summary>
    public static readonly MapMeasurement Unknown = new(null as DirectionMeasurement);

    /// <param name="copy">A copy of at most a few hundred pixels on a side.</param>
    /// <param name="probe">What was seen at full size.</param>
    public static MapMeasurement Of(ImageBuffer copy, PictureProbe probe, MapRole role)
    {
        var small = Resample.ToFit(copy, 256, copy.Type);
        var levels = new float[Count];
        int n = small.ChannelCount, colours = small.Channels.IndexOf("A") >= 0 ? n - 1 : n;
        float least = float.MaxValue, most = float.MinValue;
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
        return new(role == MapRole.Normal ? NormalDirection.Measure(copy) : null, ContentEvidence.Of(small, probe), levels, least, most) { Thumb = Shrunk(small) };
    }

    /// <summary>Correlation (Pearson) of two maps of one surface, −1..1; null where one is not known or does not vary.</summary>
    public float? Correlation(MapMeasurement other)
    {
        if (Thumb is not { } a || other.Thumb is not { } b)
            return null;
        double ma = a.Average(), mb = b.Average(), ab = 0, aa = 0, bb = 0;
        for (var i = 0; i < a.Length; i++)
            (ab, aa, bb) = (ab + (a[i] - ma) * (b[i] - mb), aa + (a[i] - ma) * (a[i] - ma), bb + (b[i] - mb) * (b[i] - mb));
        return aa < 1e-6 * a.Length || bb < 1e-6 * a.Length ? null : (float)(ab / Math.Sqrt(aa * bb));
    }

    private static float[] Shrunk(ImageBuffer picture)
    {
        var result = new float[ThumbSide * ThumbSide];
        for (var y = 0; y < ThumbSide; y++)
            for (var x = 0; x < ThumbSide; x++)
                result[y * ThumbSide + x] = picture[(int)((x + 0.5f) / ThumbSide * picture.Width), (int)((y + 0.5f) / ThumbSide * picture.Height), 0];
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
