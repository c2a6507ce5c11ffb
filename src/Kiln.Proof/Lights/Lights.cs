using System.Collections.Concurrent;
using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Proof.Lights;

/// <summary>
/// The lights a look is proved under. Invented rooms and skies, made here; radiance 1 is about the brightness of white paper under them.
/// </summary>
public static class LightRoom
{
    public static readonly IReadOnlyList<string> Ids = ["overcast", "softbox", "lowsun", "night", "furnace"];

    /// <summary>Width to which a person's own light is brought; finer ones show no difference on forms.</summary>
    public const int Finest = 2048;

    private static readonly ConcurrentDictionary<(string Light, string Space), Lazy<EnvironmentLight>> Made = new();

    /// <exception cref="ArgumentException">There is no such light.</exception>
    public static EnvironmentLight Named(string id, WorkingSpace? working = null) =>
        Made.GetOrAdd((id, (working ?? WorkingSpace.AcesCg).Id), key => new(() =>
                (
                    key.Light switch
                    {
                        "overcast" => EnvironmentLight.Generate(256, 128, Overcast),
                        "softbox" => EnvironmentLight.Generate(512, 256, Softbox),
                        "lowsun" => EnvironmentLight.Generate(1024, 512, LowSun),
                        "night" => EnvironmentLight.Generate(768, 384, Night),
                        "furnace" => EnvironmentLight.Even(Vector3.One),
                        _ => throw new ArgumentException(
                            $"There is no light '{key.Light}' here. Known: {string.Join(", ", Ids)}, or the path of an .hdr or "
                                + ".exr picture."
                        ),
                    }
                ).In(WorkingSpace.Find(key.Space))
            )).Value;

    /// <summary>
    /// CIE standard overcast sky: luminance (1 + 2 sin γ)/3 of the zenith's (CIE S 011, type 1 simplified), slow cloud bands, grey ground.
    /// </summary>
    private static Vector3 Overcast(Vector3 d)
    {
        if (d.Y < -0.02f)
            return Rec709(0.17f, 0.165f, 0.16f) * (0.8f + 0.3f * MathF.Min(1, -d.Y * 2));
        var up = MathF.Max(0, d.Y);
        var clouds =
            1f
            + 0.10f * MathF.Sin(d.X * 4.1f + 1.3f * MathF.Sin(d.Z * 3.2f))
            + 0.07f * MathF.Sin(d.Z * 7.3f + d.X * 2.9f)
            + 0.03f * MathF.Sin((d.X + d.Z) * 15f);
        var bright = 1f + 0.55f * MathF.Exp(-8f * (1f - Vector3.Dot(d, Vector3.Normalize(new(-0.5f, 0.75f, 0.45f)))));
        return Rec709(0.96f, 1.0f, 1.06f) * (1.25f * (1f + 2f * up) / 3f * clouds * bright);
    }

    /// <summary>A dim room with one large box of light at the left, a strip behind at the right, and a low bounce.</summary>
    private static Vector3 Softbox(Vector3 d)
    {
        var room =
            Rec709(0.055f, 0.056f, 0.06f) * (0.6f + 0.6f * MathF.Max(0, d.Y)) + (d.Y < 0 ? Rec709(0.05f, 0.047f, 0.044f) : Vector3.Zero);
        return room
            + Panel(d, new(-0.72f, 0.52f, 0.46f), 0.42f, 0.50f, 0.05f) * Rec709(10.2f, 10.0f, 9.7f)
            + Panel(d, new(0.86f, 0.34f, -0.38f), 0.10f, 0.52f, 0.03f) * Rec709(8.2f, 8.6f, 9.2f)
            + Panel(d, new(0.55f, 0.16f, 0.82f), 0.34f, 0.30f, 0.10f) * Rec709(0.62f, 0.60f, 0.57f)
            + Panel(d, new(0.05f, 0.97f, 0.1f), 0.34f, 0.34f, 0.12f) * Rec709(1.3f, 1.3f, 1.3f);
    }

    private static readonly Vector3 SunAt = FromDegrees(-58, 14);

    /// <summary>
    /// Late afternoon: a sun of 2° (a real one is 0.53°, haze widens it) 14° above the horizon, its glow, a clear sky that darkens away
    /// from it, dry grass below.
    /// </summary>
    private static Vector3 LowSun(Vector3 d)
    {
        var toSun = MathF.Acos(Math.Clamp(Vector3.Dot(d, SunAt), -1, 1)) * 180 / MathF.PI;
        var haze = Rec709(1.0f, 0.62f, 0.30f) * (0.9f * MathF.Exp(-toSun / 9f) + 0.22f * MathF.Exp(-toSun / 32f));
        if (d.Y < 0)
        {
            // The ground is lit on the side that faces the sun's glow; the horizon stays soft.
            var far = MathF.Exp(d.Y * 14f);
            return Vector3.Lerp(
                    Rec709(0.16f, 0.115f, 0.07f) * (0.8f + 0.25f * MathF.Sin(d.X * 9f + 2f * MathF.Sin(d.Z * 7f)) * (1 - far)),
                    Rec709(0.42f, 0.33f, 0.25f),
                    far
                )
                + haze * far * 0.5f;
        }
        var height = MathF.Pow(d.Y, 0.55f);
        var sky = Vector3.Lerp(Rec709(0.62f, 0.50f, 0.42f), Rec709(0.10f, 0.20f, 0.42f), height) * (1f - 0.25f * toSun / 180);
        return sky + haze + Rec709(1.0f, 0.70f, 0.40f) * (SunRadiance * SmoothDisc(toSun, 1f, 0.25f));
    }

    /// <summary>Chosen so that white paper turned to the sun has about the brightness of white paper under the other lights.</summary>
    private const float SunRadiance = 5000f;

    /// <summary>
    /// A street after rain: lamps in a row, one near and warm, lit windows opposite, a sign, and a sky that is not quite black.
    /// </summary>
    private static Vector3 Night(Vector3 d)
    {
        var sky = Rec709(0.010f, 0.014f, 0.026f) * (1f + 1.6f * MathF.Exp(-6f * MathF.Abs(d.Y)));
        if (d.Y < 0)
            sky += Rec709(0.030f, 0.024f, 0.018f) * MathF.Exp(d.Y * 3f);
        var sum = sky;
        void Lamp(float rotation, float up, float degrees, Vector3 light)
        {
            var away = MathF.Acos(Math.Clamp(Vector3.Dot(d, FromDegrees(rotation, up)), -1, 1)) * 180 / MathF.PI;
            sum += light * (SmoothDisc(away, degrees, degrees * 0.25f) + 0.004f * MathF.Exp(-away / 6f));
        }
        Lamp(-42, 48, 4.2f, Rec709(150f, 92f, 42f));
        Lamp(38, 24, 1.6f, Rec709(120f, 78f, 38f));
        Lamp(68, 14, 0.9f, Rec709(120f, 80f, 40f));
        Lamp(84, 10, 0.6f, Rec709(120f, 82f, 42f));
        Lamp(-128, 30, 1.8f, Rec709(70f, 82f, 96f));
        for (var i = 0; i < 5; i++)
            sum +=
                Panel(d, FromDegrees(118 + 15 * i, 9 + 8 * (i % 2)), 0.075f, 0.11f, 0.012f)
                * Rec709(3.6f, 2.7f, 1.5f)
                * (i == 2 ? 0.15f : 1f);
        return sum + Panel(d, FromDegrees(-92, 12), 0.32f, 0.07f, 0.015f) * Rec709(0.5f, 3.4f, 4.2f);
    }

    private static float SmoothDisc(float away, float radius, float soft)
    {
        var t = Math.Clamp((radius - away) / soft + 0.5f, 0f, 1f);
        return t * t * (3f - 2f * t);
    }

    /// <summary>A direction by degrees to the right of the camera's side (+z) and above the horizon.</summary>
    private static Vector3 FromDegrees(float rotation, float up)
    {
        var (sinRotation, cosRotation) = MathF.SinCos(rotation * MathF.PI / 180);
        var (sinUp, cosUp) = MathF.SinCos(up * MathF.PI / 180);
        return new(sinRotation * cosUp, sinUp, cosRotation * cosUp);
    }

    /// <summary>
    /// 1 inside a rectangle seen in direction <paramref name="at"/> with the given half sizes (tangents of angles), soft at its edges.
    /// </summary>
    private static float Panel(Vector3 d, Vector3 at, float halfWidth, float halfHeight, float soft)
    {
        var n = Vector3.Normalize(at);
        var along = Vector3.Dot(d, n);
        if (along <= 0.05f)
            return 0;
        var right = Vector3.Normalize(Vector3.Cross(Vector3.UnitY + new Vector3(0.001f, 0, 0.002f), n));
        var up = Vector3.Cross(n, right);
        float x = MathF.Abs(Vector3.Dot(d, right) / along),
            y = MathF.Abs(Vector3.Dot(d, up) / along);
        static float Edge(float v, float half, float soft) =>
            Math.Clamp((half - v) / soft + 0.5f, 0f, 1f) is var t ? t * t * (3f - 2f * t) : 0;
        // A real box is a little brighter in the middle.
        return Edge(x, halfWidth, soft)
            * Edge(y, halfHeight, soft)
            * (1.08f - 0.16f * (x * x / (halfWidth * halfWidth) + y * y / (halfHeight * halfHeight)) / 2);
    }

    private static Vector3 Rec709(float r, float g, float b) =>
        ColourTransform.Between(ColourSpace.LinRec709, ColourSpace.AcesCg).Apply(new Vector3(r, g, b));
}
