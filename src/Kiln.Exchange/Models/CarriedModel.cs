using System.Numerics;
using Kiln.Dialects.Networks;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.Packages;

namespace Kiln.Exchange.Models;

/// <summary>A part of a model on its way out.</summary>
/// <param name="Path">Names from the root, each after a slash; no other part has it.</param>
/// <param name="Material">Its number among the model's; null for a part without a look.</param>
public sealed record CarriedPart(string Path, CarrierForm Form, int? Material);

/// <summary>A model with the networks that lie on its parts.</summary>
/// <param name="Name">As files and the root of documents are called.</param>
/// <param name="Materials">Each called otherwise, their textures too (<see cref="WrittenNames"/>).</param>
public sealed record CarriedModel(string Name, IReadOnlyList<CarriedPart> Parts, IReadOnlyList<Network> Materials)
{
    /// <summary>
    /// The same for a dialect that knows no UDIM tiles: a part whose maps have tiles becomes one for each tile that it lies in, moved to
    /// where pictures are, with a network of its own. What lies where a map has no tile has no material.
    /// </summary>
    public CarriedModel TileByTile()
    {
        var materials = new List<Network>();
        var numbers = new Dictionary<(int, int?), int>();
        int Number(int material, int? tile)
        {
            if (!numbers.TryGetValue((material, tile), out var at))
            {
                numbers[(material, tile)] = at = materials.Count;
                materials.Add(tile is { } t ? Materials[material].OnTile(t) : Materials[material]);
            }
            return at;
        }
        IEnumerable<CarriedPart> Split(CarriedPart part)
        {
            if (part.Material is not { } material)
                return [part];
            if (!Materials[material].IsTiled)
                return [part with { Material = Number(material, null) }];
            var whole = Materials[material].TilesToSplit().Whole.ToHashSet();
            var tiles = InTiles(part.Form).ToList();
            return tiles.Select(t => new CarriedPart(
                tiles.Count == 1 ? part.Path : $"{part.Path}/{t.Form.Name}_{t.Tile}",
                t.Form,
                whole.Contains(t.Tile) ? Number(material, t.Tile) : null
            ));
        }
        // Split before the materials are read: they are numbered on the way.
        List<CarriedPart> parts = [.. Parts.SelectMany(Split)];
        return this with { Parts = parts, Materials = materials };
    }

    /// <summary>The triangles of each UDIM tile, told by their middles, with UVs within 0..1.</summary>
    private static IEnumerable<(int Tile, CarrierForm Form)> InTiles(CarrierForm form)
    {
        (int U, int V) At(int triangle)
        {
            var sum = Vector2.Zero;
            for (var k = 0; k < 3; k++)
                sum += form.Uvs[form.Indices[3 * triangle + k]];
            return ((int)MathF.Floor(sum.X / 3), (int)MathF.Floor(sum.Y / 3));
        }
        return Enumerable
            .Range(0, form.Indices.Length / 3)
            .GroupBy(At)
            .OrderBy(g => (g.Key.V, g.Key.U))
            .Select(g => (1001 + g.Key.U + 10 * g.Key.V, Of(form, g, new(g.Key.U, g.Key.V))));
    }

    private static CarrierForm Of(CarrierForm form, IEnumerable<int> triangles, Vector2 shift)
    {
        var known = new Dictionary<int, int>();
        var (kept, indices) = (new List<int>(), new List<int>());
        foreach (var corner in triangles.SelectMany(t => form.Indices[(3 * t)..(3 * t + 3)]))
        {
            if (!known.TryGetValue(corner, out var at))
            {
                known[corner] = at = kept.Count;
                kept.Add(corner);
            }
            indices.Add(at);
        }
        T[] Kept<T>(T[] all) => [.. kept.Select(i => all[i])];
        return new(
            form.Name,
            Kept(form.Positions),
            Kept(form.Normals),
            Kept(form.Tangents),
            [.. kept.Select(i => form.Uvs[i] - shift)],
            [.. indices]
        );
    }
}
