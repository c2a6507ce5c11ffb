using System.Collections.Immutable;
using System.Numerics;
using Kiln.Colour;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Proof.Materials;
using Kiln.Scattering;

namespace Kiln.Judge.Fit;

/// <summary>
/// How a dialect's surface answers a small light, seen from several angles: the distribution times the cosine, as the lightness of that point beside
/// a perfect white diffuser (CIE 15, the cube root of L*), per colour. Lights stand where the half-way direction is tilted in steps that are fine
/// around the mirror's direction, so that narrow and broad reflections count alike. Relief, opacity and light that passes through are not part of it.
/// </summary>
public sealed class DialectReflectance
{
    private static readonly double[] Views = [8, 30, 50, 68, 80];
    private static readonly (Vector3 Wo, Vector3 Wi)[] Directions = [.. Lit()];

    private readonly DialectProfile profile;
    private readonly WorkingSpace working;
    private readonly SurfaceModel model;

    public DialectReflectance(DialectProfile profile, WorkingSpace working)
    {
        (this.profile, this.working) = (profile, working);
        model = DialectModels.Of(profile.Scattering) with { FromXyz = EqualEnergy.To(working.Space) };
    }

    /// <summary>Numbers that one point gives.</summary>
    public static int Size => 3 * (Directions.Length + 1);

    /// <summary>Answers of a point, then of its own light.</summary>
    public void Of(IReadOnlyDictionary<string, Vector3> point, ImmutableArray<Trim> trims, Span<double> answers)
    {
        var p = Parameters(point, trims);
        var at = 0;
        void Put(Vector3 light, Span<double> into)
        {
            for (var c = 0; c < 3; c++)
                into[at++] = Lightness(light[c]);
        }
        var wo = Vector3.Zero;
        var surface = default(Surface);
        foreach (var (view, wi) in Directions)
        {
            if (view != wo)
                surface = new(model, p, wo = view);
            Put(MathF.PI * surface.Evaluate(wi, out _).Sum, answers);
        }
        Put(p.Emission * surface.EmissionShare, answers);
    }

    private SurfaceParameters Parameters(IReadOnlyDictionary<string, Vector3> point, ImmutableArray<Trim> trims)
    {
        var graph = new ShadeGraph(working);
        var trimmed = new Dictionary<string, int?>();
        int? Neutral(string name) => trimmed.TryGetValue(name, out var known) ? known
            : trimmed[name] = point.TryGetValue(name, out var v) ? Trimming.Apply(graph, graph.Constant(v, Looks.Inputs.NeutralInputs.Find(name).IsColour ? ShadeType.Colour : ShadeType.Scalar), name, trims) : null;
        var p = SurfaceParameters.Plain;
        foreach (var (parameter, formula) in profile.ScatteringFormulas)
            if (SurfaceParameterNames.All.TryGetValue(parameter, out var set) && ExpressionGraph.Build(formula, graph, name => DialectModels.Input(profile, name, graph, Neutral)) is { } node)
                set(ref p, graph[node].Value);
        return p;
    }

    /// <summary>CIE 15: f(t) = cube root of t, straight near black; without end above white.</summary>
    private static double Lightness(float t) => !float.IsFinite(t) ? 0 : t > 216.0 / 24389 ? Math.Cbrt(t) : (24389.0 / 27 * t + 16) / 116;

    private static IEnumerable<(Vector3, Vector3)> Lit()
    {
        const int tilts = 12, turns = 4;
        foreach (var view in Views)
        {
            var wo = new Vector3((float)Math.Sin(view * Math.PI / 180), 0, (float)Math.Cos(view * Math.PI / 180));
            for (var k = 0; k < tilts; k++)
                for (var j = 0; j < (k == 0 ? 1 : turns); j++)
                {
                    double tilt = Math.PI / 2 * Math.Pow(k / (tilts - 0.5), 2), turn = Math.PI * (j + 0.5) / turns;
                    var h = new Vector3((float)(Math.Sin(tilt) * Math.Cos(turn)), (float)(Math.Sin(tilt) * Math.Sin(turn)), (float)Math.Cos(tilt));
                    var wi = 2 * Vector3.Dot(wo, h) * h - wo;
                    if (wi.Z > 0.02f)
                        yield return (wo, wi);
                }
        }
    }
}
