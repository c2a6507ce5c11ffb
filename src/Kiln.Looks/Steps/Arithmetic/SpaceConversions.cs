using System.Collections.Concurrent;
using Kiln.Colour;
using Kiln.Colour.Spaces;

namespace Kiln.Looks.Steps.Arithmetic;

/// <summary>Transforms between named spaces, made once.</summary>
public static class SpaceConversions
{
    private static readonly ConcurrentDictionary<string, ColourTransform> Made = new();

    public static string Name(string from, string to) => $"{from}>{to}";

    /// <param name="name">As <see cref="Name"/> gives it.</param>
    public static ColourTransform Between(string name) => Made.GetOrAdd(name, n =>
        {
            var parts = n.Split('>');
            return ColourTransform.Between(ColourSpace.Find(parts[0]), ColourSpace.Find(parts[1]));
        });
}
