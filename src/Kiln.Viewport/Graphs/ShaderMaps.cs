using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Viewport.Graphs;

/// <summary>One picture of a shader: which file, without tiles of its own, and how it is read.</summary>
public sealed record MapLayer(MapFile File, Reading Reading)
{
    /// <summary>What tells its numbers from others'.</summary>
    internal (ContentHash, ReadingKind, string, MapChannel) Key => (File.Content, Reading.Kind, Reading.Space.ToString(), Reading.Channel);
}

/// <summary>
/// Pictures of one size and precision, a layer each: one texture unit, however many they are.
/// </summary>
/// <param name="Number">Its place among the arrays of a shader.</param>
/// <param name="Components">1 or 3.</param>
/// <param name="IsPrecise">Whether halves are too coarse: heights, of which slopes are made.</param>
/// <param name="Repeats">Whether a picture goes on over its edges; UDIM tiles do not.</param>
public sealed record MapArray(int Number, int Width, int Height, int Components, bool IsPrecise, bool Repeats)
{
    private readonly List<MapLayer> layers = [];

    public IReadOnlyList<MapLayer> Layers => layers;

    /// <summary>The layer of a picture, which is put in when it is new.</summary>
    public int LayerOf(MapLayer layer)
    {
        var known = layers.FindIndex(l => l.Key == layer.Key);
        if (known < 0)
            layers.Add(layer);
        return known < 0 ? layers.Count - 1 : known;
    }
}

/// <summary>The maps of a shader, in arrays by size; equal lookups share a layer.</summary>
public sealed class ShaderMaps
{
    private readonly List<MapArray> arrays = [];

    public IReadOnlyList<MapArray> Arrays => arrays;

    /// <summary>The array and layer of one picture.</summary>
    public (int Array, int Layer) Put(MapPlan plan, MapLayer layer, bool isPrecise, bool repeats)
    {
        var (width, height) = plan.Size(layer.File.Width, layer.File.Height);
        var wanted = new MapArray(arrays.Count, width, height, layer.Reading.Components, isPrecise, repeats);
        var at = arrays.FindIndex(a => a.IsFor(wanted));
        if (at < 0)
        {
            at = wanted.Number;
            arrays.Add(wanted);
        }
        return (at, arrays[at].LayerOf(layer));
    }

    public static string Name(int array) => $"uMaps{array}";

    public string Declarations => string.Concat(arrays.Select((_, i) => $"uniform highp sampler2DArray {Name(i)};\n"));
}

internal static class MapArrays
{
    /// <summary>Whether pictures of the other may lie in this one.</summary>
    public static bool IsFor(this MapArray own, MapArray other) =>
        (own.Width, own.Height, own.Components, own.IsPrecise, own.Repeats)
        == (other.Width, other.Height, other.Components, other.IsPrecise, other.Repeats);
}
