using System.Diagnostics;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Xunit.Abstractions;
using static Kiln.Pixels.Tests.OpenImageIO;

namespace Kiln.Pixels.Tests;

/// <summary>
/// Truncated and corrupted files for every reader, decoded in the child processes that the product uses. Nothing may escape but a sentence,
/// nothing may take longer than the two seconds of the limit and a new worker. KILN_FUZZ sets the number of inputs;
/// bench/results.md has the figures of the full run.
/// </summary>
public sealed class ReaderFuzzing(ITestOutputHelper output) : IDisposable
{
    private static readonly int Inputs = int.TryParse(Environment.GetEnvironmentVariable("KILN_FUZZ"), out var n) ? n : 500;

    private readonly string folder = Directory.CreateTempSubdirectory("kiln-fuzz-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    [Theory]
    [InlineData("png", "uint16", "")]
    [InlineData("jpg", "uint8", "")]
    [InlineData("tif", "uint8", "lzw")]
    [InlineData("exr", "half", "piz")]
    [InlineData("exr", "half", "dwaa")]
    [InlineData("exr", "float", "pxr24")]
    [InlineData("hdr", "float", "")]
    [InlineData("webp", "uint8", "")]
    [InlineData("tga", "uint8", "rle")]
    [InlineData("dds", "", "")]
    public async Task DamagedFilesCostASentence(string extension, string type, string compression)
    {
        var good = Path.Combine(folder, "good." + extension);
        if (extension == "dds")
            File.WriteAllBytes(good, Dds());
        else
            Run(
                "oiiotool",
                [
                    "--pattern",
                    "noise",
                    "48x40",
                    "3",
                    "-d",
                    type,
                    .. compression.Length > 0 ? new[] { "--compression", compression } : [],
                    "-o",
                    good,
                ]
            );
        var bytes = File.ReadAllBytes(good);
        await using var pool = new DecodeWorkerPool(
            Worker,
            2,
            new DecodeLimits(Longest: 16384, Pixels: 40_000_000, Seconds: 2, ResidentBytes: 1L << 30)
        );
        int read = 0,
            refused = 0,
            crashed = 0;
        var slowest = (Taken: TimeSpan.Zero, Seed: 0);
        var gate = new Lock();
        await Parallel.ForEachAsync(Enumerable.Range(0, Inputs), new ParallelOptions { MaxDegreeOfParallelism = 2 }, async (i, _) =>
        {
            var clock = Stopwatch.StartNew();
            var sentence = await RefusedAsync(i);
            lock (gate)
            {
                read += sentence.Length == 0 ? 1 : 0;
                refused += sentence.Length > 0 ? 1 : 0;
                crashed += sentence.Contains("crashed", StringComparison.Ordinal) ? 1 : 0;
                slowest = clock.Elapsed > slowest.Taken ? (clock.Elapsed, i) : slowest;
            }
        });
        output.WriteLine(
            $"{extension} {type} {compression}: {Inputs} inputs, {read} read, {refused} refused with a sentence, of which "
                + $"{crashed} cost a worker; slowest {slowest.Taken.TotalSeconds:0.00} s"
        );
        Assert.Equal(Inputs, read + refused);
        // The two seconds of the limit, and the start of a new worker.
        Yardstick.Within(8 * Yardstick.Soon, "the slowest file", slowest.Taken, () => RefusedAsync(slowest.Seed).GetAwaiter().GetResult());

        // What the file that this seed damages is refused with; nothing where it can be read.
        async Task<string> RefusedAsync(int seed)
        {
            var file = Path.Combine(folder, $"bad{seed}.{extension}");
            await File.WriteAllBytesAsync(file, Mutated(bytes, new Random(seed)));
            try
            {
                await pool.DecodeAsync(file, seed % 2 == 0 ? 32 : null, CancellationToken.None);
                return "";
            }
            catch (PictureException e)
            {
                return e.Message;
            }
            finally
            {
                File.Delete(file);
            }
        }
    }

    private static ProcessStartInfo Worker()
    {
        // The command line's worker verb is the one the product uses; it lies beside the tests as a reference of this project.
        var start = new ProcessStartInfo("dotnet");
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, "Kiln.Cli.dll"));
        start.ArgumentList.Add("decode-worker");
        return start;
    }

    private static byte[] Mutated(byte[] good, Random random)
    {
        var bad = good.ToArray();
        // Half the changes hit the head, where sizes and offsets are.
        for (var k = random.Next(1, 9); k > 0; k--)
            bad[random.Next(random.Next(2) == 0 ? Math.Min(bad.Length, 300) : bad.Length)] = random.Next(3) switch
            {
                0 => 0xff,
                1 => 0,
                _ => (byte)random.Next(256),
            };
        return random.Next(4) == 0 ? bad[..random.Next(1, bad.Length)] : bad;
    }

    private static byte[] Dds()
    {
        var header = new byte[148 + 12 * 10 * 16];
        "DDS "u8.CopyTo(header);
        (header[4], header[12], header[16], header[76], header[80]) = (124, 40, 48, 32, 4);
        "DX10"u8.CopyTo(header.AsSpan(84));
        (header[128], header[132], header[140]) = (98, 3, 1);
        new Random(1).NextBytes(header.AsSpan(148));
        return header;
    }
}
