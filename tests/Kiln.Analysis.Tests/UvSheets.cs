using System.Numerics;
using Kiln.Analysis.Models;
using Kiln.Models;
using Kiln.Pixels;

namespace Kiln.Analysis.Tests;

/// <summary>Drawings of UVs: which pixels are covered, doubly covered, mirrored and in which step, told by formulas.</summary>
public class UvSheets
{
    private static readonly Vector3 Under = new(0.5f);

    /// <summary>Rectangles on one plane, each with its corners in UV; on the part they are as large as they say.</summary>
    private static (ModelPart, UvSet) Part(params (Vector2 Min, Vector2 Max, Vector2 Size, bool IsMirrored)[] all)
    {
        var (positions, places, corners) = (new List<Vector3>(), new List<Vector2>(), new List<int>());
        foreach (var (min, max, size, isMirrored) in all)
        {
            var first = positions.Count;
            positions.AddRange([default, new(size.X, 0, 0), new(size.X, size.Y, 0), new(0, size.Y, 0)]);
            var (left, right) = isMirrored ? (max.X, min.X) : (min.X, max.X);
            places.AddRange([new(left, min.Y), new(right, min.Y), new(right, max.Y), new(left, max.Y)]);
            corners.AddRange(((int[])[0, 1, 2, 0, 2, 3]).Select(i => first + i));
        }
        var set = new UvSet("st", [.. places], [.. corners]);
        return (new("/a", "a", null, [.. positions], [.. corners], [set], null), set);
    }

    private static (byte R, byte G, byte B) At(UvSheet sheet, ImageBuffer picture, float u, float v)
    {
        var x = (int)((u - sheet.From.X) / (sheet.To.X - sheet.From.X) * sheet.Width);
        var y = (int)((sheet.To.Y - v) / (sheet.To.Y - sheet.From.Y) * sheet.Height);
        var at = 3 * (y * sheet.Width + x);
        return (picture.Data[at], picture.Data[at + 1], picture.Data[at + 2]);
    }

    [Fact]
    public void WhatIsCoveredIsTheMapAndWhatIsNotIsPale()
    {
        var one = new Vector2(1, 1);
        var sheet = new UvSheet([Part((new(0, 0), new(0.5f, 0.5f), one, false), (new(0.25f, 0.25f), new(0.75f, 0.75f), one, false))], 400);
        Assert.Equal((400, 400), (sheet.Width, sheet.Height));
        var picture = sheet.Draw(UvTone.Layout, (_, _) => Under);
        Assert.Equal((128, 128, 128), At(sheet, picture, 0.1f, 0.2f));
        var bare = At(sheet, picture, 0.9f, 0.1f);
        Assert.True(bare.R > 180, bare.ToString());
        var twice = At(sheet, picture, 0.3f, 0.4f);
        Assert.True(twice.R < 110 && twice.B > twice.R, twice.ToString());
        // Borders of islands are lines.
        Assert.True(At(sheet, picture, 0.5f, 0.1f).R < 60);
    }

    [Fact]
    public void WhatIsMirroredIsHatched()
    {
        var sheet = new UvSheet([Part((new(0, 0), new(0.5f, 1), new(1, 2), true), (new(0.5f, 0), new(1, 1), new(1, 2), false))], 400);
        var picture = sheet.Draw(UvTone.Layout, (_, _) => Under);
        int Dark(float from) => Enumerable.Range(0, 60).Count(i => At(sheet, picture, from + i * 0.005f, 0.15f).R < 110);
        Assert.InRange(Dark(0.1f), 10, 25);
        Assert.Equal(0, Dark(0.6f));
    }

    /// <summary>The picture is 1.4 times as wide as high on the part; on one of two parts it is three times as large.</summary>
    [Fact]
    public void StretchAndDensityAreSteps()
    {
        var steps = UvSteps.Of(UvTone.Stretch);
        (byte, byte, byte) Step(int i) => (steps[i].Red, steps[i].Green, steps[i].Blue);
        var stretched = new UvSheet([Part((new(0, 0), new(1, 1), new(1.4f, 1), false))], 200);
        Assert.Equal(Step(2), At(stretched, stretched.Draw(UvTone.Stretch, (_, _) => Under), 0.3f, 0.1f));
        // Most of the area has the first density.
        var dense = new UvSheet(
            [Part((new(0, 0), new(0.5f, 0.5f), new(2, 2), false), (new(0.6f, 0), new(0.9f, 0.3f), new(0.4f, 0.4f), false))],
            200
        );
        var picture = dense.Draw(UvTone.Density, (_, _) => Under);
        Assert.Equal(Step(0), At(dense, picture, 0.3f, 0.1f));
        Assert.Equal(Step(4), At(dense, picture, 0.8f, 0.1f));
    }

    [Fact]
    public void WholeTilesAreDrawnUpToTwelve()
    {
        var sheet = new UvSheet([Part((new(1.1f, 0.1f), new(1.9f, 2.9f), new(1, 1), false))], 300);
        Assert.Equal((Vector2.Zero, new Vector2(2, 3)), (sheet.From, sheet.To));
        Assert.Equal((200, 300), (sheet.Width, sheet.Height));
        Assert.Equal(new Vector2(0.005f, 2.995f), sheet.At(0, 0));
        var far = new UvSheet([Part((new(-500, 0), new(800, 1), new(1, 1), false))], 300);
        Assert.Equal(12, far.To.X - far.From.X);
        far.Draw(UvTone.Layout, (_, _) => Under);
    }
}
