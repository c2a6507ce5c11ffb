using System.Numerics;

namespace Kiln.Scattering.Tests;

/// <summary>The models that dialects ask for, and surfaces that show one lobe or many.</summary>
public static class Surfaces
{
    public static readonly IReadOnlyDictionary<string, SurfaceModel> Models = new Dictionary<string, SurfaceModel>
    {
        ["eon, exact, F82, compensated"] = new(DiffuseModel.Eon, DielectricModel.Exact, MetalModel.F82, true),
        ["Lambert, Schlick, no compensation"] = new(
            DiffuseModel.Lambert,
            DielectricModel.Schlick,
            MetalModel.Schlick,
            false,
            Distribution.Ggx,
            FuzzModel.Charlie
        ),
        ["Lambert, Schlick, compensated"] = new(DiffuseModel.Lambert, DielectricModel.Schlick, MetalModel.Schlick, true),
        ["Lambert, exact, no compensation"] = new(DiffuseModel.Lambert, DielectricModel.Exact, MetalModel.F82, false),
        ["Beckmann, Lambert, Schlick"] = new(
            DiffuseModel.Lambert,
            DielectricModel.Schlick,
            MetalModel.Schlick,
            false,
            Distribution.Beckmann
        ),
        ["Oren and Nayar, exact, complex index, one tint, compensated"] = new(
            DiffuseModel.OrenNayar,
            DielectricModel.Exact,
            MetalModel.Conductor,
            true,
            Distribution.Ggx,
            FuzzModel.Charlie,
            CoatAbsorbs: false
        ),
        ["Beckmann, eon, exact, compensated"] = new(DiffuseModel.Eon, DielectricModel.Exact, MetalModel.F82, true, Distribution.Beckmann),
    };

    public static SurfaceModel Full => Models["eon, exact, F82, compensated"];

    public static SurfaceModel Packed => Models["Lambert, Schlick, no compensation"];

    public static SurfaceModel Complex => Models["Oren and Nayar, exact, complex index, one tint, compensated"];

    public static SurfaceModel Beckmann => Models["Beckmann, Lambert, Schlick"];

    public static SurfaceParameters White => SurfaceParameters.Plain with { BaseColour = Vector3.One };

    public static SurfaceParameters Metal(float width, float anisotropy = 0) =>
        White with
        {
            Metalness = 1,
            Width = width,
            Anisotropy = anisotropy,
        };

    public static SurfaceParameters Glass(float width, float ior = 1.5f) => White with { Transmission = 1, Width = width, Ior = ior };

    public static Vector3 At(float cos, float degrees = 0)
    {
        var (sin, c) = MathF.SinCos(degrees * MathF.PI / 180);
        var r = MathF.Sqrt(1 - cos * cos);
        return new(r * c, r * sin, cos);
    }

    /// <summary>
    /// Share of light under radiance 1 from everywhere that goes back to <paramref name="wo"/>, until its standard error is small enough.
    /// </summary>
    public static (Vector3 Mean, double Error) Albedo(
        SurfaceModel model,
        SurfaceParameters p,
        Vector3 wo,
        double error = 0.001,
        bool inside = false
    )
    {
        var surface = Surface.Of(model, p, wo, inside);
        var random = new Random(7);
        double squares = 0,
            sum = 0;
        var all = Vector3.Zero;
        var n = 0;
        const int side = 160;
        for (var round = 0; round < 400; round++)
        {
            var part = Vector3.Zero;
            for (var i = 0; i < side; i++)
            for (var j = 0; j < side; j++)
            {
                var wi = surface.Sample(random.NextSingle(), new((i + random.NextSingle()) / side, (j + random.NextSingle()) / side));
                var f = surface.Evaluate(wi, out var density).Sum;
                var v = density > 0 ? f / density : Vector3.Zero;
                part += v;
                var most = (double)MathF.Max(v.X, MathF.Max(v.Y, v.Z));
                sum += most;
                squares += most * most;
            }
            all += part / (side * side);
            n += side * side;
            var mean = sum / n;
            var now = Math.Sqrt(Math.Max(0, squares / n - mean * mean) / n);
            if (now <= error)
                return (all / (round + 1), now);
        }
        return (all / 400, Math.Sqrt(Math.Max(0, squares / n - sum / n * (sum / n)) / n));
    }
}
