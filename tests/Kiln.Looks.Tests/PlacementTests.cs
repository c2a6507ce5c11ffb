using System.Numerics;
using Kiln.Looks.Maps;

namespace Kiln.Looks.Tests;

public class PlacementTests
{
    [Fact]
    public void TurningIsCounterClockwiseAboutThePivot()
    {
        // A picture turned by 90° counter-clockwise: what lay to the right of the middle now lies above it.
        var p = new Placement(RotationDegrees: 90);
        var picture = p.Apply(new Vector2(0.5f, 0.75f));
        Assert.Equal(0.75f, picture.X, 5);
        Assert.Equal(0.5f, picture.Y, 5);
    }

    [Fact]
    public void DirectionsTurnWithThePicture()
    {
        // A ramp that rises to the right has n_x < 0; turned by 90° it rises upwards: n_y < 0.
        var (xx, xy, yx, yy) = new Placement(RotationDegrees: 90).DirectionRotation;
        var n = new Vector2(-0.3f, 0);
        Assert.Equal(0f, xx * n.X + xy * n.Y, 5);
        Assert.Equal(-0.3f, yx * n.X + yy * n.Y, 5);
    }

    [Fact]
    public void UnequalRepeatsSteepenTheFinerAxis()
    {
        var (xx, _, _, yy) = new Placement(4, 1).DirectionRotation;
        Assert.Equal(2f, xx, 5);
        Assert.Equal(0.5f, yy, 5);
    }

    public static TheoryData<Placement> Placements =>
        [
            new(),
            new(RotationDegrees: 90),
            new(4, 1),
            new(2, 3, 30, 0.1f, 0.05f),
            new(3, 2, -20, MirrorU: true),
            new(0.5f, 5, 77, MirrorV: true),
            new(2, 2, 45, MirrorU: true, MirrorV: true),
        ];

    /// <summary>
    /// By the chain rule and nothing else: a step along the surface in the direction that comes out is a step along the map in the
    /// direction that went in.
    /// </summary>
    [Theory]
    [MemberData(nameof(Placements))]
    public void WhatRunsAlongTheMapRunsAlongTheSurface(Placement placement)
    {
        var (xx, xy, yx, yy) = placement.TangentRotation;
        for (var i = 0; i < 8; i++)
        {
            var (sin, cos) = MathF.SinCos(i * MathF.PI / 4 + 0.2f);
            var onSurface = new Vector2(xx * cos + xy * sin, yx * cos + yy * sin);
            var at = new Vector2(0.31f, 0.72f);
            var onMap = Vector2.Normalize(placement.Apply(at + onSurface * 1e-3f) - placement.Apply(at - onSurface * 1e-3f));
            Assert.True(Vector2.Distance(onMap, new(cos, sin)) < 2e-3f, $"{onMap} for {new Vector2(cos, sin)}");
        }
    }

    /// <summary>
    /// Relief and directions along the surface stay square to each other: a level line of a height runs across its slope, before and after.
    /// </summary>
    [Theory]
    [MemberData(nameof(Placements))]
    public void LevelLinesStayAcrossSlopes(Placement placement)
    {
        var (slope, along) = (placement.DirectionRotation, placement.TangentRotation);
        for (var i = 0; i < 8; i++)
        {
            var (sin, cos) = MathF.SinCos(i * MathF.PI / 4 + 0.2f);
            var gradient = new Vector2(slope.Xx * cos + slope.Xy * sin, slope.Yx * cos + slope.Yy * sin);
            var level = new Vector2(along.Xx * -sin + along.Xy * cos, along.Yx * -sin + along.Yy * cos);
            Assert.Equal(0f, Vector2.Dot(gradient, level), 4);
        }
    }

    [Fact]
    public void EqualRepeatsTurnBothAlike()
    {
        foreach (var placement in new Placement[] { new(3, 3, 40), new(2, 2, -130), new(RotationDegrees: 90) })
        {
            var ((a, b, c, d), (e, f, g, h)) = (placement.DirectionRotation, placement.TangentRotation);
            Assert.True(Vector4.Distance(new(a, b, c, d), new(e, f, g, h)) < 1e-5f, $"{placement}");
        }
    }
}
