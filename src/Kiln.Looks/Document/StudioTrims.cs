using System.Collections.Immutable;

namespace Kiln.Looks.Document;

/// <summary>Trims that hold for all looks of a collection, beside those that a look has of its own.</summary>
public static class StudioTrims
{
    /// <summary>The look with them: what it says itself of an input goes before what its studio says.</summary>
    /// <param name="studio">By dialect.</param>
    public static Look Under(this Look look, IReadOnlyDictionary<string, ImmutableArray<Trim>> studio)
    {
        foreach (var (dialect, trims) in studio)
        {
            var own = look.Trims.GetValueOrDefault(dialect, []);
            var missing = trims.Where(t => own.All(o => o.Input != t.Input)).ToImmutableArray();
            if (missing.Length > 0)
                look = look with { Trims = look.Trims.SetItem(dialect, [.. own, .. missing]) };
        }
        return look;
    }
}
