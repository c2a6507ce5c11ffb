using System.Numerics;
using Kiln.Looks.Maps;

namespace Kiln.Proof.Materials;

/// <summary>
/// Where a form shows which UDIM tile. The forms are not the models that the tiles were painted for, so each unit square of a form's UV
/// takes one tile:
/// the tiles in tile along u and up v, or one of them everywhere.
/// </summary>
/// <param name="Shown">The tile shown everywhere; null for all in tile.</param>
public readonly record struct TileLayout(int[] Numbers, int? Shown)
{
    /// <summary>Squares that a form has side by side before the next row begins, as the turned forms have them.</summary>
    private const int Across = 2;

    public static TileLayout Of(IReadOnlyList<int> tiles) => new([.. tiles], null);

    /// <summary>A point of the form's UV in the tile that its square takes; unchanged where there are no tiles.</summary>
    public Vector2 Place(Vector2 uv)
    {
        if (Numbers.Length == 0)
            return uv;
        float column = MathF.Floor(uv.X),
            row = MathF.Floor(uv.Y);
        var tile = ((int)column + Across * (int)row) % Numbers.Length;
        var corner = MapTile.Corner(Shown ?? Numbers[tile < 0 ? tile + Numbers.Length : tile]);
        // A fraction a hair below 1 may round up into the next tile.
        return corner + Vector2.Min(uv - new Vector2(column, row), new(0.999999f));
    }

    /// <summary>The same for eight points.</summary>
    internal (Wide U, Wide V) Place(Wide u, Wide v)
    {
        for (var lane = 0; lane < Lanes; lane++)
        {
            var placed = Place(new Vector2(u[lane], v[lane]));
            (u, v) = (u.WithElement(lane, placed.X), v.WithElement(lane, placed.Y));
        }
        return (u, v);
    }
}
