using System.Runtime.CompilerServices;
using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Intake.Content;

/// <summary>What a picture's pixels say to the question: the surface's own colour, or a measurement?</summary>
public enum ContentKind
{
    Undecided,
    Colour,
    Data,
}

/// <summary>What a small copy of a picture tells about its kind. All numbers are over the copy's pixels, stored values 0..1.</summary>
/// <param name="Chroma">Mean difference between the largest and the smallest of r, g, b.</param>
/// <param name="NormalLikeness">Share of pixels whose 2t − 1 is a unit vector (within 0.12) leaning outwards.</param>
/// <param name="AlphaSpread">Standard deviation of alpha; 0 where there is none.</param>
/// <param name="ChannelLinks">Least absolute correlation between two varying channels of r, g, b, of values or of local detail, whichever
/// is more; 1 for grey.</param>
public sealed record ContentEvidence(
    float[] Mean,
    float[] Deviation,
    float Chroma,
    bool IsConstant,
    float NormalLikeness,
    float AlphaSpread,
    float ChannelLinks
)
{
    private const float Dark = 0.06f,
        Bright = 0.94f;

    public bool IsGrey => Chroma < 0.012f;

    /// <summary>Nearly grey pictures stay undecided: a grey base colour cannot be told from data.</summary>
    public ContentKind Kind =>
        IsNormal || IsObjectSpaceNormal || LooksPacked || IsGreyFile || Chroma < 0.0015f ? ContentKind.Data
        : Chroma > 0.012f && ChannelLinks > 0.5f && !HasLoneExtreme ? ContentKind.Colour
        : ContentKind.Undecided;

    /// <summary>A file with one channel only, alpha aside.</summary>
    public bool IsGreyFile { get; init; }

    public bool IsNormal =>
        IsTwoChannelNormal
        || NormalLikeness > 0.85f
            && Mean.Length >= 3
            && Mean[2] > 0.7f
            && MathF.Abs(Mean[0] - 0.5f) < 0.2f
            && MathF.Abs(Mean[1] - 0.5f) < 0.2f;

    /// <summary>Half of a normal map's signs: it may be one that was compressed or filtered, and is no base colour unasked.</summary>
    public bool MayBeNormal =>
        IsNormal
        || NormalLikeness > 0.4f
            && Mean.Length >= 3
            && Mean[2] > 0.65f
            && MathF.Abs(Mean[0] - 0.5f) < 0.12f
            && MathF.Abs(Mean[1] - 0.5f) < 0.12f;

    /// <summary>Two channels whose vectors stay within the unit disc around the middle: a normal map without its blue.</summary>
    public bool IsTwoChannelNormal { get; init; }

    /// <summary>All directions present and unit length, but the mean far from straight out: an object-space normal map.</summary>
    public bool IsObjectSpaceNormal => !IsNormal && UnitShare > 0.85f && NormalLikeness < 0.85f && Octants >= 5;

    /// <summary>Of the eight octants of directions, how many hold at least a fiftieth of the pixels.</summary>
    public int Octants { get; init; }

    public float UnitShare { get; init; }

    /// <summary>Three channels that have little to do with each other.</summary>
    public bool LooksPacked =>
        !IsGrey
        && !IsNormal
        && !IsObjectSpaceNormal
        && Chroma > 0.1f
        && (ChannelLinks < 0.35f || ExtremeChannels > 0 && ChannelLinks < 0.9f);

    /// <summary>Colour channels that are one even black or white value while another varies.</summary>
    public int ExtremeChannels { get; init; }

    /// <summary>
    /// A channel mostly at the ends of its range beside one that is not, as in packed data with occlusion or metalness; few colours are so
    /// pure.
    /// </summary>
    public bool HasLoneExtreme
    {
        get
        {
            if (DarkShare.Length < 3)
                return false;
            bool bright = BrightShare.Any(s => s > 0.45f),
                dark = DarkShare.Any(s => s > 0.45f),
                between = Enumerable.Range(0, 3).Any(c => BrightShare[c] + DarkShare[c] < 0.35f);
            return bright && (dark || between) || Enumerable.Range(0, 3).Any(IsTwoValued) && between;
        }
    }

    /// <summary>Shares of r, g, b (or grey) that lie in the darkest and the brightest sixteenth.</summary>
    public float[] DarkShare { get; init; } = [];

    public float[] BrightShare { get; init; } = [];

    /// <summary>
    /// Each of 64 bits says whether a cell of the brightness picture, 9 x 8, is brighter than its right neighbour; near-duplicates differ
    /// in few.
    /// </summary>
    public ulong Likeness { get; init; }

    public PictureProbe Probe { get; init; } = new();

    /// <summary>The wide space that a float picture is in by its pixels; null where they do not tell.</summary>
    public SpaceId? ConvertedTo { get; init; }

    /// <summary>Whether a channel is nearly all black or white, as a mask is.</summary>
    public bool IsTwoValued(int channel) =>
        DarkShare[channel] + BrightShare[channel] > 0.85f && DarkShare[channel] > 0.01f && BrightShare[channel] > 0.01f;

    public static ContentEvidence Of(ImageBuffer copy, PictureProbe? probe = null)
    {
        var stats = ImageStatistics.Measure(copy);
        var alpha = copy.Channels.IndexOf("A");
        int n = copy.ChannelCount,
            colours = alpha >= 0 ? n - 1 : n;
        var (chroma, units, normals, octants) = colours >= 3 ? Directions(copy) : (0, 0, 0, 0);
        var measured = Math.Min(3, colours);
        var (dark, bright) = Ends(copy, measured);
        // Lengths at full size, where they are known, since an average of steep directions is shorter than one; of the copy where that says
        // more, since it has less of JPEG's noise.
        (units, normals) = (MathF.Max(probe?.UnitShare ?? 0, units), MathF.Max(probe?.OutwardShare ?? 0, normals));
        return new(
            [.. stats.Select(s => s.Mean)],
            [.. stats.Select(s => s.Deviation)],
            chroma,
            stats.Where((_, c) => c != alpha).All(s => s.Maximum - s.Minimum < 1.5f / 255),
            normals,
            alpha >= 0 ? stats[alpha].Deviation : 0,
            colours >= 3 ? Links(copy, stats) : 1
        )
        {
            UnitShare = units,
            Octants = octants,
            IsGreyFile = colours == 1,
            IsTwoChannelNormal =
                colours == 2
                && alpha < 0
                && InDisc(copy) > 0.99f
                && MathF.Abs(stats[0].Mean - 0.5f) < 0.12f
                && MathF.Abs(stats[1].Mean - 0.5f) < 0.12f
                && stats[0].Deviation + stats[1].Deviation > 0.01f,
            ExtremeChannels =
                colours >= 3 && stats.Take(3).Any(s => s.Deviation > 0.02f)
                    ? stats.Take(3).Count(s => s.Deviation < 0.004f && s.Mean is < 0.02f or > 0.98f)
                    : 0,
            DarkShare = dark,
            BrightShare = bright,
            Likeness = Hash(copy),
            Probe = probe ?? new(),
            ConvertedTo = ConvertedEvidence.Of(copy),
        };
    }

    /// <summary>Every second row tells as much about shares and links as all of them.</summary>
    private const int RowStep = 2;

    private static float Sampled(ImageBuffer copy) => (float)copy.Width * ((copy.Height + RowStep - 1) / RowStep);

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static (float Chroma, float Units, float Normals, int Octants) Directions(ImageBuffer copy)
    {
        double chroma = 0;
        int units = 0,
            normals = 0,
            n = copy.ChannelCount;
        var octants = new int[8];
        var row = new float[copy.Width * n];
        for (var y = 0; y < copy.Height; y += RowStep)
        {
            copy.ReadRow(y, row);
            for (var i = 0; i < row.Length; i += n)
            {
                float r = row[i],
                    g = row[i + 1],
                    b = row[i + 2];
                chroma += MathF.Max(r, MathF.Max(g, b)) - MathF.Min(r, MathF.Min(g, b));
                float x = 2 * r - 1,
                    yy = 2 * g - 1,
                    z = 2 * b - 1;
                if (MathF.Abs(x * x + yy * yy + z * z - 1) >= 0.24f)
                    continue;
                units++;
                normals += z > 0 ? 1 : 0;
                octants[(x > 0 ? 1 : 0) + (yy > 0 ? 2 : 0) + (z > 0 ? 4 : 0)]++;
            }
        }
        var pixels = Sampled(copy);
        return ((float)(chroma / pixels), units / pixels, normals / pixels, octants.Count(o => o > pixels / 50));
    }

    private static float InDisc(ImageBuffer copy)
    {
        var inside = 0;
        for (var y = 0; y < copy.Height; y++)
        for (var x = 0; x < copy.Width; x++)
            inside += MathF.Pow(2 * copy[x, y, 0] - 1, 2) + MathF.Pow(2 * copy[x, y, 1] - 1, 2) <= 1.02f ? 1 : 0;
        return inside / ((float)copy.Width * copy.Height);
    }

    /// <summary>Colour channels share their edges even where their values do not; packed ones share neither, as a rule.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static float Links(ImageBuffer copy, ChannelStatistics[] stats)
    {
        int n = copy.ChannelCount;
        var row = new float[copy.Width * n];
        double[] values = new double[3],
            detail = new double[3],
            energy = new double[3];
        for (var y = 0; y < copy.Height; y += RowStep)
        {
            copy.ReadRow(y, row);
            for (var p = 0; p < 3; p++)
            {
                var q = (p + 1) % 3;
                float meanP = stats[p].Mean,
                    meanQ = stats[q].Mean,
                    value = 0,
                    edge = 0,
                    own = 0;
                for (var i = 0; i + n < row.Length; i += n)
                {
                    value += (row[i + p] - meanP) * (row[i + q] - meanQ);
                    float dp = row[i + n + p] - row[i + p],
                        dq = row[i + n + q] - row[i + q];
                    edge += dp * dq;
                    own += dp * dp;
                }
                values[p] += value;
                detail[p] += edge;
                energy[p] += own;
            }
        }
        var pixels = (double)(copy.Width - 1) * ((copy.Height + 1) / 2);
        var least = 1.0;
        for (var p = 0; p < 3; p++)
        {
            var q = (p + 1) % 3;
            if (stats[p].Deviation < 0.01f || stats[q].Deviation < 0.01f)
                continue;
            var value = Math.Abs(values[p] / pixels / (stats[p].Deviation * stats[q].Deviation));
            var edge = Math.Abs(detail[p] / Math.Sqrt(Math.Max(1e-18, energy[p] * energy[q])));
            least = Math.Min(least, Math.Max(value, edge));
        }
        return (float)least;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static (float[] Dark, float[] Bright) Ends(ImageBuffer copy, int channels)
    {
        var dark = new float[channels];
        var bright = new float[channels];
        var row = new float[copy.Width * copy.ChannelCount];
        for (var y = 0; y < copy.Height; y += RowStep)
        {
            copy.ReadRow(y, row);
            for (var c = 0; c < channels; c++)
            {
                int low = 0,
                    high = 0;
                for (var i = c; i < row.Length; i += copy.ChannelCount)
                {
                    low += row[i] < Dark ? 1 : 0;
                    high += row[i] > Bright ? 1 : 0;
                }
                (dark[c], bright[c]) = (dark[c] + low, bright[c] + high);
            }
        }
        var pixels = Sampled(copy);
        return ([.. dark.Select(d => d / pixels)], [.. bright.Select(b => b / pixels)]);
    }

    private static ulong Hash(ImageBuffer copy)
    {
        if (copy.Width < 9 || copy.Height < 8)
            return 0;
        var cells = Resample.Area(copy, 9, 8);
        ulong hash = 0;
        for (var y = 0; y < 8; y++)
        for (var x = 0; x < 8; x++)
            if (Brightness(cells, x, y) > Brightness(cells, x + 1, y))
                hash |= 1ul << (8 * y + x);
        return hash;
    }

    private static float Brightness(ImageBuffer p, int x, int y) =>
        p.ChannelCount >= 3 ? p[x, y, 0] + 2 * p[x, y, 1] + p[x, y, 2] : p[x, y, 0];
}
