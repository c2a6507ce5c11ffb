using System.Numerics;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Graph;
using Kiln.Scattering;

namespace Kiln.Proof.Materials;

/// <summary>What a profile says about scattering, in the terms of the proof.</summary>
public static class DialectModels
{
    public static SurfaceModel Of(ScatteringRule rule) =>
        new(
            Enum.Parse<DiffuseModel>(rule.Diffuse, true),
            Enum.Parse<DielectricModel>(rule.Dielectric, true),
            Enum.Parse<MetalModel>(rule.Metal, true),
            rule.Compensation,
            Enum.Parse<Distribution>(rule.Distribution, true),
            Enum.Parse<FuzzModel>(rule.Fuzz, true),
            rule.Coat == "absorbing"
        );

    /// <summary>A dialect's input by its formula over neutral inputs, or its default; null for a direction that nothing turns.</summary>
    public static int? Input(DialectProfile profile, string name, ShadeGraph graph, Func<string, int?> neutral)
    {
        var input = profile.Input(name);
        var node = profile.Formulas.TryGetValue(name, out var formula) ? ExpressionGraph.Build(formula, graph, neutral) : null;
        return node is { } n ? graph.As(n, input.ShadeType)
            : input.Default is { } d ? graph.Constant(d.Length == 3 ? new Vector3(d[0], d[1], d[2]) : new Vector3(d[0]), input.ShadeType)
            : null;
    }
}
