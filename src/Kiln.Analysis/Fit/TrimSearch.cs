using System.Collections.Immutable;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Inputs;
using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;
using MathNet.Numerics.Optimization;

namespace Kiln.Analysis.Fit;

/// <summary>Trims and the root-mean-square difference in lightness (L*, 0 to 100 of a white diffuser) that is left with them.</summary>
public sealed record TrimProposal(ImmutableArray<Trim> Trims, double Error);

/// <summary>
/// Few trims that bring one dialect's reflectance closest to another's: each round takes the trim that helps most, with all taken so far
/// searched anew
/// by Levenberg and Marquardt's method, until a further one is not worth its place.
/// </summary>
public sealed class TrimSearch
{
    public const int MostTrims = 3;

    /// <summary>A further trim has to take away at least this part of what is left; common practice, no source.</summary>
    private const double WorthItsPlace = 0.08;

    /// <summary>Below this difference in L* there is nothing to look for; common practice, no source.</summary>
    public const double Nothing = 0.25;

    /// <summary>A difference in L* that is single precision's own.</summary>
    private const double Idle = 0.02;

    private const int TriedInFull = 3;

    private readonly LookSpread spread;
    private readonly DialectReflectance target;
    private readonly double[] wanted;
    private readonly Trim[] candidates;
    private readonly CancellationToken cancel;

    public TrimSearch(
        LookSpread spread,
        DialectReflectance from,
        DialectReflectance target,
        DialectProfile profile,
        CancellationToken cancel = default
    )
    {
        (this.spread, this.target, this.cancel) = (spread, target, cancel);
        wanted = Answers(from, []);
        candidates = [.. Candidates(profile)];
    }

    /// <summary>Without trims first, then one more in each.</summary>
    public IReadOnlyList<TrimProposal> Run(Action<double>? progress = null)
    {
        var found = new List<TrimProposal> { new([], Error([])) };
        while (found.Count <= MostTrims && found[^1].Error > Nothing)
        {
            var trims = found[^1].Trims;
            var open = candidates
                .Where(c => !trims.Any(t => t.Input == c.Input && t.Operation == c.Operation))
                .OrderByDescending(c => Promise(trims, c))
                .Take(TriedInFull)
                .ToList();
            var best = open.Select(c => Search(trims.Add(c))).MinBy(p => p.Error);
            progress?.Invoke((double)found.Count / (MostTrims + 1));
            if (best is null || best.Error > found[^1].Error * (1 - WorthItsPlace))
                break;
            found.Add(Leaner(best));
        }
        return found;
    }

    /// <summary>Without the trims that a later one has made idle.</summary>
    private TrimProposal Leaner(TrimProposal proposal)
    {
        foreach (var trim in proposal.Trims)
            if (
                proposal.Trims.Length > 1
                && Search(proposal.Trims.Remove(trim)) is var without
                && without.Error <= Math.Max(proposal.Error * (1 + WorthItsPlace), Idle)
            )
                proposal = without;
        return proposal;
    }

    /// <summary>Per point, the difference in L* that is left.</summary>
    public double[] Errors(ImmutableArray<Trim> trims)
    {
        var answers = Answers(target, trims);
        var size = DialectReflectance.Size;
        return
        [
            .. Enumerable
                .Range(0, spread.Values.Count)
                .Select(i => 116 * Math.Sqrt(Enumerable.Range(i * size, size).Sum(k => Square(answers[k] - wanted[k])) / size)),
        ];
    }

    public double Error(ImmutableArray<Trim> trims) => Math.Sqrt(Errors(trims).Average(Square));

    private static double Square(double x) => x * x;

    private double[] Answers(DialectReflectance dialect, ImmutableArray<Trim> trims)
    {
        cancel.ThrowIfCancellationRequested();
        var size = DialectReflectance.Size;
        var answers = new double[spread.Values.Count * size];
        Parallel.For(0, spread.Values.Count, i => dialect.Of(spread.Values[i], trims, answers.AsSpan(i * size, size)));
        return answers;
    }

    /// <summary>
    /// Every input the dialect hears that a trim can move: numbers by gain, offset and power where they vary, by one of them where they do
    /// not; colours by a gain.
    /// </summary>
    private IEnumerable<Trim> Candidates(DialectProfile profile)
    {
        var heard = profile.Formulas.Values.SelectMany(f => f.Names).ToHashSet();
        foreach (
            var input in NeutralInputs.All.Where(i =>
                heard.Contains(i.Name) && !i.IsDirection && !i.Name.StartsWith("geometry", StringComparison.Ordinal)
            )
        )
        {
            var values = spread.Values.Select(v => v[input.Name].X).ToList();
            if (input.IsColour || input.Name.EndsWith("weight", StringComparison.Ordinal) || input.Name == "emission_luminance")
                yield return new(input.Name, "gain", 1);
            else if (
                input.Name.Contains("roughness", StringComparison.Ordinal) && !input.Name.Contains("anisotropy", StringComparison.Ordinal)
            )
            {
                yield return new(input.Name, "gain", 1);
                if (values.Max() - values.Min() < 0.02f)
                    continue;
                yield return new(input.Name, "power", 1);
                yield return new(input.Name, "offset", 0);
            }
            else if (input.Name.EndsWith("ior", StringComparison.Ordinal))
                yield return new(input.Name, "offset", 0);
        }
    }

    /// <summary>What one step along a trim would take off the squared difference, if the answers were straight in it.</summary>
    private double Promise(ImmutableArray<Trim> trims, Trim candidate)
    {
        var slope = Slope(trims.Add(candidate), trims.Length);
        var now = Answers(target, trims);
        double along = 0,
            length = 0;
        for (var k = 0; k < now.Length; k++)
        {
            along += slope[k] * (wanted[k] - now[k]);
            length += slope[k] * slope[k];
        }
        return length < 1e-9 ? 0 : along * along / length;
    }

    private double[] Slope(ImmutableArray<Trim> trims, int which)
    {
        const float step = 0.01f;
        double[] At(float by) => Answers(target, trims.SetItem(which, trims[which] with { Value = trims[which].Value + by }));
        double[] up = At(step),
            down = At(-step);
        return [.. up.Select((u, k) => (u - down[k]) / (2 * step))];
    }

    private TrimProposal Search(ImmutableArray<Trim> start)
    {
        ImmutableArray<Trim> With(Vector<double> p) => [.. start.Select((t, i) => t with { Value = (float)p[i] })];
        var places = DenseVector.Create(wanted.Length, i => i);
        var objective = ObjectiveFunction.NonlinearModel(
            (p, _) => DenseVector.OfArray(Answers(target, With(p))),
            (p, _) => DenseMatrix.OfColumnArrays(Enumerable.Range(0, p.Count).Select(i => Slope(With(p), i))),
            places,
            DenseVector.OfArray(wanted)
        );
        var (low, high) = (start.Select(t => t.Operation == "offset" ? -0.5 : 0.2), start.Select(t => t.Operation == "offset" ? 0.5 : 5));
        try
        {
            var result = new LevenbergMarquardtMinimizer(maximumIterations: 30).FindMinimum(
                objective,
                DenseVector.OfEnumerable(start.Select(t => (double)t.Value)),
                DenseVector.OfEnumerable(low),
                DenseVector.OfEnumerable(high)
            );
            var trims = With(result.MinimizingPoint);
            return new(trims, Error(trims));
        }
        catch (MathNet.Numerics.Optimization.OptimizationException)
        {
            return new(start, double.PositiveInfinity);
        }
    }
}
