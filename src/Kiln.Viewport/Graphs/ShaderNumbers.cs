using System.Numerics;

namespace Kiln.Viewport.Graphs;

/// <summary>
/// The numbers a shader reads, as an array of four each: what changes without a new shader. Single numbers are put four to an entry.
/// </summary>
public sealed class ShaderNumbers
{
    private readonly List<Vector4> entries = [];
    private int open = -1,
        taken = 4;

    public IReadOnlyList<Vector4> Entries => entries;

    /// <summary>Puts a number and gives the GLSL that reads it.</summary>
    public string Put(float value)
    {
        if (taken == 4)
        {
            (open, taken) = (entries.Count, 0);
            entries.Add(default);
        }
        var entry = entries[open];
        entry[taken] = value;
        entries[open] = entry;
        return $"{Name}[{open}].{"xyzw"[taken++]}";
    }

    public string Put(Vector3 value) => Put(new Vector4(value, 0)) + ".xyz";

    public string Put(Vector4 value)
    {
        entries.Add(value);
        return $"{Name}[{entries.Count - 1}]";
    }

    public const string Name = "uNumbers";

    public string Declaration => entries.Count == 0 ? "" : $"uniform vec4 {Name}[{entries.Count}];\n";
}
