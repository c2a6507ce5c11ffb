using System.Globalization;
using System.Numerics;
using Kiln.Colour.Operations;

namespace Kiln.Colour.Configs.Files;

/// <summary>What a table file holds: steps, whose tables follow the interpolation that the config asks for.</summary>
internal sealed record LutFile(Func<string?, IReadOnlyList<ColourOp>> Make)
{
    public IEnumerable<ColourOp> Steps(string? interpolation, bool inverse)
    {
        var steps = Make(interpolation?.ToLowerInvariant());
        return inverse ? steps.Reverse().Select(s => s.Inverse()) : steps;
    }
}

/// <summary>Table files by their ending: spi1d, spi3d, spimtx, cube, csp, clf and ctf.</summary>
internal static class LutFiles
{
    internal const int LargestFile = 256 << 20,
        Most1D = 1 << 20,
        Most3D = 129;

    /// <exception cref="ConfigException">The file is damaged or of a kind that is not read.</exception>
    public static LutFile Read(string path)
    {
        var name = Path.GetFileName(path);
        try
        {
            if (new FileInfo(path).Length > LargestFile)
                throw new ConfigException($"more than {LargestFile >> 20} MB are not read");
            return Path.GetExtension(path).ToLowerInvariant() switch
            {
                ".spi1d" => Spi.Table(new(path)),
                ".spi3d" => Spi.Cube(new(path)),
                ".spimtx" => Spi.Matrix(new(path)),
                ".cube" => CubeFile.Read(new(path)),
                ".csp" => CspFile.Read(new(path)),
                ".clf" or ".ctf" => ClfFile.Read(path),
                var other => throw new ConfigException($"files of the kind '{other}' are not supported"),
            };
        }
        catch (ConfigException e)
        {
            throw new ConfigException($"the file '{name}' cannot be used: {e.Message}", e);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or System.Xml.XmlException)
        {
            throw new ConfigException($"the file '{name}' cannot be read: {e.Message}", e);
        }
    }

    /// <summary>The usual interpolation of a cube is in straight lines; "tetrahedral" and "best" are tetrahedral.</summary>
    public static bool Tetrahedral(string? interpolation) => interpolation is "tetrahedral" or "best";

    public static bool Nearest(string? interpolation) => interpolation is "nearest";
}

/// <summary>Lines of words and numbers, with the line number for what is wrong.</summary>
internal sealed class TableText(string path)
{
    private readonly IEnumerator<string> lines = File.ReadLines(path).GetEnumerator();

    public int Line { get; private set; }

    /// <summary>The words of the next line that has any; null at the end.</summary>
    public string[]? Next(char comment = '#')
    {
        while (lines.MoveNext())
        {
            Line++;
            var text = lines.Current;
            if (text.Length > 100_000)
                throw Fault("the line is too long");
            var words = text.Split((char[])[' ', '\t', ','], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
            if (words.Length > 0 && words[0][0] != comment)
                return words;
        }
        return null;
    }

    public string[] Need() => Next() ?? throw Fault("the file ends too early");

    public float Number(string word) =>
        float.TryParse(word, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && float.IsFinite(v)
            ? v
            : throw Fault($"'{(word.Length > 40 ? word[..40] : word)}' is no number");

    public int Count(string word, int most) =>
        int.TryParse(word, NumberStyles.None, CultureInfo.InvariantCulture, out var n) && n is >= 2 && n <= most
            ? n
            : throw Fault($"'{word}' is no size from 2 to {most}");

    public Vector3 Three(string[] words, int from = 0) =>
        words.Length >= from + 3
            ? new(Number(words[from]), Number(words[from + 1]), Number(words[from + 2]))
            : throw Fault("three numbers are expected");

    public ConfigException Fault(string what) => new($"line {Line}: {what}");
}

/// <summary>The table, cube and matrix files of Sony Pictures Imageworks' open formats.</summary>
internal static class Spi
{
    public static LutFile Table(TableText text)
    {
        float low = 0,
            high = 1;
        int length = 0,
            components = 0;
        while (text.Need() is var words && words[0] != "{")
            switch (words[0].ToLowerInvariant())
            {
                case "from" when words.Length >= 3:
                    (low, high) = (text.Number(words[1]), text.Number(words[2]));
                    break;
                case "length" when words.Length >= 2:
                    length = text.Count(words[1], LutFiles.Most1D);
                    break;
                case "components" when words.Length >= 2:
                    components =
                        int.TryParse(words[1], out var c) && c is 1 or 3
                            ? int.Parse(words[1], CultureInfo.InvariantCulture)
                            : throw text.Fault("one or three components are expected");
                    break;
                case "version":
                    break;
                default:
                    throw text.Fault($"'{words[0]}' is not expected");
            }
        if (length == 0 || components == 0 || low == high)
            throw text.Fault("length, components or range are missing");
        var tables = Enumerable.Range(0, 3).Select(c => c < components ? new float[length] : []).ToArray();
        for (var i = 0; i < length; i++)
        {
            var words = text.Need();
            if (words.Length < components || words[0] == "}")
                throw text.Fault($"{components} numbers are expected");
            for (var c = 0; c < components; c++)
                tables[c][i] = text.Number(words[c]);
        }
        if (text.Need()[0] != "}")
            throw text.Fault($"more than the {length} entries that were announced");
        float[][] three = components == 3 ? tables : [tables[0], tables[0], tables[0]];
        return new(i => [new Lut1DOp(three, low, high, LutFiles.Nearest(i))]);
    }

    public static LutFile Cube(TableText text)
    {
        if (!text.Need()[0].StartsWith("SPILUT", StringComparison.Ordinal))
            throw text.Fault("'SPILUT 1.0' is expected");
        text.Need();
        var sizes = text.Need();
        var size = text.Count(sizes[0], LutFiles.Most3D);
        if (sizes.Length < 3 || sizes[1] != sizes[0] || sizes[2] != sizes[0])
            throw text.Fault("only cubes with three equal sides are read");
        var entries = new Vector3[size * size * size];
        var seen = new bool[entries.Length];
        for (var i = 0; i < entries.Length; i++)
        {
            var words = text.Need();
            if (
                words.Length < 6
                || !int.TryParse(words[0], out var r)
                || !int.TryParse(words[1], out var g)
                || !int.TryParse(words[2], out var b)
                || (uint)r >= size
                || (uint)g >= size
                || (uint)b >= size
            )
                throw text.Fault("three places and three numbers are expected");
            var at = (r * size + g) * size + b;
            if (seen[at])
                throw text.Fault("a place is given twice");
            (seen[at], entries[at]) = (true, text.Three(words, 3));
        }
        return new(i => [new Lut3DOp(size, entries, LutFiles.Tetrahedral(i))]);
    }

    /// <summary>Twelve numbers: three rows of a matrix, each with an offset in 16-bit codes.</summary>
    public static LutFile Matrix(TableText text)
    {
        var numbers = new List<double>();
        while (text.Next() is { } words)
            numbers.AddRange(words.Select(w => (double)text.Number(w)));
        if (numbers.Count != 12)
            throw text.Fault($"12 numbers are expected, not {numbers.Count}");
        double N(int i) => numbers[i];
        var op = new MatrixOp(
            [N(0), N(1), N(2), 0, N(4), N(5), N(6), 0, N(8), N(9), N(10), 0, 0, 0, 0, 1],
            [N(3) / 65535, N(7) / 65535, N(11) / 65535, 0]
        );
        return new(_ => [op]);
    }
}

/// <summary>Cube files with a table, a cube, or a table before a cube; red runs fastest.</summary>
internal static class CubeFile
{
    private sealed record Lines(
        int Size1,
        int Size3,
        Vector3 Low,
        Vector3 High,
        (float Low, float High)? Range1,
        (float Low, float High)? Range3
    )
    {
        public required List<Vector3> Numbers { get; init; }

        public bool HasDomain => Low != Vector3.Zero || High != Vector3.One;
    }

    public static LutFile Read(TableText text)
    {
        var lines = LinesOf(text);
        var tables = Enumerable.Range(0, 3).Select(c => lines.Numbers.Take(lines.Size1).Select(n => n[c]).ToArray()).ToArray();
        var side = lines.Size3;
        var cube = new Vector3[side * side * side];
        for (int b = 0, i = lines.Size1; b < side; b++)
        for (var g = 0; g < side; g++)
        for (var r = 0; r < side; r++)
            cube[(r * side + g) * side + b] = lines.Numbers[i++];
        return new(i =>
        {
            var steps = new List<ColourOp>();
            if (lines.Size1 > 0)
            {
                if (lines.Range1 is null && lines.HasDomain)
                    steps.Add(Domain(lines.Low, lines.High));
                steps.Add(new Lut1DOp(tables, lines.Range1?.Low ?? 0, lines.Range1?.High ?? 1, LutFiles.Nearest(i)));
            }
            if (side > 0)
            {
                if (lines.Range3 is { } r)
                    steps.Add(Domain(new(r.Low), new(r.High)));
                else if (lines.Size1 == 0 && lines.HasDomain)
                    steps.Add(Domain(lines.Low, lines.High));
                steps.Add(new Lut3DOp(side, cube, LutFiles.Tetrahedral(i)));
            }
            return steps;
        });
    }

    private static Lines LinesOf(TableText text)
    {
        int size1 = 0,
            size3 = 0;
        Vector3 low = Vector3.Zero,
            high = Vector3.One;
        (float Low, float High)? range1 = null,
            range3 = null;
        var numbers = new List<Vector3>();
        while (text.Next() is { } words)
            switch (words[0].ToUpperInvariant())
            {
                case "TITLE":
                    break;
                case "LUT_1D_SIZE" when words.Length == 2:
                    size1 = text.Count(words[1], LutFiles.Most1D);
                    break;
                case "LUT_3D_SIZE" when words.Length == 2:
                    size3 = text.Count(words[1], LutFiles.Most3D);
                    break;
                case "DOMAIN_MIN":
                    low = text.Three(words, 1);
                    break;
                case "DOMAIN_MAX":
                    high = text.Three(words, 1);
                    break;
                case "LUT_1D_INPUT_RANGE" when words.Length == 3:
                    range1 = (text.Number(words[1]), text.Number(words[2]));
                    break;
                case "LUT_3D_INPUT_RANGE" when words.Length == 3:
                    range3 = (text.Number(words[1]), text.Number(words[2]));
                    break;
                default:
                    if (numbers.Count > size1 + size3 * size3 * size3)
                        throw text.Fault("more entries than were announced");
                    numbers.Add(text.Three(words));
                    break;
            }
        if (size1 == 0 && size3 == 0)
            throw text.Fault("neither LUT_1D_SIZE nor LUT_3D_SIZE is given");
        if (numbers.Count != size1 + size3 * size3 * size3)
            throw text.Fault($"{size1 + size3 * size3 * size3} entries are expected, not {numbers.Count}");
        if (high.X <= low.X || high.Y <= low.Y || high.Z <= low.Z)
            throw text.Fault("the domain ends before it begins");
        return new(size1, size3, low, high, range1, range3) { Numbers = numbers };
    }

    private static MatrixOp Domain(Vector3 low, Vector3 high) =>
        MatrixOp.Scale(
            [1.0 / (high.X - low.X), 1.0 / (high.Y - low.Y), 1.0 / (high.Z - low.Z)],
            [-low.X / (high.X - low.X), -low.Y / (high.Y - low.Y), -low.Z / (high.Z - low.Z)]
        );
}

/// <summary>Cinespace files: a curve before the table for each channel, then a table or a cube with red running fastest.</summary>
internal static class CspFile
{
    private const int CurveEntries = 1 << 14;

    public static LutFile Read(TableText text)
    {
        if (text.Need()[0] != "CSPLUTV100")
            throw text.Fault("'CSPLUTV100' is expected");
        var kind = text.Need()[0].ToUpperInvariant();
        if (kind is not ("1D" or "3D"))
            throw text.Fault("'1D' or '3D' is expected");
        var words = text.Need();
        if (words[0] == "BEGIN")
        {
            while (text.Need() is var note && !(note.Length == 2 && note[0] == "END")) { }
            words = text.Need();
        }
        var curves = new List<ColourOp>();
        var ins = new float[3][];
        var outs = new float[3][];
        for (var c = 0; c < 3; c++)
        {
            if (c > 0)
                words = text.Need();
            var count = words[0] == "0" ? 0 : text.Count(words[0], LutFiles.Most1D);
            ins[c] = count == 0 ? [0, 1] : [.. text.Need().Select(text.Number)];
            outs[c] = count == 0 ? [0, 1] : [.. text.Need().Select(text.Number)];
            if (count > 0 && (ins[c].Length != count || outs[c].Length != count))
                throw text.Fault($"{count} numbers are expected");
            for (var i = 1; i < ins[c].Length; i++)
                if (ins[c][i] <= ins[c][i - 1])
                    throw text.Fault("the curve before the table goes backwards");
        }
        curves.Add(Curve(ins, outs));
        var sizes = text.Need();
        if (kind == "1D")
        {
            var length = text.Count(sizes[0], LutFiles.Most1D);
            var tables = Enumerable.Range(0, 3).Select(_ => new float[length]).ToArray();
            for (var i = 0; i < length; i++)
            {
                var v = text.Three(text.Need());
                (tables[0][i], tables[1][i], tables[2][i]) = (v.X, v.Y, v.Z);
            }
            return new(i => [.. curves, new Lut1DOp(tables, 0, 1, LutFiles.Nearest(i))]);
        }
        var size = text.Count(sizes[0], LutFiles.Most3D);
        if (sizes.Length < 3 || sizes[1] != sizes[0] || sizes[2] != sizes[0])
            throw text.Fault("only cubes with three equal sides are read");
        var cube = new Vector3[size * size * size];
        for (var b = 0; b < size; b++)
        for (var g = 0; g < size; g++)
        for (var r = 0; r < size; r++)
            cube[(r * size + g) * size + b] = text.Three(text.Need());
        return new(i => [.. curves, new Lut3DOp(size, cube, LutFiles.Tetrahedral(i))]);
    }

    /// <summary>
    /// Two points are a straight map; more are a curve through them (OpenColorIO puts a cubic through them, too, and tabulates it).
    /// </summary>
    private static ColourOp Curve(float[][] ins, float[][] outs)
    {
        if (ins.All(i => i.Length == 2))
        {
            var scale = Enumerable.Range(0, 3).Select(c => (double)(outs[c][1] - outs[c][0]) / (ins[c][1] - ins[c][0])).ToArray();
            return MatrixOp.Scale(scale, [.. Enumerable.Range(0, 3).Select(c => outs[c][0] - scale[c] * ins[c][0])]);
        }
        float low = ins.Min(i => i[0]),
            high = ins.Max(i => i[^1]);
        var tables = Enumerable
            .Range(0, 3)
            .Select(c =>
                Enumerable.Range(0, CurveEntries).Select(k => Cubic(ins[c], outs[c], low + (high - low) * k / (CurveEntries - 1))).ToArray()
            )
            .ToArray();
        return new Lut1DOp(tables, low, high);
    }

    /// <summary>Cubic Hermite pieces with finite differences as slopes, straight at the ends.</summary>
    private static float Cubic(float[] x, float[] y, float at)
    {
        if (at <= x[0])
            return y[0];
        if (at >= x[^1])
            return y[^1];
        var k = Array.BinarySearch(x, at);
        if (k >= 0)
            return y[k];
        k = ~k - 1;
        float Slope(int i) => (y[i + 1] - y[i]) / (x[i + 1] - x[i]);
        float h = x[k + 1] - x[k],
            t = (at - x[k]) / h;
        float m0 = k > 0 ? (Slope(k - 1) + Slope(k)) / 2 : Slope(k),
            m1 = k + 2 < x.Length ? (Slope(k) + Slope(k + 1)) / 2 : Slope(k);
        float t2 = t * t,
            t3 = t2 * t;
        return (2 * t3 - 3 * t2 + 1) * y[k] + (t3 - 2 * t2 + t) * h * m0 + (-2 * t3 + 3 * t2) * y[k + 1] + (t3 - t2) * h * m1;
    }
}
