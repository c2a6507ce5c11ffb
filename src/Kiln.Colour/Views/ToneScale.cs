namespace Kiln.Colour.Views;

/// <summary>The two segmented quadratic B-splines of ACES 1 (ACESlib.Tonescales), in log10 of scene and display light.</summary>
internal static class ToneScale
{
    private static readonly Spline RrtSpline = new(
        [-4.0, -4.0, -3.1573765773, -0.4852499958, 1.8477324706, 1.8477324706],
        [-0.7185482425, 2.0810307172, 3.6681241237, 4.0, 4.0, 4.0],
        (0.18 * Math.Pow(2, -15), 0.0001),
        (0.18, 4.8),
        (0.18 * Math.Pow(2, 18), 10000),
        0,
        4
    );

    private static readonly Spline OdtSpline = new(
        [-1.6989700043, -1.6989700043, -1.4779, -1.2291, -0.8648, -0.4480, 0.0051800, 0.4511080334, 0.9113744414, 0.9113744414],
        [0.5154386965, 0.8470437783, 1.1358, 1.3802, 1.5197, 1.5985, 1.6467, 1.6746091357, 1.6878733390, 1.6878733390],
        (RrtSpline.At(0.18 * Math.Pow(2, -6.5)), 0.02),
        (RrtSpline.At(0.18), 4.8),
        (RrtSpline.At(0.18 * Math.Pow(2, 6.5)), 48),
        0.04,
        8
    );

    public static float Rrt(float aces) => (float)RrtSpline.At(aces);

    public static float Odt48(float oces) => (float)OdtSpline.At(oces);

    private sealed class Spline(
        double[] low,
        double[] high,
        (double X, double Y) least,
        (double X, double Y) mid,
        (double X, double Y) most,
        double slopeHigh,
        int knots
    )
    {
        /// <summary>The smallest normal half, which stands in for what is darker or negative.</summary>
        private const double LeastHalf = 1.0 / 16384;

        private readonly double logLeast = Math.Log10(least.X),
            logMid = Math.Log10(mid.X),
            logMost = Math.Log10(most.X);

        public double At(double x)
        {
            var logX = Math.Log10(Math.Max(x, LeastHalf));
            double logY;
            if (logX <= logLeast)
                logY = Math.Log10(least.Y);
            else if (logX < logMid)
                logY = Segment(low, (knots - 1) * (logX - logLeast) / (logMid - logLeast));
            else if (logX < logMost)
                logY = Segment(high, (knots - 1) * (logX - logMid) / (logMost - logMid));
            else
                logY = logX * slopeHigh + (Math.Log10(most.Y) - slopeHigh * logMost);
            return Math.Pow(10, logY);
        }

        private static double Segment(double[] c, double at)
        {
            var j = (int)at;
            var t = at - j;
            return t * t * (0.5 * c[j] - c[j + 1] + 0.5 * c[j + 2]) + t * (c[j + 1] - c[j]) + 0.5 * (c[j] + c[j + 1]);
        }
    }
}
