using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;

namespace Kiln.Viewport.Graphs;

/// <summary>How large the pictures of a shader's maps are: known before any of them is decoded.</summary>
/// <param name="Longest">Limits the longer side of every picture; null for as they are.</param>
public readonly record struct MapPlan(int? Longest)
{
    /// <summary>The size of a file's picture, its sides in their proportion.</summary>
    public (int Width, int Height) Size(int width, int height)
    {
        var most = Math.Max(width, height);
        if (Longest is not { } longest || most <= longest)
            return (width, height);
        int Side(int side) => Math.Max(1, (int)Math.Floor((double)side * longest / most + 0.5));
        return (Side(width), Side(height));
    }

    /// <summary>The UDIM tiles that any map has, in order.</summary>
    public static IReadOnlyList<int> Tiles(ShadeGraph graph, IEnumerable<int> roots) =>
        [
            .. graph
                .Needed(roots)
                .Select(n => graph[n].Image)
                .OfType<ImageLookup>()
                .Where(i => i.File.IsTiled)
                .SelectMany(i => i.File.Tiles!.Select(t => t.Number))
                .Distinct()
                .Order(),
        ];

    /// <summary>Side of a texel of the finest map below a node, in units of the surface's UV; that without maps where there is
    /// none.</summary>
    public float FinestTexel(ShadeGraph graph, int node)
    {
        var finest = float.PositiveInfinity;
        foreach (var image in graph.Needed(node).Select(n => graph[n].Image).OfType<ImageLookup>())
        {
            var (width, height) = Size(image.File.Width, image.File.Height);
            finest = MathF.Min(finest, ShadeProgram.TexelOf(width, height, image.Placement));
        }
        return float.IsFinite(finest) ? finest : ShadeProgram.TexelWithoutMaps;
    }
}
