using System.Numerics;

namespace Kiln.Demo.Models;

/// <summary>A part of a demo model: faces with as many corners as they need, anticlockwise from outside.</summary>
/// <param name="Uvs">Empty for a part without.</param>
/// <param name="Faces">Each corner's position and its place; the place counts for nothing where there are none.</param>
internal sealed record DemoPart(
    string Name,
    string Material,
    List<Vector3> Positions,
    List<Vector2> Uvs,
    List<IReadOnlyList<(int Position, int Place)>> Faces
)
{
    public static DemoPart Named(string name, string material) => new(name, material, [], [], []);

    public int Add(IEnumerable<Vector3> positions)
    {
        var first = Positions.Count;
        Positions.AddRange(positions);
        return first;
    }

    public int Add(IEnumerable<Vector2> uvs)
    {
        var first = Uvs.Count;
        Uvs.AddRange(uvs);
        return first;
    }

    public void Face(IEnumerable<(int Position, int Place)> corners) => Faces.Add([.. corners]);

    /// <summary>The same shape elsewhere, under another name.</summary>
    public DemoPart At(string name, Func<Vector3, Vector3> place) => this with { Name = name, Positions = [.. Positions.Select(place)] };
}

/// <summary>A material that a demo model's file names: pictures by role, wherever they are said to lie.</summary>
internal sealed record DemoMaterial(string Name, IReadOnlyList<(string Role, string Path)> Pictures);
