using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;
using Kiln.Pixels;

namespace Kiln.Analysis.Fit;

/// <summary>
/// The values a look's own maps take together: its neutral inputs at points strewn evenly over one repeat, so that what is often on the
/// surface
/// counts often. A look without maps has one point. Directions are left out: they turn the surface and do not change what it is made of.
/// </summary>
public sealed class LookSpread
{
    private const int Points = 40;
    private const float Footprint = 1f / 512;

    private LookSpread(IReadOnlyList<IReadOnlyDictionary<string, Vector3>> values) => Values = values;

    /// <summary>Per point, neutral input to value; scalars in all three components, colours linear in the working space.</summary>
    public IReadOnlyList<IReadOnlyDictionary<string, Vector3>> Values { get; }

    /// <summary>Whether an input is the same everywhere.</summary>
    public bool IsEven(string input) => Values.All(v => (v[input] - Values[0][input]).Length() < 1e-3f);

    /// <exception cref="PictureException">A map cannot be read.</exception>
    public static async Task<LookSpread> OfAsync(
        Look look,
        MapTextures maps,
        WorkingSpace working,
        int? longest,
        CancellationToken cancel = default
    )
    {
        var graph = new ShadeGraph(working);
        var lanes = new LaneGraphs(look, graph, displaces: false);
        var nodes = NeutralInputs.All.Where(i => !i.IsDirection).ToDictionary(i => i.Name, i => lanes.Input(i.Name)!.Value);
        var program = await ShadeProgram.LoadAsync(graph, nodes.Values, maps, longest, cancel);
        var registers = program.NewRegisters();
        var values = new List<IReadOnlyDictionary<string, Vector3>>();
        var even = nodes.Values.All(graph.IsConstant);
        for (var i = 0; i < (even ? 1 : Points); i++)
        {
            program.Run(Strewn(i), Footprint, registers);
            values.Add(nodes.ToDictionary(n => n.Key, n => registers[program.Register(n.Value)]));
        }
        return new(values);
    }

    /// <summary>A spread by given values, where there is no look: missing inputs have their defaults.</summary>
    public static LookSpread Of(IEnumerable<IReadOnlyDictionary<string, Vector3>> values) =>
        new([
            .. values.Select(v =>
                NeutralInputs
                    .All.Where(i => !i.IsDirection)
                    .ToDictionary(
                        i => i.Name,
                        i =>
                            v.TryGetValue(i.Name, out var own) ? own
                            : i.IsColour ? new(i.Default![0], i.Default[1], i.Default[2])
                            : new Vector3(i.Default![0])
                    )
            ),
        ]);

    /// <summary>
    /// Additive recurrence by the plastic number: even at every length (Roberts 2018, "The unreasonable effectiveness of quasirandom
    /// sequences"; from memory).
    /// </summary>
    private static Vector2 Strewn(int i) => new((0.5f + 0.7548776662f * i) % 1f, (0.5f + 0.5698402910f * i) % 1f);
}
