using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Arithmetic;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Numbers;

public sealed record CurvePoint(float X, float Y);

/// <summary>A monotone cubic through the points, each component by itself; see <see cref="MonotoneCurve"/>.</summary>
public sealed record CurveStep(ImmutableArray<CurvePoint> Points) : Step, IStepKind<CurveStep>
{
    public const int MostPoints = 64;

    public static new StepEntry<CurveStep> Entry { get; } =
        new()
        {
            Name = "curve",
            Label = "curve",
            Order = 60,
            Tells = "{points} points",
            Fields = [new(StepFieldKind.Curve, "points", "points")],
            Fresh = new([new(0, 0), new(0.5f, 0.5f), new(1, 1)]),
            Checks = (s, where) =>
            {
                if (
                    s.Points.IsDefault
                    || s.Points.Length is < 2 or > MostPoints
                    || s.Points.Any(p => !float.IsFinite(p.X + p.Y))
                    || s.Points.Zip(s.Points.Skip(1)).Any(p => p.Second.X <= p.First.X)
                )
                    throw new LookException($"The curve in {where} needs 2 to {MostPoints} points, each to the right of the one before.");
            },
            Lowers = (s, x, to) =>
                to.Add(new CurveNode(x, to.Graph[x].Type, MonotoneCurve.Prepare(s.Points)) { Name = to.LiveName(s, "points") }),
            Folds = (node, from) =>
                node is CurveNode c
                    ? (
                        from.Inputs[0],
                        new CurveStep([
                            .. Enumerable.Range(0, c.Curve.Length / 3).Select(i => new CurvePoint(c.Curve[3 * i], c.Curve[3 * i + 1])),
                        ])
                    )
                    : null,
        };

    public bool Equals(CurveStep? other) => other is not null && base.Equals(other) && Points.SequenceEqual(other.Points);

    public override int GetHashCode() => HashCode.Combine(base.GetHashCode(), Points.Length);
}
