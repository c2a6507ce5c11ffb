#:project ../src/Kiln.Colour/Kiln.Colour.csproj
#:package System.Numerics.Tensors
// Colour against OpenColorIO's CPU processor in the same run, one thread each, alternating, medians of five. Run by bench/colour.sh.
using System.Diagnostics;
using Kiln.Colour;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;

var texture = Filled(4096 * 4096);
var frame = Filled(1920 * 1080);
var convert = ColourTransform.Between(ColourSpace.SrgbTexture, ColourSpace.AcesCg);
var view = View.Named("aces1-sdr", ColourSpace.AcesCg);
using var theirs = Process.Start(
    new ProcessStartInfo(
        "/usr/bin/python3",
        [Path.Combine(Path.GetDirectoryName(AppContext.GetData("EntryPointFilePath")!.ToString())!, "colour_reference.py")]
    )
    {
        RedirectStandardInput = true,
        RedirectStandardOutput = true,
    }
)!;
double Theirs(string what)
{
    theirs.StandardInput.WriteLine(what);
    theirs.StandardInput.Flush();
    return double.Parse(theirs.StandardOutput.ReadLine()!, System.Globalization.CultureInfo.InvariantCulture);
}
Report("4096 x 4096 RGB float, sRGB to ACEScg", "texture", () => convert.Apply(texture), texture);
Report("1920 x 1080 RGB float, ACES view", "view", () => view.Apply(frame.AsSpan()), frame);
theirs.StandardInput.Close();

// What a table a code saves over working the curve out, on the same pixels.
var coded = new CodedPixels(convert);
var row = new float[texture.Length];
Coded("8 bit", [.. Enumerable.Range(0, texture.Length).Select(i => (byte)(i * 7))], byte.MaxValue, (byte[] codes) =>
    coded.Apply(codes, row)
);
Coded("16 bit", [.. Enumerable.Range(0, texture.Length).Select(i => (ushort)(i * 40503))], ushort.MaxValue, (ushort[] codes) =>
    coded.Apply(codes, row)
);

void Coded<T>(string what, T[] codes, int most, Action<T[]> byTable)
    where T : unmanaged, System.Numerics.INumberBase<T>
{
    List<double> table = [],
        curve = [];
    for (var i = 0; i < 7; i++)
    {
        var clock = Stopwatch.StartNew();
        byTable(codes);
        var t = clock.Elapsed.TotalSeconds;
        clock.Restart();
        System.Numerics.Tensors.TensorPrimitives.ConvertTruncating<T, float>(codes, row);
        System.Numerics.Tensors.TensorPrimitives.Multiply(row, 1f / most, row);
        convert.Apply(row);
        if (i < 2)
            continue;
        table.Add(t);
        curve.Add(clock.Elapsed.TotalSeconds);
    }
    table.Sort();
    curve.Sort();
    Console.WriteLine(
        $"4096 x 4096 RGB, {what} codes, sRGB to ACEScg: by table {table[2] * 1000:0.0} ms, by curve {curve[2] * 1000:0.0} ms, "
            + $"ratio {table[2] / curve[2]:0.00}"
    );
}

void Report(string what, string name, Action ours, float[] pixels)
{
    List<double> mine = [],
        other = [];
    for (var i = 0; i < 7; i++)
    {
        Filled(pixels);
        var clock = Stopwatch.StartNew();
        ours();
        // The first two runs warm both up.
        if (i >= 2)
            mine.Add(clock.Elapsed.TotalSeconds);
        var t = Theirs(name);
        if (i >= 2)
            other.Add(t);
    }
    mine.Sort();
    other.Sort();
    Console.WriteLine(
        $"{what}: ours {mine[2] * 1000:0.0} ms, OpenColorIO {other[2] * 1000:0.0} ms, ratio {mine[2] / other[2]:0.000} "
            + $"({pixels.Length / 3 / mine[2] / 1e6:0} million pixels a second)"
    );
}

static float[] Filled(object size)
{
    var pixels = size as float[] ?? new float[(int)size * 3];
    for (var i = 0; i < pixels.Length; i++)
        pixels[i] = i % 1000 / 1000f;
    return pixels;
}
