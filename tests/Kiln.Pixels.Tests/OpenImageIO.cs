using System.Diagnostics;
using System.Globalization;

namespace Kiln.Pixels.Tests;

/// <summary>The reference: OpenImageIO 2.4 and the OpenEXR 3.1 tools as Debian ships them, run as programs.</summary>
internal static class OpenImageIO
{
    public static string Run(string program, params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true }
        )!;
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, process.StandardError.ReadToEnd() + output);
        return output;
    }

    /// <summary>All samples of the data window, row by row, channels interleaved; alpha is not multiplied in.</summary>
    public static float[] TheirPixels(string file) => TheirPixels([file])[0];

    /// <summary>The same for many files in one run.</summary>
    public static List<float[]> TheirPixels(IReadOnlyList<string> files) =>
        [
            .. Run(
                    "/usr/bin/python3",
                    [
                        "-c",
                        """
                        import sys, OpenImageIO as o
                        c=o.ImageSpec(); c.attribute('oiio:UnassociatedAlpha',1)
                        for f in sys.argv[1:]:
                            b=o.ImageBuf(f,0,0,c); s=b.spec()
                            print(*[v for y in range(s.y,s.y+s.height) for x in range(s.x,s.x+s.width) for v in b.getpixel(x, y)])
                        """,
                        .. files,
                    ]
                )
                .Split('\n', StringSplitOptions.RemoveEmptyEntries)
                .Select(line =>
                    line.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                        .Select(v => float.Parse(v, CultureInfo.InvariantCulture))
                        .ToArray()
                ),
        ];

    /// <summary>
    /// Compares every sample; where the reference has more channels than our picture (BC4 and BC5 opened as RGB, palettes with alpha), the
    /// first ones count.
    /// </summary>
    public static void Same(ImageBuffer ours, float[] theirs, float tolerance)
    {
        var channels = theirs.Length / (ours.Width * ours.Height);
        Assert.True(
            channels >= ours.ChannelCount && theirs.Length == channels * ours.Width * ours.Height,
            $"the reference has {theirs.Length} samples for {ours.Width} x {ours.Height} x {ours.ChannelCount}"
        );
        for (var y = 0; y < ours.Height; y++)
        for (var x = 0; x < ours.Width; x++)
        for (var c = 0; c < ours.ChannelCount; c++)
        {
            var t = theirs[(y * ours.Width + x) * channels + c];
            Assert.True(
                MathF.Abs(ours[x, y, c] - t) <= tolerance * MathF.Max(1, MathF.Abs(t)),
                $"{x},{y},{c}: {ours[x, y, c]} against {t}"
            );
        }
    }
}
