using System.Numerics;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;
using Kiln.Proof.Geometry;

namespace Kiln.Proof.Materials;

/// <summary>How a surface is moved, as nodes.</summary>
/// <param name="Metres">The node of the shift, in metres.</param>
/// <param name="Edge">Metres of the longest edge after subdivision.</param>
/// <param name="Level">Powers of two of texels on a side that the renderer reads heights at; null for those the map has.</param>
public sealed record SurfaceShift(ShadeGraph Graph, int Metres, float Edge, int Subdivision, float? Level)
{
    /// <summary>By the look's own settings; null where displacement is off.</summary>
    public static SurfaceShift? OfLook(Look look)
    {
        if (DisplacementSettings.Of(look, "displacement_on") == 0)
            return null;
        var (graph, d) = (new ShadeGraph(), look.Displacement);
        var height = new LaneGraphs(look, graph).Input("displacement")!.Value;
        var moved = graph.Add(
            ShadeOp.Multiply,
            graph.Add(ShadeOp.Subtract, height, graph.Constant(d.Midpoint)),
            graph.Constant(d.HeightMetres)
        );
        var bounded = graph.Add(ShadeOp.Clamp, moved, graph.Constant(-d.BoundMetres), graph.Constant(d.BoundMetres));
        return new(graph, bounded, d.EdgeMetres, d.Subdivision, null);
    }

    /// <summary>How a renderer of the dialect moves the surface, by what the network says and nothing else.</summary>
    public static SurfaceShift? OfNetwork(DialectProfile profile, ShadeGraph graph, Func<string, int?> input)
    {
        int? Node(string name) =>
            profile.DisplacementFormulas.TryGetValue(name, out var formula) ? ExpressionGraph.Build(formula, graph, input) : null;
        float? Number(string name) => Node(name) is { } node && graph.IsConstant(node) ? graph.ValueOf(node).X : null;
        if (Node("metres") is not { } metres || graph.IsConstant(metres) || Number("on") is not > 0)
            return null;
        var usual = new Displacement();
        return new(graph, metres, Number("edge") ?? usual.EdgeMetres, (int)(Number("subdivision") ?? usual.Subdivision), Number("level"));
    }

    /// <summary>Ready to move a form.</summary>
    /// <exception cref="Pixels.PictureException">A map cannot be read.</exception>
    public async Task<SurfaceDisplacement> LoadAsync(MapTextures maps, int? longest, CancellationToken cancel)
    {
        var heights = await ShadeProgram.LoadAsync(Graph, [Metres], maps, longest, cancel);
        var register = heights.Register(Metres);
        var layout = TileLayout.Of(heights.Tiles);
        var finest = Level is { } l ? MathF.Pow(2, -l) : 0;
        float At(Vector2 uv, float footprint)
        {
            var registers = heights.NewRegisters();
            heights.Run(layout.Place(uv), MathF.Max(footprint, finest), registers);
            return float.IsFinite(registers[register].X) ? registers[register].X : 0;
        }
        // What the heights depend on, and nothing else: an edit elsewhere leaves the form as it is.
        return new(At, Edge, Subdivision, $"{Graph.Fingerprint(Metres)}/{Level}/{Edge}/{Subdivision}/{longest}");
    }
}
