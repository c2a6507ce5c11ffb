using System.Collections.Immutable;
using System.Numerics;
using System.Runtime.Intrinsics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Proof.Materials;
using Kiln.Scattering;
using Kiln.Simd;

namespace Kiln.Analysis.Fit;

/// <summary>
/// How bright a dialect's surface looks from several angles under lights of several sizes: cosine-weighted reflectance integrated over each
/// light, as the
/// lightness L* (CIE 15) beside a perfect white diffuser, per colour. Lights are soft-edged and stand where a mirror would show them and
/// off it, each over
/// a dim surround, so that the core of a reflection, its edge and its tail all count as they do in a picture. The integral goes over
/// half-way directions,
/// in steps that become fine around the mirror's own. Relief, opacity and light that passes through are not part of it.
/// </summary>
public sealed class DialectReflectance
{
    private static readonly double[] Views = [10, 35, 55, 72];

    // Radius of a light and how far its middle is off the mirror's direction, in degrees; and how bright the surround is beside it.
    private static readonly (double Radius, double Off)[] Lights = [(3, 0), (3, 8), (12, 0), (12, 20), (30, 0), (30, 50)];
    private const float Surround = 0.1f;

    private static readonly Sight[] Sights = [.. Views.Select(v => new Sight(v))];

    private readonly DialectProfile profile;
    private readonly WorkingSpace working;
    private readonly SurfaceModel model;

    public DialectReflectance(DialectProfile profile, WorkingSpace working)
    {
        (this.profile, this.working) = (profile, working);
        model = DialectModels.Of(profile.Scattering) with { FromXyz = EqualEnergy.To(working.Space) };
    }

    /// <summary>Numbers that one point gives.</summary>
    public static int Size => 3 * (Sights.Length * (Lights.Length + 1) + 1);

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
        var share = Vector3.One;
        Span<Vector3> seen = stackalloc Vector3[Lights.Length + 1];
        foreach (var sight in Sights)
        {
            var surface = Surface.Of(model, p, sight.Towards);
            share = surface.EmissionShare;
            seen.Clear();
            for (var k = 0; k < sight.From.Length; k++)
            {
                var reflected = surface.Evaluate(sight.From[k]).Sum;
                for (var light = 0; light < seen.Length; light++)
                    seen[light] += Sum(reflected * sight.Weights[light][k]);
            }
            foreach (var radiance in seen)
                Put(radiance, answers);
        }
        Put(p.Emission * share, answers);
    }

    private static Vector3 Sum(in Wide3 v) => new(Vector256.Sum(v.X), Vector256.Sum(v.Y), Vector256.Sum(v.Z));

    private SurfaceParameters Parameters(IReadOnlyDictionary<string, Vector3> point, ImmutableArray<Trim> trims)
    {
        var graph = new ShadeGraph(working);
        var trimmed = new Dictionary<string, int?>();
        int? Neutral(string name) =>
            trimmed.TryGetValue(name, out var known)
                ? known
                : trimmed[name] = point.TryGetValue(name, out var v)
                    ? Trimming.Apply(
                        graph,
                        graph.Constant(v, Looks.Inputs.NeutralInputs.Find(name).IsColour ? ShadeType.Colour : ShadeType.Scalar),
                        name,
                        trims
                    )
                    : null;
        var p = SurfaceParameters.Plain;
        foreach (var (parameter, formula) in profile.ScatteringFormulas)
            if (
                SurfaceParameterNames.All.TryGetValue(parameter, out var set)
                && ExpressionGraph.Build(formula, graph, name => DialectModels.Input(profile, name, graph, Neutral)) is { } node
            )
                set(ref p, graph.ValueOf(node));
        return p;
    }

    /// <summary>CIE 15: f(t) = cube root of t, straight near black; without end above white.</summary>
    private static double Lightness(float t) =>
        !float.IsFinite(t) ? 0
        : t > 216.0 / 24389 ? Math.Cbrt(t)
        : (24389.0 / 27 * t + 16) / 116;

    /// <summary>One angle of view: the directions that light may come from, and per light what each of them weighs.</summary>
    private sealed class Sight
    {
        private const int Tilts = 22,
            Azimuths = 8;

        public Sight(double degrees)
        {
            var angle = degrees * Math.PI / 180;
            Towards = new((float)Math.Sin(angle), 0, (float)Math.Cos(angle));
            var from = new List<Vector3>();
            var weights = Enumerable.Range(0, Lights.Length + 1).Select(_ => new List<float>()).ToList();
            for (var i = 0; i < Tilts; i++)
            {
                var tilt = Tilt(i + 0.5);
                // Both halves of the circle are alike: one is walked, and counts twice.
                var size = 2 * (Math.Cos(Tilt(i)) - Math.Cos(Tilt(i + 1))) * Math.PI / Azimuths;
                for (var j = 0; j < Azimuths; j++)
                {
                    var azimuth = Math.PI * (j + 0.5) / Azimuths;
                    var h = new Vector3(
                        (float)(Math.Sin(tilt) * Math.Cos(azimuth)),
                        (float)(Math.Sin(tilt) * Math.Sin(azimuth)),
                        (float)Math.Cos(tilt)
                    );
                    var wi = 2 * Vector3.Dot(Towards, h) * h - Towards;
                    if (wi.Z <= 0.001f)
                        continue;
                    from.Add(wi);
                    // From half-way directions to directions of light: dω = 4 (o · h) dω_h (Walter et al. 2007, equation 14).
                    var weight = (float)(size * 4 * Vector3.Dot(Towards, h));
                    for (var light = 0; light < Lights.Length; light++)
                        weights[light].Add(weight * (Surround + Bright(wi, angle, Lights[light])));
                    weights[^1].Add(weight);
                }
            }
            // Eights; what is over weighs nothing.
            while (from.Count % WideMath.Lanes != 0)
            {
                from.Add(Towards);
                weights.ForEach(w => w.Add(0));
            }
            Vector256<float> Eight(int k, Func<int, float> number) =>
                Vector256.Create([.. Enumerable.Range(k * WideMath.Lanes, WideMath.Lanes).Select(number)]);
            var eights = Enumerable.Range(0, from.Count / WideMath.Lanes).ToList();
            From = [.. eights.Select(k => new Wide3(Eight(k, i => from[i].X), Eight(k, i => from[i].Y), Eight(k, i => from[i].Z)))];
            Weights = [.. weights.Select(w => eights.Select(k => Eight(k, i => w[i])).ToArray())];
        }

        public Vector3 Towards { get; }

        /// <summary>Eight directions each.</summary>
        public Wide3[] From { get; }

        /// <summary>The lights in order, then light of 1 from everywhere.</summary>
        public Vector256<float>[][] Weights { get; }

        private static double Tilt(double step) => Math.PI / 2 * Math.Pow(step / Tilts, 3);

        /// <summary>1 in the light, falling to 0 over a third of its radius.</summary>
        private static float Bright(Vector3 wi, double view, (double Radius, double Off) light)
        {
            // Off the mirror's direction towards the normal, and beyond it: never below the horizon.
            var at = view - light.Off * Math.PI / 180;
            var middle = new Vector3(-(float)Math.Sin(at), 0, (float)Math.Cos(at));
            var away = Math.Acos(Math.Clamp(Vector3.Dot(wi, middle), -1, 1)) * 180 / Math.PI;
            var t = Math.Clamp((light.Radius * 7 / 6 - away) / (light.Radius / 3), 0, 1);
            return (float)(t * t * (3 - 2 * t));
        }
    }
}
