using System.Globalization;
using System.Numerics;
using System.Reflection;
using System.Text;
using Kiln.Scattering;
using Kiln.Viewport.Graphs;
using Kiln.Viewport.Surfaces;
using Kiln.Viewport.Tests.Running;

namespace Kiln.Viewport.Tests;

/// <summary>
/// The surface model of the shader against Kiln.Scattering, whose formulas tests of its own hold against their sources: values, densities
/// and proposed directions at random pairs of directions, and the white furnace by the shader alone.
/// </summary>
[Collection(Shaders.Name)]
public sealed class SurfaceAgainstScattering(ShaderBrowser browser)
{
    private const float Tolerance = 0.01f;

    private static readonly FieldInfo[] Fields = typeof(SurfaceParameters).GetFields(BindingFlags.Public | BindingFlags.Instance);

    public static IReadOnlyDictionary<string, SurfaceModel> Models { get; } =
        new Dictionary<string, SurfaceModel>
        {
            ["eon, exact, F82, compensated"] = new(DiffuseModel.Eon, DielectricModel.Exact, MetalModel.F82, true),
            ["Lambert, Schlick, fibres even"] = new(
                DiffuseModel.Lambert,
                DielectricModel.Schlick,
                MetalModel.Schlick,
                false,
                Distribution.Ggx,
                FuzzModel.Charlie
            ),
            ["Lambert, Schlick, compensated"] = new(DiffuseModel.Lambert, DielectricModel.Schlick, MetalModel.Schlick, true),
            ["Oren and Nayar, complex index, one tint"] = new(
                DiffuseModel.OrenNayar,
                DielectricModel.Exact,
                MetalModel.Conductor,
                true,
                Distribution.Ggx,
                FuzzModel.Charlie,
                CoatAbsorbs: false
            ),
            ["Beckmann"] = new(DiffuseModel.Eon, DielectricModel.Exact, MetalModel.F82, true, Distribution.Beckmann),
        };

    public static TheoryData<string> ModelNames() => [.. Models.Keys];

    private static SurfaceParameters Plain => SurfaceParameters.Plain with { BaseColour = new(0.7f, 0.4f, 0.2f), Width = 0.3f };

    private static readonly Dictionary<string, SurfaceParameters> Surfaces = new()
    {
        ["plain"] = Plain,
        ["rough"] = Plain with { DiffuseRoughness = 0.8f, Width = 0.7f },
        ["metal"] = Plain with { Metalness = 1, SpecularColour = new(0.8f, 0.9f, 1) },
        ["stretched metal"] = Plain with { Metalness = 1, Width = 0.4f, Anisotropy = 0.7f },
        ["half metal"] = Plain with { Metalness = 0.5f, SpecularWeight = 0.6f, Width = 0.15f },
        ["both ends as colours"] = Plain with { ReflectanceAsColour = 1, SpecularColour = new(0.2f, 0.1f, 0.05f), EdgeColour = new(0.9f) },
        ["lacquered"] = Plain with { CoatWeight = 0.8f, CoatColour = new(0.9f, 0.6f, 0.4f), CoatWidth = 0.1f, CoatAnisotropy = 0.3f },
        ["cloth"] = Plain with { FuzzWeight = 0.9f, FuzzColour = new(0.9f, 0.8f, 0.9f), FuzzRoughness = 0.35f, SpecularWeight = 0.3f },
        ["skin"] = Plain with { Subsurface = 0.6f, SubsurfaceColour = new(0.9f, 0.4f, 0.3f) },
        ["leaf"] = Plain with { Subsurface = 0.7f, ThinWalled = 1, Transmission = 0.3f, TransmissionColour = new(0.6f, 0.9f, 0.5f) },
        ["glass"] = Plain with { Transmission = 1, Width = 0.2f, TransmissionColour = new(0.9f, 1, 0.95f) },
        ["film over glass"] = Plain with { Transmission = 0.5f, FilmWeight = 1, FilmThickness = 430, FilmIor = 1.35f },
        ["film over metal"] = Plain with { Metalness = 1, FilmWeight = 0.7f, FilmThickness = 300, FilmIor = 1.6f, Width = 0.25f },
        ["all at once"] = Plain with
        {
            Metalness = 0.3f,
            Transmission = 0.3f,
            TransmissionDepth = 0.1f,
            Subsurface = 0.2f,
            CoatWeight = 0.5f,
            CoatWidth = 0.2f,
            FuzzWeight = 0.3f,
            DiffuseRoughness = 0.4f,
            Anisotropy = 0.2f,
        },
    };

    private static readonly (Vector4[] Wo, Vector4[] Wi, Vector4[] U) Directions = Strewn(400);

    /// <summary>Pairs of directions, the second on both sides, and numbers to propose by.</summary>
    private static (Vector4[] Wo, Vector4[] Wi, Vector4[] U) Strewn(int count)
    {
        var random = new Random(11);
        Vector4 Direction(float least)
        {
            var z = least + (1 - least) * random.NextSingle();
            var (sin, cos) = MathF.SinCos(2 * MathF.PI * random.NextSingle());
            var r = MathF.Sqrt(MathF.Max(0, 1 - z * z));
            return new(r * cos, r * sin, z, 0);
        }
        return (
            [.. Enumerable.Range(0, count).Select(_ => Direction(0.05f))],
            [.. Enumerable.Range(0, count).Select(_ => Direction(-1))],
            [.. Enumerable.Range(0, count).Select(_ => new Vector4(random.NextSingle(), random.NextSingle(), random.NextSingle(), 0))]
        );
    }

    /// <summary>Numbers of a surface in the order of its fields, one entry each.</summary>
    private static Vector4[] Numbers(SurfaceParameters p) =>
        [.. Fields.Select(f => f.GetValue(p) is Vector3 v ? new Vector4(v, 0) : new Vector4((float)f.GetValue(p)!))];

    private static string Fragment(SurfaceModel model, string main)
    {
        var set = new StringBuilder();
        for (var i = 0; i < Fields.Length; i++)
        {
            var name = char.ToLowerInvariant(Fields[i].Name[0]) + Fields[i].Name[1..];
            var part = Fields[i].FieldType == typeof(Vector3) ? "xyz" : "x";
            set.Append(CultureInfo.InvariantCulture, $"  p.{name} = uSurface[{i}].{part};\n");
        }
        return $$"""
            #version 300 es
            precision highp float;
            precision highp int;
            uniform highp sampler2D uWo, uWi, uU;
            uniform vec4 uSurface[{{Fields.Length}}];
            uniform vec4 uInside[1];
            uniform int uRoot;
            out vec4 written;
            {{SurfaceText.Of(model, SurfaceLobes.All)}}
            void main() {
              KilnParameters p;
            {{set}}
              KilnFrame frame = KilnFrame(vec3(1.0, 0.0, 0.0), vec3(0.0, 1.0, 0.0), vec3(0.0, 0.0, 1.0));
              vec3 wo = texelFetch(uWo, ivec2(gl_FragCoord.xy), 0).xyz;
              vec3 wi = texelFetch(uWi, ivec2(gl_FragCoord.xy), 0).xyz;
              vec3 u = texelFetch(uU, ivec2(gl_FragCoord.xy), 0).xyz;
            {{main}}
            }
            """;
    }

    private Vector4[][] Run(
        SurfaceModel model,
        SurfaceParameters p,
        bool inside,
        int roots,
        string main,
        (Vector4[] Wo, Vector4[] Wi, Vector4[] U) at
    ) =>
        browser.Run(
            Fragment(model, main),
            roots,
            [new("uWo", at.Wo), new("uWi", at.Wi), new("uU", at.U)],
            new Dictionary<string, IReadOnlyList<Vector4>> { ["uSurface"] = Numbers(p), ["uInside"] = [new(inside ? 1 : 0)] },
            [],
            new Dictionary<string, float[]> { [SurfaceText.FromXyz] = SurfaceText.Matrix(model) },
            AlbedoOf(model)
        );

    private static ShaderBrowser.Layers AlbedoOf(SurfaceModel model) =>
        new(SurfaceText.Albedo, Scattering.Albedo.AlbedoLayers.Side, Scattering.Albedo.AlbedoLayers.Of(model.Distribution));

    private const string Values = """
          KilnLayers s;
          if (uInside[0].x > 0.5) s = kilnSurfaceInside(p, wo);
          else s = kilnSurface(p, wo, frame);
          float density;
          KilnLight light = kilnEvaluate(s, wi, density);
          if (uRoot == 0) written = vec4(light.diffuse, density);
          if (uRoot == 1) written = vec4(light.specular, 0.0);
          if (uRoot == 2) written = vec4(light.coat, 0.0);
          if (uRoot == 3) written = vec4(light.through, 0.0);
          if (uRoot == 4) written = vec4(kilnSample(s, u.x, u.yz), 0.0);
          if (uRoot == 5) written = vec4(kilnEmissionShare(s), 0.0);
        """;

    [Theory]
    [MemberData(nameof(ModelNames))]
    public void ValuesDensitiesAndProposalsAgree(string name)
    {
        var model = Models[name] with { FromXyz = EqualEnergyMatrix };
        var faults = new List<string>();
        foreach (var (surfaceName, p) in Surfaces)
        foreach (var inside in p.Transmission > 0 && p.ThinWalled == 0 ? [false, true] : new[] { false })
        {
            var written = Run(model, p, inside, 6, Values, Directions);
            for (var i = 0; i < Directions.Wo.Length; i++)
            {
                Vector3 wo = Directions.Wo[i].AsVector3(),
                    wi = Directions.Wi[i].AsVector3();
                var surface = Surface.Of(model, p, wo, inside);
                var light = surface.Evaluate(wi, out var density);
                var u = Directions.U[i];
                var proposed = surface.Sample(u.X, new(u.Y, u.Z));
                void Hold(string what, Vector3 shader, Vector3 ours, float least)
                {
                    if (!((shader - ours).Length() <= Tolerance * MathF.Max(ours.Length(), least)))
                        faults.Add($"{surfaceName}{(inside ? ", inside" : "")}, {what}: {shader}, not {ours}; wo {wo}, wi {wi}");
                }
                Hold("diffuse", written[0][i].AsVector3(), light.Diffuse, 0.01f);
                Hold("specular", written[1][i].AsVector3(), light.Specular, 0.01f);
                Hold("coat", written[2][i].AsVector3(), light.Coat, 0.01f);
                Hold("through", written[3][i].AsVector3(), light.Transmission, 0.01f);
                Hold("density", new(written[0][i].W), new(density), 0.01f);
                Hold("emission", written[5][i].AsVector3(), inside ? written[5][i].AsVector3() : surface.EmissionShare, 0.01f);
                // A number at the border between two lobes may fall to either.
                if ((written[4][i].AsVector3() - proposed).Length() > 0.01f)
                    faults.Add($"{surfaceName}{(inside ? ", inside" : "")}, proposed: {written[4][i]}, not {proposed}; wo {wo}, u {u}");
            }
        }
        var checkedValues = Directions.Wo.Length * Surfaces.Count;
        Assert.True(faults.Count <= checkedValues / 1000, $"{faults.Count} of {checkedValues}: {string.Join("\n", faults.Take(12))}");
    }

    private static Matrix4x4 EqualEnergyMatrix =>
        new(1.6410f, -0.6637f, 0.0117f, 0, -0.3248f, 1.6153f, -0.0083f, 0, -0.2364f, 0.0168f, 0.9884f, 0, 0, 0, 0, 1);

    /// <summary>White metal under light from everywhere, by the shader's own samples: all comes back, within 2 %.</summary>
    [Theory]
    [InlineData(0.1f)]
    [InlineData(0.5f)]
    [InlineData(1f)]
    public void WhiteMetalPassesTheFurnace(float width)
    {
        const string furnace = """
              KilnLayers s = kilnSurface(p, wo, frame);
              vec3 sum = vec3(0.0);
              for (int i = 0; i < 4096; i++) {
                vec2 r = fract(u.yz + float(i) * vec2(0.75487766, 0.56984029));
                vec3 next = kilnSample(s, fract(u.x + float(i) * 0.61803399), r);
                float density;
                KilnLight light = kilnEvaluate(s, next, density);
                if (density > 0.0) sum += (light.diffuse + light.specular + light.coat + light.through) / density;
              }
              written = vec4(sum / 4096.0, 0.0);
            """;
        var white = SurfaceParameters.Plain with { BaseColour = Vector3.One, Metalness = 1, Width = width };
        var some = (Directions.Wo[..64], Directions.Wi[..64], Directions.U[..64]);
        var written = Run(Models["eon, exact, F82, compensated"], white, false, 1, furnace, some);
        Assert.All(written[0], v => Assert.InRange(v.X, 0.98f, 1.02f));
    }
}
