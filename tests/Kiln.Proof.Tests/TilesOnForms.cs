using System.Numerics;
using Kiln.Proof.Materials;

namespace Kiln.Proof.Tests;

/// <summary>Which UDIM tile a form shows where.</summary>
public sealed class TilesOnForms
{
    [Fact]
    public void TheTilesTakeTheSquaresOfAFormInTurn()
    {
        var layout = TileLayout.Of([1001, 1002, 1011]);
        Assert.Equal(new Vector2(0.25f, 0.5f), layout.Place(new(0.25f, 0.5f)));
        Assert.Equal(new Vector2(1.25f, 0.5f), layout.Place(new(1.25f, 0.5f)));
        // The second row begins with the third tile, which lies at u 0, v 1.
        Assert.Equal(new Vector2(0.25f, 1.5f), layout.Place(new(0.25f, 1.5f)));
        Assert.Equal(new Vector2(0.25f, 0.5f), layout.Place(new(1.25f, 1.5f)));
        Assert.True(Inside(layout.Place(new(-0.1f, -0.2f)), [1001, 1002, 1011]));
    }

    [Fact]
    public void OneTileStandsEverywhereWhenAskedFor()
    {
        var layout = TileLayout.Of([1001, 1014]) with { Shown = 1014 };
        foreach (var uv in new Vector2[] { new(0.3f, 0.3f), new(1.3f, 7.3f), new(-2.7f, 0.3f), new(0.99999999f, 0.3f) })
            Assert.True(Inside(layout.Place(uv), [1014]), uv.ToString());
    }

    [Fact]
    public void WithoutTilesNothingIsMoved() => Assert.Equal(new Vector2(-3.5f, 12.25f), TileLayout.Of([]).Place(new(-3.5f, 12.25f)));

    private static bool Inside(Vector2 uv, int[] tiles) => Looks.Maps.MapTile.At(uv) is { } tile && tiles.Contains(tile);
}
