using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;

namespace Kiln.Dialects.Lowering;

/// <summary>A dialect's trims put onto a neutral input, in the order in which they stand.</summary>
public static class Trimming
{
    /// <param name="node">The input's own node; null where it has none (a direction that nothing turns).</param>
    /// <exception cref="ProfileException">A trim of an unknown kind.</exception>
    public static int? Apply(ShadeGraph graph, int? node, string input, IEnumerable<Trim> trims)
    {
        if (node is not { } result)
            return null;
        var leaves = false;
        foreach (var trim in trims.Where(t => t.Input == input))
        {
            result = graph.Add(Operation(trim.Operation), result, graph.Constant(trim.Value));
            leaves |= trim.Operation == "offset" || trim is { Operation: "gain", Value: > 1 or < 0 };
        }
        // What a trim pushes out of the input's range comes back to its end; nothing is added where nothing can leave.
        return leaves && NeutralInputs.Find(input) is { IsDirection: false } own
            ? graph.Add(ShadeOp.Clamp, result, graph.Constant(own.Low), graph.Constant(own.High))
            : result;
    }

    private static ShadeOp Operation(string name) =>
        name switch
        {
            "gain" => ShadeOp.Multiply,
            "offset" => ShadeOp.Add,
            "power" => ShadeOp.Power,
            _ => throw new ProfileException($"There is no trim '{name}'; gain, offset and power are."),
        };
}
