using System.Collections.Concurrent;
using System.Numerics;
using Kiln.Colour;

namespace Kiln.Proof.Lights;

/// <summary>The lights a look is proved under. Invented rooms and skies, made here; radiance 1 is about the brightness of white paper under them.</summary>
public static class LightRoom
{
    public static readonly IReadOnlyList<string> Ids = ["overcast", "softbox", "furnace"];

    private static readonly ConcurrentDictionary<(string Light, string Space), Lazy<EnvironmentLight>> Made = new();

    /// <exception cref="ArgumentException">There is no such light.</exception>
    public static EnvironmentLight Named(string id, WorkingSpace? working = null) => Made.GetOrAdd((id, (working ?? WorkingSpace.AcesCg).Id), key => new(() => (key.Light switch
    {
        "overcast" => EnvironmentLight.Generate(256, 128, Overcast),
        "softbox" => EnvironmentLight.Generate(512, 256, Softbox),
        "furnace" => EnvironmentLight.Even(Vector3.One),
        _ => throw new ArgumentException($"There is no light '{key.Light}' here. Known: {string.Join(", ", Ids)}, or the path of an .hdr or .exr picture."),
    }).In(WorkingSpace.Find(key.Space)))).Value;

    /// <summary>CIE standard overcast sky: luminance (1 + 2 sin γ)/3 of the zenith's (CIE S 011, type 1 simplified), slow cloud bands, grey ground.</summary>
    private static Vector3 Overcast(Vector3 d)
    {
        if (d.Y < -0.02f)
            return Rec709(0.17f, 0.165f, 0.16f) * (0.8f + 0.3f * MathF.Min(1, -d.Y * 2));
        var up = MathF.Max(0, d.Y);
        var clouds = 1f + 0.10f * MathF.Sin(d.X * 4.1f + 1.3f * MathF.Sin(d.Z * 3.2f)) + 0.07f * MathF.Sin(d.Z * 7.3f + d.X * 2.9f) + 0.03f * MathF.Sin((d.X + d.Z) * 15f);
        var bright = 1f + 0.55f * MathF.Exp(-8f * (1f - Vector3.Dot(d, Vector3.Normalize(new(-0.5f, 0.75f, 0.45f)))));
        return Rec709(0.96f, 1.0f, 1.06f) * (1.25f * (1f + 2f * up) / 3f * clouds * bright);
    }

    /// <summary>A dim room with one large box of light at the left, a strip behind at the right, and a low bounce.</summary>
    private static Vector3 Softbox(Vector3 d)
    {
        var room = Rec709(0.055f, 0.056f, 0.06f) * (0.6f + 0.6f * MathF.Max(0, d.Y)) + (d.Y < 0 ? Rec709(0.05f, 0.047f, 0.044f) : Vector3.Zero);
        return room
            + Panel(d, new(-0.72f, 0.52f, 0.46f), 0.42f, 0.50f, 0.05f) * Rec709(10.2f, 10.0f, 9.7f)
            + Panel(d, new(0.86f, 0.34f, -0.38f), 0.10f, 0.52f, 0.03f) * Rec709(8.2f, 8.6f, 9.2f)
            + Panel(d, new(0.55f, 0.16f, 0.82f), 0.34f, 0.30f, 0.10f) * Rec709(0.62f, 0.60f, 0.57f)
            + Panel(d, new(0.05f, 0.97f, 0.1f), 0.34f, 0.34f, 0.12f) * Rec709(1.3f, 1.3f, 1.3f);
    }

    /// <summary>1 inside a rectangle seen in direction <paramref name="at"/> with the given half sizes (tangents of angles), soft at its edges.</summary>
    private static float Panel(Vector3 d, Vector3 at, float halfWidth, float halfHeight, float soft)
    {
        var n = Vector3.Normalize(at);
        var along = Vector3.Dot(d, n);
        if (along <= 0.05f)
            return 0;
        var right = Vector3.Normalize(Vector3.Cross(Vector3.UnitY + new Vector3(0.001f, 0, 0.002f), n));
        var up = Vector3.Cross(n, right);
        float x = MathF.Abs(Vector3.Dot(d, right) / along), y = MathF.Abs(Vector3.Dot(d, up) / along);
        static float Edge(float v, float half, float soft) => Math.Clamp((half - v) / soft + 0.5f, 0f, 1f) is var t ? t * t * (3f - 2f * t) : 0;
        // A real box is a little brighter in the middle.
        return Edge(x, halfWidth, soft) * Edge(y, halfHeight, soft) * (1.08f - 0.16f * (x * x / (halfWidth * halfWidth) + y * y / (halfHeight * halfHeight)) / 2);
    }

    private static Vector3 Rec709(float r, float g, float b) => ColourTransform.Between(ColourSpace.LinRec709, ColourSpace.AcesCg).Apply(new Vector3(r, g, b));
}
