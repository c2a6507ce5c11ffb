using System.Diagnostics;
using System.Globalization;

namespace Kiln.Pixels.Tests;

/// <summary>Quantiles of pictures against NumPy (Debian's python3-numpy), run live.</summary>
public class QuantileTests
{
    private static ImageBuffer Random(int width, int height, int channels)
    {
        var picture = new ImageBuffer(width, height, channels == 1 ? ImageBuffer.Grey : ImageBuffer.Rgb, SampleType.F32);
        var random = new Random(width * 31 + height);
        var row = new float[width * channels];
        for (var y = 0; y < height; y++)
        {
            for (var i = 0; i < row.Length; i++)
                row[i] = MathF.Round((float)random.NextDouble() * 40) / 40 - 0.2f;
            picture.WriteRow(y, row);
        }
        return picture;
    }

    [Theory]
    [InlineData(13, 7, 1, 17)]
    [InlineData(64, 33, 3, 9)]
    [InlineData(1, 1, 1, 5)]
    [InlineData(2, 1, 1, 4)]
    public void TheyAreThoseOfNumPy(int width, int height, int channels, int count)
    {
        var picture = Random(width, height, channels);
        var rows = Enumerable
            .Range(0, height)
            .Select(y =>
            {
                var row = new float[width * channels];
                picture.ReadRow(y, row);
                return string.Join(' ', row.Select(v => v.ToString("R", CultureInfo.InvariantCulture)));
            });
        var script =
            "import sys, numpy as n; "
            + $"v = n.array([float(x) for x in sys.stdin.read().split()]).reshape(-1, {channels}); "
            + $"q = n.quantile(v, n.linspace(0, 1, {count}), axis=0); print(' '.join(repr(float(x)) for x in q.T.flatten()))";
        var start = new ProcessStartInfo("/usr/bin/python3", ["-c", script])
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
        };
        using var python = Process.Start(start)!;
        python.StandardInput.Write(string.Join('\n', rows));
        python.StandardInput.Close();
        var theirs = python.StandardOutput.ReadToEnd().Split(' ').Select(v => double.Parse(v, CultureInfo.InvariantCulture)).ToArray();
        python.WaitForExit();
        var ours = Quantiles.Of(picture, count).SelectMany(q => q).ToArray();
        Assert.Equal(theirs.Length, ours.Length);
        Assert.All(theirs.Zip(ours), p => Assert.Equal(p.First, p.Second, 1e-6));
    }
}
