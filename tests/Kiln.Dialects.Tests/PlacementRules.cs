using System.Numerics;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Maps;

namespace Kiln.Dialects.Tests;

/// <summary>
/// Every way in which a profile may state its texture transform, worked out here from the words' own definitions (scale, rotation about a
/// pivot, shift before or after, axes, units) and held against the look's placement.
/// </summary>
public sealed class PlacementRules
{
    private static readonly Vector2[] Points = [new(0, 0), new(1, 0), new(0.3f, 0.8f), new(-0.4f, 0.25f)];

    private static readonly Placement[] Placements =
    [
        Placement.Identity,
        new(3, 3),
        new(RotationDegrees: 30),
        new(2, 2, 45, 0.1f, 0.2f),
        new(4, 1.5f),
        new(4, 1.5f, 90),
        new(2, 3, 30, 0.1f, 0.05f, MirrorU: true),
        new(2, 2, 40, PivotU: 0.25f, PivotV: 0.75f),
        new(4, 1.5f, PictureRotationDegrees: 25),
        new(4, 1.5f, PictureRotationDegrees: 90),
        new(2, 2, 10, MirrorU: true, MirrorV: true),
    ];

    public static TheoryData<ScaleSense, TransformOrder, ShiftTime, RotationSense, bool> Rules()
    {
        var data = new TheoryData<ScaleSense, TransformOrder, ShiftTime, RotationSense, bool>();
        foreach (var scale in Enum.GetValues<ScaleSense>())
        foreach (var order in Enum.GetValues<TransformOrder>())
        foreach (var shift in Enum.GetValues<ShiftTime>())
        foreach (var sense in Enum.GetValues<RotationSense>())
        foreach (var down in new[] { false, true })
            data.Add(scale, order, shift, sense, down);
        return data;
    }

    private static Vector2 Turned(Vector2 v, double degrees) =>
        Math.SinCos(degrees * Math.PI / 180) is var (sin, cos)
            ? new((float)(cos * v.X - sin * v.Y), (float)(sin * v.X + cos * v.Y))
            : default;

    /// <summary>What a renderer that keeps to the rule does with its numbers.</summary>
    private static Vector2 Rendered(PlacementRule rule, PlacementTerms terms, Vector2 uv)
    {
        var at = rule.VDown ? new Vector2(uv.X, 1 - uv.Y) : uv;
        var shift = new Vector2(terms.ShiftU, terms.ShiftV);
        var degrees = rule.Angle == AngleUnit.Radians ? terms.Angle * 180 / Math.PI : terms.Angle;
        if (rule.Sense == RotationSense.CounterClockwise)
            degrees = -degrees;
        Vector2 Scaled(Vector2 v) =>
            rule.Scale == ScaleSense.Divide ? new(v.X / terms.ScaleU, v.Y / terms.ScaleV) : new(v.X * terms.ScaleU, v.Y * terms.ScaleV);
        var pivot = rule.Pivot is [var x, var y] ? new Vector2(x, y) : Vector2.Zero;
        if (rule.Shift == ShiftTime.Before)
            at -= shift;
        at -= pivot;
        at = rule.Order == TransformOrder.RotateThenScale ? Scaled(Turned(at, degrees)) : Turned(Scaled(at), degrees);
        at += pivot;
        if (rule.Shift == ShiftTime.After)
            at += shift;
        return rule.VDown ? new(at.X, 1 - at.Y) : at;
    }

    private static PlacementRule Rule(ScaleSense scale, TransformOrder order, ShiftTime shift, RotationSense sense, bool down) =>
        new("move", null, "at", "scale", "turn", "shift", scale, order, shift, sense, AngleUnit.Degrees, down);

    /// <summary>A repeating picture is the same a whole repeat on.</summary>
    private static void Same(Vector2 expected, Vector2 actual, object what)
    {
        var d = expected - actual;
        if (MathF.Abs(d.X - MathF.Round(d.X)) > 2e-4f || MathF.Abs(d.Y - MathF.Round(d.Y)) > 2e-4f)
            Assert.Fail($"{what}: {expected} expected, {actual} shown");
    }

    [Theory, MemberData(nameof(Rules))]
    public void ARendererShowsWhatTheLookShows(ScaleSense scale, TransformOrder order, ShiftTime shift, RotationSense sense, bool down)
    {
        PlacementRule[] rules =
        [
            Rule(scale, order, shift, sense, down),
            Rule(scale, order, shift, sense, down) with
            {
                Angle = AngleUnit.Radians,
            },
            .. shift == ShiftTime.After ? [Rule(scale, order, shift, sense, down) with { Pivot = [0.5f, 0.5f] }] : (PlacementRule[])[],
        ];
        var said = 0;
        foreach (var rule in rules)
        foreach (var placement in Placements.Where(p => PlacementTerms.CanSay(rule, p)))
        {
            var terms = PlacementTerms.Of(rule, placement);
            var back = terms.ToPlacement(rule);
            said++;
            foreach (var uv in Points)
            {
                Same(placement.Apply(uv), Rendered(rule, terms, uv), (rule, placement));
                Same(placement.Apply(uv), back.Apply(uv), (rule, placement, "and back"));
            }
        }
        // Unequal repeats turned by an odd angle are what one of the two orders cannot say.
        Assert.True(said >= rules.Length * (Placements.Length - 2), $"only {said} placements were said");
        Assert.Contains(Placements, p => !PlacementTerms.CanSay(rules[0], p));
    }

    [Fact]
    public void AVariedTilingIsSaidByNoTransform() =>
        Assert.False(
            PlacementTerms.CanSay(
                Rule(ScaleSense.Multiply, TransformOrder.RotateThenScale, ShiftTime.Before, RotationSense.CounterClockwise, false),
                new(2, 2, Variation: new())
            )
        );

    [Fact]
    public void AnotherOrderIsAskedForOnlyWhereItIsNeeded()
    {
        var rule = Rule(ScaleSense.Divide, TransformOrder.RotateThenScale, ShiftTime.Before, RotationSense.CounterClockwise, false) with
        {
            OrderPort = "operationorder",
        };
        var turnedAfter = new Placement(4, 1.5f, PictureRotationDegrees: 25);
        Assert.True(PlacementTerms.CanSay(rule, turnedAfter));
        Assert.False(PlacementTerms.InOwnOrder(rule, turnedAfter));
        Assert.True(PlacementTerms.InOwnOrder(rule, new(4, 1.5f, 25)));
        var first = rule.ScaledFirst();
        foreach (var uv in Points)
            Same(turnedAfter.Apply(uv), Rendered(first, PlacementTerms.Of(first, turnedAfter), uv), (first, "scaled first"));
    }
}
