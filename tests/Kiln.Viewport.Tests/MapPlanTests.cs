using Kiln.Colour.Spaces;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Viewport.Graphs;

namespace Kiln.Viewport.Tests;

/// <summary>How large maps are drawn where memory is short.</summary>
public class MapPlanTests
{
    private const long Megabyte = 1 << 20;

    /// <summary>So many colour maps of one size, under one node.</summary>
    private static (ShadeGraph Graph, int Root) Maps(int count, int side)
    {
        var graph = new ShadeGraph();
        var root = graph.Constant(0);
        for (var i = 0; i < count; i++)
        {
            var file = new MapFile(ContentHash.Of([(byte)i]), $"{i}.png", side, side, 8, false, "png", ["R", "G", "B"], null);
            var image = graph.Image(new(file, new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb), Placement.Identity));
            root = i == 0 ? image : graph.Add(ShadeOp.Add, root, image);
        }
        return (graph, root);
    }

    /// <summary>A map of 1024 by 1024 with four halves a texel and its copies takes 4/3 of 8 MB: 24 of them go into 256 MB.</summary>
    [Theory]
    [InlineData(24, 1024)]
    [InlineData(25, 512)]
    [InlineData(96, 512)]
    [InlineData(97, 256)]
    public void FortyMapsOf8KAreDrawnSmaller(int count, int expected)
    {
        var (graph, root) = Maps(count, 8192);
        Assert.Equal(expected, MapPlan.Within(graph, [root], 1024, 256 * Megabyte).Longest);
    }

    [Fact]
    public void SmallMapsStayAsTheyAre()
    {
        var (graph, root) = Maps(40, 256);
        var plan = MapPlan.Within(graph, [root], 1024, 256 * Megabyte);
        Assert.Equal(1024, plan.Longest);
        Assert.Equal((256, 256), plan.Size(256, 256));
    }

    [Fact]
    public void NoMapGoesBelow64()
    {
        var (graph, root) = Maps(3, 8192);
        Assert.Equal(64, MapPlan.Within(graph, [root], 1024, 1).Longest);
    }
}
