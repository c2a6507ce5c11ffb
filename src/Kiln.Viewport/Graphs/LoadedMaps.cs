using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;

namespace Kiln.Viewport.Graphs;

/// <summary>The pictures of a graph's lookups, by node.</summary>
public sealed class LoadedMaps
{
    private readonly IReadOnlyDictionary<int, MapTexture> pictures;

    private LoadedMaps(IReadOnlyDictionary<int, MapTexture> pictures) => this.pictures = pictures;

    /// <summary>Of a graph without lookups.</summary>
    public static LoadedMaps None { get; } = new(new Dictionary<int, MapTexture>());

    /// <param name="longest">Limits the longer side of every picture; null for as they are.</param>
    /// <exception cref="Pixels.PictureException">A map cannot be read; the message names it.</exception>
    public static async Task<LoadedMaps> LoadAsync(
        ShadeGraph graph,
        IEnumerable<int> roots,
        MapTextures maps,
        int? longest,
        CancellationToken cancel = default
    )
    {
        var images = graph.Needed(roots).Where(n => graph[n].Image is not null).ToList();
        var loaded = await Task.WhenAll(images.Select(n => maps.GetAsync(graph[n].Image!, graph.Working, longest, cancel)));
        return new(images.Zip(loaded).ToDictionary(p => p.First, p => p.Second));
    }

    public MapTexture Of(int node) => pictures[node];

    /// <summary>The UDIM tiles that any map has, in order.</summary>
    public IReadOnlyList<int> Tiles => [.. pictures.Values.SelectMany(p => p.Tiles).Distinct().Order()];

    /// <summary>Side of a texel of the finest map below a node, in units of the surface's UV; 1/4096 where there is none.</summary>
    public float FinestTexel(ShadeGraph graph, int node)
    {
        var texels = graph
            .Needed(node)
            .Where(n => graph[n].Image is not null)
            .Select(n => ShadeProgram.TexelOf(Of(n), graph[n].Image!.Placement))
            .ToList();
        return texels.Count == 0 ? ShadeProgram.TexelWithoutMaps : texels.Min();
    }
}
