using System.Diagnostics;
using System.Globalization;
using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Tests;

/// <summary>Runs OpenColorIO (Debian's python3-pyopencolorio, 2.1) live: converts lines of numbers by its built-in transforms.</summary>
internal static class OutsideColour
{
    /// <param name="transform">A Python expression of a PyOpenColorIO transform, the module being <c>o</c>.</param>
    public static Vector3[] Convert(string transform, IReadOnlyList<Vector3> colours) =>
        Process($"o.Config.CreateRaw().getProcessor({transform})", colours);

    /// <summary>From one space of a config file to another.</summary>
    public static Vector3[] Convert(string config, string from, string to, IReadOnlyList<Vector3> colours) =>
        Process($"o.Config.CreateFromFile('{config}').getProcessor('{from}', '{to}')", colours);

    /// <summary>From a space of a config file to a display under a view.</summary>
    public static Vector3[] View(string config, string from, string display, string view, IReadOnlyList<Vector3> colours) =>
        Process($"o.Config.CreateFromFile('{config}').getProcessor('{from}', '{display}', '{view}', o.TRANSFORM_DIR_FORWARD)", colours);

    private static Vector3[] Process(string processor, IReadOnlyList<Vector3> colours)
    {
        // Without its shortcuts, which trade exactness for speed.
        var lines = Python(
            $"""
            import sys
            import PyOpenColorIO as o
            p = {processor}.getOptimizedCPUProcessor(o.OPTIMIZATION_LOSSLESS)
            for line in sys.stdin:
                print(*['%.9g' % v for v in p.applyRGB([float(x) for x in line.split()])])
            """,
            colours.Select(c => FormattableString.Invariant($"{c.X:G9} {c.Y:G9} {c.Z:G9}"))
        );
        Assert.Equal(colours.Count, lines.Length);
        return
        [
            .. lines
                .Select(l => l.Split(' ').Select(v => float.Parse(v, CultureInfo.InvariantCulture)).ToArray())
                .Select(v => new Vector3(v[0], v[1], v[2])),
        ];
    }

    /// <summary>What a Python script says, line by line.</summary>
    public static string[] Python(string script, IEnumerable<string>? input = null)
    {
        var start = new ProcessStartInfo("/usr/bin/python3", ["-c", script])
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment.Remove("OCIO");
        using var process = System.Diagnostics.Process.Start(start)!;
        var writing = Task.Run(() =>
        {
            foreach (var line in input ?? [])
                process.StandardInput.WriteLine(line);
            process.StandardInput.Close();
        });
        var said = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, said.Result);
        return output.Split('\n', StringSplitOptions.RemoveEmptyEntries);
    }

    public static string Matrix(Matrix3 m) =>
        FormattableString.Invariant(
            $"o.MatrixTransform([{m.M11:R},{m.M12:R},{m.M13:R},0,{m.M21:R},{m.M22:R},{m.M23:R},0,{m.M31:R},{m.M32:R},{m.M33:R},0,0,0,0,1])"
        );
}
