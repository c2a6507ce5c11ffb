using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Proof.Materials;

namespace Kiln.Analysis.Fit;

/// <summary>One point of the plot: where the look is on an input, and the difference in L* there before and after.</summary>
public sealed record FitPoint(double At, double Before, double After);

/// <summary>What a fit found. Without trims, <paramref name="Refusal"/> says why, and before and after are the same.</summary>
/// <param name="Plot">By the input that was trimmed first, else by roughness; in its order.</param>
/// <param name="ReflectanceBefore">Root-mean-square difference in L* of the reflectances; after likewise.</param>
public sealed record FitResult(
    ImmutableArray<Trim> Trims,
    FitFigures Before,
    FitFigures After,
    double ReflectanceBefore,
    double ReflectanceAfter,
    string PlotInput,
    IReadOnlyList<FitPoint> Plot,
    string? Refusal,
    double Seconds
);

/// <summary>How far a fit has come, 0 to 1, and at what it is, in words.</summary>
public sealed record FitProgress(double Part, [property: JsonPropertyName("words")] string Sentence);

/// <summary>Finds trims by reflectance, then believes them only as far as two proofs under three lights do.</summary>
/// <param name="turn">How a piece of rendering gets its schedule among others; null where there are none.</param>
public sealed class TrimFit(
    DialectProfile from,
    DialectProfile to,
    WorkingSpace working,
    Func<Action, CancellationToken, Task>? schedule = null
)
{
    private const double SearchPart = 0.3;

    /// <summary>A mean ΔE that nobody sees even side by side; common practice, no source.</summary>
    private const double Unseen = 0.1;

    /// <param name="wanted">The surface to be met: the look as the dialect it comes from.</param>
    /// <param name="trimmed">The look as the other dialect with the given trims.</param>
    public async Task<FitResult> RunAsync(
        LookSpread spread,
        ProofMaterial wanted,
        Func<ImmutableArray<Trim>, Task<ProofMaterial>> trimmed,
        Action<FitProgress>? progress = null,
        CancellationToken cancel = default
    )
    {
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var search = new TrimSearch(spread, new(from, working), new(to, working), to, cancel);
        progress?.Invoke(new(0, "comparing reflectances"));
        var proposals = search.Run(part => progress?.Invoke(new(SearchPart * part, "searching trims")));
        var check = new FitCheck(wanted, schedule);
        var pictures = 0;
        void Count(string words) =>
            progress?.Invoke(new(Math.Min(0.99, SearchPart + (1 - SearchPart) * ++pictures / (3.0 * FitCheck.PicturesOfOne)), words));
        var before = await check.AgainstAsync(await trimmed([]), cancel, () => Count("proofs before"));
        FitResult Result(TrimProposal proposal, FitFigures after, string? refusal) =>
            new(
                proposal.Trims,
                before,
                after,
                proposals[0].Error,
                proposal.Error,
                PlotInput(spread, proposal.Trims),
                Plot(search, spread, proposal.Trims),
                refusal,
                clock.Elapsed.TotalSeconds
            );
        if (proposals.Count == 1)
            return Result(
                proposals[0],
                before,
                proposals[0].Error <= TrimSearch.Nothing
                    ? $"The two answer light alike within {proposals[0].Error:0.00} L*: what is left is noise, and nothing is fitted to it."
                    : $"No trim of one input takes a notable part off the difference of {proposals[0].Error:0.0} L*: it is of "
                        + "another kind than gain, offset or power."
            );
        // From the most trims down: the first that every set of random numbers and every light agrees to, in the mean and among the worst
        // pixels.
        foreach (var proposal in proposals.Skip(1).Reverse())
        {
            var after = await check.AgainstAsync(await trimmed(proposal.Trims), cancel, () => Count("proofs after"));
            if (!IsCloser(after, before))
                continue;
            return before.MeanDeltaE - after.MeanDeltaE < Unseen
                ? Result(
                    proposals[0],
                    before,
                    $"Trims would bring the proofs closer by a mean ΔE of {before.MeanDeltaE - after.MeanDeltaE:0.00} only, which "
                        + "nobody sees: nothing is proposed."
                )
                : Result(proposal, after, null);
        }
        return Result(
            proposals[0],
            before,
            $"What was found by reflectance (from {proposals[0].Error:0.00} to {proposals[^1].Error:0.00} L*) does not bring the "
                + "proofs closer under every light, so no trim is proposed."
        );
    }

    /// <summary>Under every light and with every set of random numbers, in the mean and among the worst pixels.</summary>
    private static bool IsCloser(FitFigures after, FitFigures before) =>
        after.BySeed.Zip(before.BySeed).All(p => p.First < p.Second)
        && after
            .Lights.Zip(before.Lights)
            .All(p => p.First.MeanDeltaE <= p.Second.MeanDeltaE && p.First.Percentile95 <= p.Second.Percentile95);

    private static string PlotInput(LookSpread spread, ImmutableArray<Trim> trims) =>
        trims.Select(t => t.Input).Append("specular_roughness").FirstOrDefault(i => !spread.IsEven(i)) ?? "specular_roughness";

    private static IReadOnlyList<FitPoint> Plot(TrimSearch search, LookSpread spread, ImmutableArray<Trim> trims)
    {
        var input = PlotInput(spread, trims);
        double[] before = search.Errors([]),
            after = search.Errors(trims);
        return [.. spread.Values.Select((v, i) => new FitPoint(Level(v[input]), before[i], after[i])).OrderBy(p => p.At)];

        static double Level(System.Numerics.Vector3 v) => (v.X + v.Y + v.Z) / 3;
    }
}
