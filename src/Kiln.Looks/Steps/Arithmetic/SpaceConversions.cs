using System.Collections.Concurrent;
using Kiln.Colour.Spaces;
using Kiln.Looks.Graph;

namespace Kiln.Looks.Steps.Arithmetic;

/// <summary>Transforms between named spaces, made once.</summary>
public static class SpaceConversions
{
    private static readonly ConcurrentDictionary<(string From, string To), ColourTransform> Made = new();

    public static ColourTransform Between(ConvertSpaceNode node) =>
        Made.GetOrAdd((node.From, node.To), n => ColourTransform.Between(ColourSpace.Find(n.From), ColourSpace.Find(n.To)));
}
