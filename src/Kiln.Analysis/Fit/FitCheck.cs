using System.Numerics.Tensors;
using Kiln.Analysis.Difference;
using Kiln.Colour.Views;
using Kiln.Pixels;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

namespace Kiln.Analysis.Fit;

/// <summary>ΔE (CIEDE2000) of two proofs under one light, over the pixels of the form, and what noise alone would give.</summary>
/// <param name="Noise">Mean ΔE of the surface to be met against itself with other random numbers: an upper bound, since the two that are
/// compared share theirs.</param>
public sealed record ProofFigures(string Light, double MeanDeltaE, double Percentile95, double Noise);

/// <summary>A comparison over all lights, and the mean ΔE with either set of random numbers.</summary>
public sealed record FitFigures(IReadOnlyList<ProofFigures> Lights, IReadOnlyList<double> BySeed)
{
    public double MeanDeltaE => Lights.Average(l => l.MeanDeltaE);

    public double Percentile95 => Lights.Average(l => l.Percentile95);
}

/// <summary>
/// Compares a surface with the one it should look like by proofs that share their random numbers: same form, light, camera and seeds. Every
/// comparison is
/// made with two seeds, so that what only noise says can be told; figures are of both seeds' pictures together.
/// </summary>
/// <param name="turn">How a piece of rendering gets its schedule among others; null where there are none.</param>
public sealed class FitCheck(ProofMaterial wanted, Func<Action, CancellationToken, Task>? schedule = null, int side = 96, int samples = 48)
{
    public static readonly string[] Lights = ["overcast", "softbox", "lowsun"];
    private static readonly uint[] Seeds = [1, 2];

    private readonly Dictionary<(string, uint), ImageBuffer> pictures = [];
    private readonly View view = View.Named("aces1-sdr", wanted.Working.Space);

    public async Task<FitFigures> AgainstAsync(ProofMaterial material, CancellationToken cancel = default, Action? afterEach = null)
    {
        var lights = new List<ProofFigures>();
        var bySeed = new double[Seeds.Length];
        foreach (var light in Lights)
        {
            var (own, asked) = (new ImageBuffer[Seeds.Length], new ImageBuffer[Seeds.Length]);
            for (var i = 0; i < Seeds.Length; i++)
            {
                asked[i] = await WantedAsync(light, Seeds[i], cancel, afterEach);
                own[i] = await RenderAsync(material, light, Seeds[i], cancel, afterEach);
            }
            for (var i = 0; i < Seeds.Length; i++)
                bySeed[i] += Between(own[i], asked[i]).Mean / Lights.Length;
            var together = Between(Mean(own), Mean(asked));
            lights.Add(new(light, together.Mean, together.Percentile95, Between(asked[0], asked[1]).Mean));
        }
        return new(lights, bySeed);
    }

    /// <summary>Pictures that one comparison renders; the first one renders as many again for the surface to be met.</summary>
    public static int PicturesOfOne => Lights.Length * Seeds.Length;

    private async Task<ImageBuffer> WantedAsync(string light, uint seed, CancellationToken cancel, Action? afterEach)
    {
        if (!pictures.TryGetValue((light, seed), out var picture))
            pictures[(light, seed)] = picture = await RenderAsync(wanted, light, seed, cancel, afterEach);
        return picture;
    }

    private async Task<ImageBuffer> RenderAsync(
        ProofMaterial material,
        string light,
        uint seed,
        CancellationToken cancel,
        Action? afterEach
    )
    {
        var tracer = new ProofRequest("vessel", light, side, side, Seed: seed, Background: false).Start(material);
        for (var done = 0; done < samples; done += 8)
        {
            var count = Math.Min(8, samples - done);
            if (schedule is null)
                tracer.Accumulate(count, cancel);
            else
                await schedule(() => tracer.Accumulate(count, cancel), cancel);
        }
        cancel.ThrowIfCancellationRequested();
        afterEach?.Invoke();
        return tracer.Picture();
    }

    private (double Mean, double Percentile95) Between(ImageBuffer own, ImageBuffer asked) =>
        DeltaE.Between(view.Apply(own), view.Apply(asked)).Over(asked);

    private static ImageBuffer Mean(ImageBuffer[] pictures)
    {
        var result = new ImageBuffer(pictures[0].Width, pictures[0].Height, pictures[0].Channels, SampleType.F32);
        var sum = result.Samples<float>();
        foreach (var picture in pictures)
            TensorPrimitives.Add(sum, picture.Samples<float>(), sum);
        TensorPrimitives.Divide(sum, pictures.Length, sum);
        return result;
    }
}
