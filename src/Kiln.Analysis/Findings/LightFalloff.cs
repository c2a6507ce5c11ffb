using Kiln.Pixels;

namespace Kiln.Analysis.Findings;

/// <summary>
/// A change of brightness from edge to edge that lies on a straight line. Means of 16 strips, least squares; a single wave that repeats
/// explains at most 6/π² = 0.61 of its own variance by a line,
/// so what a line explains to more than 0.7 does not repeat. Two areas with a step between them are explained to 0.75: a light falls in
/// many small steps, so no step may be a large part of the whole.
/// </summary>
internal static class LightFalloff
{
    private const int Strips = 16;
    private const double Straight = 0.7;

    /// <summary>Greatest step between neighbouring strips, as a part of the whole range; on a straight line it is 1/15.</summary>
    private const double GreatestStep = 0.3;

    public static float Across(ImageBuffer picture) => Of(picture, down: false);

    public static float Down(ImageBuffer picture) => Of(picture, down: true);

    private static float Of(ImageBuffer picture, bool down)
    {
        if (Math.Min(picture.Width, picture.Height) < Strips)
            return 0;
        var sums = new double[Strips];
        var counts = new int[Strips];
        var n = picture.ChannelCount;
        var row = new float[picture.Width * n];
        for (var y = 0; y < picture.Height; y++)
        {
            picture.ReadRow(y, row);
            for (var x = 0; x < picture.Width; x++)
            {
                var strip = down ? y * Strips / picture.Height : x * Strips / picture.Width;
                sums[strip] += n >= 3 ? (row[x * n] + row[x * n + 1] + row[x * n + 2]) / 3 : row[x * n];
                counts[strip]++;
            }
        }
        var means = sums.Zip(counts, (sum, count) => sum / count).ToArray();
        double mean = means.Average(),
            middle = (Strips - 1) / 2.0,
            xx = 0,
            xy = 0,
            yy = 0;
        for (var i = 0; i < Strips; i++)
            (xx, xy, yy) = (
                xx + (i - middle) * (i - middle),
                xy + (i - middle) * (means[i] - mean),
                yy + (means[i] - mean) * (means[i] - mean)
            );
        if (mean < 1e-4 || yy < 1e-9 || xy * xy / (xx * yy) < Straight)
            return 0;
        var range = means.Max() - means.Min();
        if (means.Zip(means.Skip(1)).Max(p => Math.Abs(p.Second - p.First)) > GreatestStep * range)
            return 0;
        return (float)(xy / xx * Strips / mean);
    }
}
