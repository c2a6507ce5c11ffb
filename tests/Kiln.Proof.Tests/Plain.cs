using System.Numerics;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>Surfaces of plain values, without maps, and what a proof of them shows.</summary>
internal static class Plain
{
    private sealed class NoFiles : IContentFiles, IPictureDecoder
    {
        public string PathOf(ContentHash content) => throw new FileNotFoundException("none");

        public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
            throw new PictureException("none");
    }

    public static LookValue White => Tint(1, 1, 1);

    public static LookValue Tint(float r, float g, float b) => new TintValue(r, g, b, "acescg");

    public static Task<ProofMaterial> MaterialAsync(string dialect, params (string Input, LookValue Value)[] values)
    {
        var none = new NoFiles();
        var look = new Look { Name = "plain" };
        foreach (var (input, value) in values)
            look = look with { Lanes = look.Lanes.SetItem(input, new(value)) };
        return ProofMaterial.OfLookAsync(
            look,
            DialectProfiles.Load(DialectProfiles.ShippedFolder()).Find(dialect),
            new MapTextures(none, none)
        );
    }

    /// <summary>A matt surface that returns a share of all light.</summary>
    public static Task<ProofMaterial> MattAsync(float share) =>
        MaterialAsync("openpbr", ("base_color", Tint(share, share, share)), ("specular_weight", LookValue.Of(0f)));

    /// <summary>Radiance that a form sends towards a camera near its middle, as the mean of a small picture.</summary>
    public static Vector3 Seen(
        ProofMaterial material,
        EnvironmentLight light,
        string form,
        OrbitCamera camera,
        int samples,
        bool withFloor = true
    )
    {
        var scene = new ProofScene(Forms.Named(form), material, light, withFloor: withFloor);
        var tracer = new PathTracer(scene, 12, 12, camera);
        tracer.Accumulate(samples);
        var statistics = ImageStatistics.Measure(tracer.Picture());
        return new((float)statistics[0].Mean, (float)statistics[1].Mean, (float)statistics[2].Mean);
    }
}
