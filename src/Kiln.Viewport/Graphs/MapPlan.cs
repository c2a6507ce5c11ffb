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

    /// <summary>
    /// The largest sides with which all maps below some nodes take no more memory of a graphics processor than there is for them: the limit
    /// of the longer side is halved until they do. Halves, their copies by halves among them.
    /// </summary>
    /// <param name="longest">Of the longer side where memory allows it.</param>
    public static MapPlan Within(ShadeGraph graph, IEnumerable<int> roots, int longest, long bytes)
    {
        var pictures = graph
            .Needed(roots)
            .Select(n => graph[n].Image)
            .OfType<ImageLookup>()
            .SelectMany(i =>
                i.File.IsTiled ? i.File.Tiles!.Select(t => (File: i.File.OnTile(t.Number)!, i.Reading)) : [(i.File, i.Reading)]
            )
            .DistinctBy(p => new MapLayer(p.File, p.Reading).Key)
            .ToList();
        var plan = new MapPlan(longest);
        while (plan.Longest > Least && pictures.Sum(p => plan.Bytes(p.File, p.Reading.Components)) > bytes)
            plan = new(plan.Longest / 2);
        return plan;
    }

    /// <summary>No map is made smaller than this for want of memory.</summary>
    private const int Least = 64;

    private long Bytes(MapFile file, int components)
    {
        var (width, height) = Size(file.Width, file.Height);
        // Three components take the room of four; copies by halves a third more.
        return (long)width * height * (components == 1 ? 2 : 8) * 4 / 3;
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
