using System.Diagnostics;
using System.Globalization;
using System.Numerics;

namespace Kiln.Colour.Tests;

/// <summary>Runs OpenColorIO (Debian's python3-pyopencolorio, 2.1) live: converts lines of numbers by its built-in transforms.</summary>
internal static class OutsideColour
{
    /// <param name="transform">A Python expression of a PyOpenColorIO transform, the module being <c>o</c>.</param>
    public static Vector3[] Convert(string transform, IReadOnlyList<Vector3> colours)
    {
        var script = $"""
            import sys
            import PyOpenColorIO as o
            p = o.Config.CreateRaw().getProcessor({transform}).getDefaultCPUProcessor()
            for line in sys.stdin:
                print(*['%.9g' % v for v in p.applyRGB([float(x) for x in line.split()])])
            """;
        var start = new ProcessStartInfo("/usr/bin/python3") { RedirectStandardInput = true, RedirectStandardOutput = true, RedirectStandardError = true };
        start.ArgumentList.Add("-c");
        start.ArgumentList.Add(script);
        start.Environment.Remove("OCIO");
        using var process = Process.Start(start)!;
        var writing = Task.Run(() =>
        {
            foreach (var c in colours)
                process.StandardInput.WriteLine(FormattableString.Invariant($"{c.X:G9} {c.Y:G9} {c.Z:G9}"));
            process.StandardInput.Close();
        });
        var lines = process.StandardOutput.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries);
        writing.Wait();
        Assert.True(lines.Length == colours.Count, process.StandardError.ReadToEnd());
        return [.. lines.Select(l => l.Split(' ').Select(v => float.Parse(v, CultureInfo.InvariantCulture)).ToArray()).Select(v => new Vector3(v[0], v[1], v[2]))];
    }

    public static string Matrix(Matrix3 m) =>
        FormattableString.Invariant($"o.MatrixTransform([{m.M11:R},{m.M12:R},{m.M13:R},0,{m.M21:R},{m.M22:R},{m.M23:R},0,{m.M31:R},{m.M32:R},{m.M33:R},0,0,0,0,1])");
}
