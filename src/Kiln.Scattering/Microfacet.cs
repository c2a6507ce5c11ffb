using System.Numerics;

namespace Kiln.Scattering;

/// <summary>
/// The isotropic GGX distribution with height-correlated Smith masking, in a frame whose z axis is the normal.
/// Equations: Walter et al. 2007 (33) for D; Heitz 2014 (99) for masking-shadowing; Heitz 2018 listing 1 for sampling visible normals.
/// </summary>
public static class Microfacet
{
    /// <summary>Widths below this are rendered as this: a lobe must stay wider than single precision can resolve.</summary>
    public const float LeastWidth = 0.0004f;

    public static float D(float nh, float width)
    {
        var a2 = width * width;
        var d = nh * nh * (a2 - 1f) + 1f;
        return a2 / (MathF.PI * d * d);
    }

    private static float Lambda(float cos, float width)
    {
        var c2 = cos * cos;
        return 0.5f * (MathF.Sqrt(1f + width * width * (1f - c2) / MathF.Max(c2, 1e-12f)) - 1f);
    }

    public static float G1(float cos, float width) => 1f / (1f + Lambda(cos, width));

    public static float G2(float cosOut, float cosIn, float width) => 1f / (1f + Lambda(cosOut, width) + Lambda(cosIn, width));

    /// <summary>A microfacet normal as seen from <paramref name="wo"/>, distributed as D·G1·max(0, wo·h)/cos.</summary>
    public static Vector3 SampleVisible(Vector3 wo, float width, Vector2 u)
    {
        var v = Vector3.Normalize(new Vector3(width * wo.X, width * wo.Y, wo.Z));
        var length = v.X * v.X + v.Y * v.Y;
        var t1 = length > 1e-14f ? new Vector3(-v.Y, v.X, 0) / MathF.Sqrt(length) : Vector3.UnitX;
        var t2 = Vector3.Cross(v, t1);
        var r = MathF.Sqrt(u.X);
        var (sin, cos) = MathF.SinCos(2f * MathF.PI * u.Y);
        float p1 = r * cos, p2 = r * sin;
        var s = 0.5f * (1f + v.Z);
        p2 = (1f - s) * MathF.Sqrt(MathF.Max(0f, 1f - p1 * p1)) + s * p2;
        var h = p1 * t1 + p2 * t2 + MathF.Sqrt(MathF.Max(0f, 1f - p1 * p1 - p2 * p2)) * v;
        return Vector3.Normalize(new Vector3(width * h.X, width * h.Y, MathF.Max(1e-6f, h.Z)));
    }

    /// <summary>Density over reflected directions of <see cref="SampleVisible"/> followed by mirroring.</summary>
    public static float ReflectionPdf(Vector3 wo, Vector3 h, float width) => D(h.Z, width) * G1(wo.Z, width) / MathF.Max(1e-12f, 4f * wo.Z);
}
