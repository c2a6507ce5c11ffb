using System.Numerics;
using Kiln.Looks.Graph;

namespace Kiln.Viewport.Graphs;

/// <summary>A number of the document in a shader's numbers.</summary>
/// <param name="Name">As <see cref="LiveValues"/> has it.</param>
/// <param name="At">Its place among all numbers, four to an entry.</param>
/// <param name="Count">1, 3 of a colour in the space that its document names, or 3 for each point of a curve: x, y and tangent. Three lie
/// in one entry.</param>
public sealed record ShaderParameter(string Name, int At, int Count);

/// <summary>
/// The numbers a shader reads, as an array of four each: what changes without a new shader. Single numbers are put four to an entry.
/// </summary>
public sealed class ShaderNumbers
{
    private readonly List<Vector4> entries = [];
    private readonly List<ShaderParameter> parameters = [];
    private int open = -1,
        taken = 4;

    public IReadOnlyList<Vector4> Entries => entries;

    /// <summary>The numbers that have names of their own.</summary>
    public IReadOnlyList<ShaderParameter> Parameters => parameters;

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

    /// <summary>A number of the document, under its name.</summary>
    public string Put(ParameterNode parameter)
    {
        var isScalar = parameter.Type == ShadeType.Scalar;
        var text = isScalar ? Put(parameter.Value.X) : Put(parameter.Value);
        parameters.Add(new(parameter.Name, isScalar ? 4 * open + taken - 1 : 4 * (entries.Count - 1), isScalar ? 1 : 3));
        return text;
    }

    /// <summary>The points of a curve, each by itself; under its name where it has one.</summary>
    public IReadOnlyList<string> Put(CurveNode node)
    {
        var curve = node.Curve;
        if (node.Name is { } name)
            parameters.Add(new(name, 4 * entries.Count, curve.Length));
        return [.. Enumerable.Range(0, curve.Length / 3).Select(i => Put(new Vector3(curve[3 * i], curve[3 * i + 1], curve[3 * i + 2])))];
    }

    public const string Name = "uNumbers";

    public string Declaration => entries.Count == 0 ? "" : $"uniform vec4 {Name}[{entries.Count}];\n";
}
