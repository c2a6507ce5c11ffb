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
            rule.Diffuse switch
            {
                DiffuseWord.Eon => DiffuseModel.Eon,
                DiffuseWord.Lambert => DiffuseModel.Lambert,
                _ => DiffuseModel.OrenNayar,
            },
            rule.Dielectric == DielectricWord.Exact ? DielectricModel.Exact : DielectricModel.Schlick,
            rule.Metal switch
            {
                MetalWord.F82 => MetalModel.F82,
                MetalWord.Schlick => MetalModel.Schlick,
                _ => MetalModel.Conductor,
            },
            rule.Compensation,
            rule.Distribution == DistributionWord.Ggx ? Distribution.Ggx : Distribution.Beckmann,
            rule.Fuzz == FuzzWord.Zeltner ? FuzzModel.Zeltner : FuzzModel.Charlie,
            rule.Coat == CoatWord.Absorbing
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
