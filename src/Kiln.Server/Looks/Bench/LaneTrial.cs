using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Pixels.Writing;
using Kiln.Store.Looks;

namespace Kiln.Server.Looks.Bench;

/// <summary>A lane as it would be after an edit that is not kept.</summary>
/// <param name="From">The place of the step that moves, from 0; what stands before it stays. -1 for what the lane begins with.</param>
public sealed record TriedEdit(LaneAddress Lane, int From, LookEdit Edit);

/// <param name="Steps">How many steps of the lane the tile shows.</param>
/// <param name="Picture">PNG in base64.</param>
public sealed record TriedTile(LaneAddress Lane, int Steps, string Picture);

/// <summary>What changes on the board while something moves: tiles of the lane and of those it is an input of, and their meter.</summary>
public sealed record TriedLanes(IReadOnlyList<TriedTile> Tiles, Dictionary<string, Meter> Meters);

/// <summary>Tiles and meters while a control moves.</summary>
public sealed class LaneTrial(MapTextures textures, LookContextRepository contexts)
{
    private const int TextureSize = 512;

    /// <summary>More tiles than a board shows at once are not made while something moves.</summary>
    private const int MostTiles = 12;

    /// <exception cref="LookException">The edit cannot be made, or the lane has no chain.</exception>
    public async Task<TriedLanes> OfAsync(LookRow row, TriedEdit tried, CancellationToken cancel)
    {
        var around = await contexts.OfLookAsync(row.Id);
        var look = tried.Edit.Apply(row.Look()).Look;
        var graph = new ShadeGraph(around.Space);
        var tiles = Tiles(look, new LaneGraphs(look, graph), tried).Take(MostTiles).ToList();
        var own = Outermost(tried.Lane);
        // A meter is of what is rendered, with the trims of the look's collections.
        var trimmed = look.Under(around.Trims);
        var end = trimmed.LaneAt(own)?.Chain is { } chain
            ? Meter.Node(graph, own, new LaneGraphs(trimmed, graph).Chain(chain))
            : (int?)null;
        var nodes = end is { } e ? tiles.Select(t => t.Node).Append(e) : tiles.Select(t => t.Node);
        var program = await ShadeProgram.LoadAsync(graph, nodes, textures, TextureSize, cancel);
        Pixels.ImageBuffer Picture(int node) => program.Picture(node, Meter.Side, Meter.Side, graph[node].Type);
        return new(
            [
                .. tiles.Select(t => new TriedTile(
                    t.Lane,
                    t.Steps,
                    Convert.ToBase64String(PictureWriter.Png(ShownPicture.Of(Picture(t.Node), graph[t.Node].Type, graph.Working), 1))
                )),
            ],
            end is { } measured ? new() { [own.Text] = Meter.Of(Picture(measured), graph[measured].Type) } : []
        );
    }

    private static LaneAddress Outermost(LaneAddress lane) => lane.Side is { } side ? Outermost(side.Owner) : lane;

    /// <summary>From the step that moves to the lane's end, then the same of the lane whose step this is an input of.</summary>
    private static IEnumerable<(LaneAddress Lane, int Steps, int Node)> Tiles(Look look, LaneGraphs lanes, TriedEdit tried)
    {
        var (lane, from) = (tried.Lane, tried.From);
        while (true)
        {
            var chain = look.LaneAt(lane)?.Chain ?? throw new LookException($"{lane.Label} has no map.");
            for (var steps = from + 1; steps <= chain.Steps.Length; steps++)
                yield return (lane, steps, lanes.Chain(chain, steps));
            if (lane.Side is not { } side)
                yield break;
            lane = side.Owner;
            from = look.LaneAt(lane)?.Chain?.Steps.ToList().FindIndex(s => s.Id == side.Step) ?? 0;
        }
    }
}
