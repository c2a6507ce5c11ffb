using System.Diagnostics;
using System.Globalization;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Document;
using Kiln.Proof.Rendering;
using Kiln.Proof.Writing;

namespace Kiln.Proof.Tests;

/// <summary>
/// Written proofs read back by OpenEXR 3.1 (exrheader) and OpenImageIO 2.4: every layer under its name, every number as it was rendered.
/// </summary>
public sealed class PicturesReadOutside : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-written-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private static string Run(string program, params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true }
        )!;
        var errors = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, errors.Result);
        return output;
    }

    private static async Task<PathTracer> RenderedAsync(bool background = true)
    {
        var material = await Plain.MaterialAsync(
            "openpbr",
            ("coat_weight", LookValue.Of(0.5f)),
            ("emission_luminance", LookValue.Of(0.2f))
        );
        var tracer = new ProofRequest("sphere", "softbox", 40, 30, Background: background, WithLayers: true).Start(material);
        tracer.Accumulate(8);
        return tracer;
    }

    /// <summary>
    /// Channel names and all pixels, by OpenImageIO, as 32-bit floats, colours not multiplied by alpha where the file has them so.
    /// </summary>
    private static (string[] Names, float[] Values) Read(string file)
    {
        var lines = Run(
                "/usr/bin/python3",
                "-c",
                $"import OpenImageIO as o, numpy as n; c=o.ImageSpec(); c['oiio:UnassociatedAlpha']=1; b=o.ImageBuf('{file}', 0, "
                    + $"0, c); print(*b.spec().channelnames); n.savetxt('{file}.txt', b.get_pixels(o.FLOAT).ravel(), fmt='%.9g')"
            )
            .Split('\n');
        return (lines[0].Split(' '), [.. File.ReadLines(file + ".txt").Select(v => float.Parse(v, CultureInfo.InvariantCulture))]);
    }

    [Fact]
    public async Task AnExrHoldsThePictureAndEveryLayer()
    {
        var tracer = await RenderedAsync();
        var file = Path.Combine(folder, "proof.exr");
        new ProofFiles(file, 1, [.. ProofLayers.Names], denoise: false).Add(
            0,
            tracer,
            WorkingSpace.AcesCg,
            View.Named("plain", ColourSpace.AcesCg),
            0
        );
        var header = Run("exrheader", file);
        Assert.Contains("chromaticities", header);
        Assert.Contains("0.713", header); // AP1's red (SMPTE ST 2065 and the Academy's S-2014-004)
        foreach (var layer in ProofLayers.Names.Where(n => n != "depth"))
            Assert.Contains($"{layer}.R, ", header);
        var (names, values) = Read(file);
        var whole = tracer.Layers!.With(tracer.Picture(), [.. ProofLayers.Names]);
        Assert.Equal(whole.Channels.Order(), names.Order());
        var own = whole.Samples<float>();
        for (var c = 0; c < names.Length; c++)
        {
            var at = whole.Channels.IndexOf(names[c]);
            for (var p = 0; p < whole.Width * whole.Height; p++)
                Assert.Equal(
                    own[p * whole.ChannelCount + at],
                    values[p * names.Length + c],
                    MathF.Max(1e-6f, MathF.Abs(own[p * whole.ChannelCount + at]) * 1e-3f)
                );
        }
        // The parts of the light add up to the picture where the form is seen first.
        float Of(string channel, int p) => values[p * names.Length + Array.IndexOf(names, channel)];
        var middle = 15 * 40 + 20;
        Assert.Equal(Of("R", middle), ProofLayers.Light.Sum(l => Of(l + ".R", middle)), Of("R", middle) * 0.01f);
    }

    [Fact]
    public async Task APngHoldsWhatTheViewShows()
    {
        var tracer = await RenderedAsync(background: false);
        var file = Path.Combine(folder, "proof.png");
        var view = View.Named("aces1-sdr", ColourSpace.AcesCg);
        new ProofFiles(file, 1, [], denoise: false).Add(0, tracer, WorkingSpace.AcesCg, view, 0.5f);
        var (names, values) = Read(file);
        Assert.Equal(["R", "G", "B", "A"], names);
        var shown = view.Apply(tracer.Picture(), 0.5f);
        for (var y = 0; y < 30; y++)
        for (var x = 0; x < 40; x++)
        for (var c = 0; c < 4; c++)
            Assert.Equal(shown[x, y, c], values[(y * 40 + x) * 4 + c], 1.01f / 255);
        Assert.Contains(values.Where((_, i) => i % 4 == 3), a => a == 0);
        Assert.Contains(values.Where((_, i) => i % 4 == 3), a => a == 1);
    }
}
