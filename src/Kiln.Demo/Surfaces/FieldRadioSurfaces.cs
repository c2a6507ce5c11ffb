using System.Numerics;

namespace Kiln.Demo.Surfaces;

/// <summary>The rest of the field radio.</summary>
public sealed partial record DemoSurface
{
    public static readonly DemoSurface RubberFoot = new("rubber foot", 0.004f, RubberFootAt);
    public static readonly DemoSurface SpeakerCloth = new("speaker cloth", 0.005f, SpeakerClothAt);

    private static readonly Noise Body = new(101),
        Rubber = new(103),
        Cloth = new(107);

    /// <summary>The anodised body on one UDIM tile; edges wear where tiles end, so that the tiles differ.</summary>
    public static DemoSurface AnodisedBody(int tile) => new("anodised body", 0.006f, (x, y) => AnodisedBodyAt(x, y, (uint)(tile - 1001)));

    private static DemoPoint AnodisedBodyAt(float x, float y, uint tile)
    {
        float bead = Body.Gradient(x, y, 250, tile),
            broad = Body.Fractal(x, y, 4, 4, 30 + tile),
            edge = MathF.Max(MathF.Abs(x - 0.5f), MathF.Abs(y - 0.5f));
        float wear = Smooth(0.455f, 0.50f, edge + 0.03f * Body.Fractal(x, y, 16, 4, 50 + tile)),
            seamLine = Smooth(0.006f, 0.003f, MathF.Abs(y - 0.30f - 0.1f * (tile % 3))),
            screw = MathF.Sqrt(MathF.Pow(x - 0.12f, 2) + MathF.Pow(y - 0.88f, 2));
        var hole = Smooth(0.036f, 0.032f, screw);
        var coat = Vector3.Lerp(new(0.245f, 0.335f, 0.315f), new(0.285f, 0.375f, 0.35f), 0.5f + 0.4f * broad + 0.1f * bead);
        var colour = Vector3.Lerp(coat, new(0.80f, 0.80f, 0.79f), wear);
        return new(
            Vector3.Lerp(colour, new(0.05f, 0.05f, 0.05f), MathF.Max(seamLine * 0.7f, hole * 0.85f)),
            1 - hole,
            Lerp(0.42f + 0.05f * bead + 0.03f * broad, 0.22f, wear),
            0.7f + 0.03f * bead - 0.04f * wear - 0.5f * seamLine - 0.6f * hole
        );
    }

    private static DemoPoint RubberFootAt(float x, float y)
    {
        float u = 10 * x,
            v = 10 * y,
            shift = ((int)MathF.Floor(v) & 1) * 0.5f,
            du = u + shift - MathF.Floor(u + shift) - 0.5f,
            dv = v - MathF.Floor(v) - 0.5f;
        float dot = Smooth(0.34f, 0.28f, MathF.Sqrt(du * du + dv * dv)),
            grime = Smooth(0.1f, 0.6f, Rubber.Fractal(x, y, 5, 5)),
            fine = Rubber.Gradient(x, y, 200, 8);
        return new(
            Vector3.Lerp(new(0.090f, 0.090f, 0.094f), new(0.21f, 0.195f, 0.175f), grime * (1 - 0.6f * dot)),
            0,
            0.70f + 0.12f * grime - 0.12f * dot + 0.03f * fine,
            0.3f + 0.5f * dot + 0.02f * fine
        );
    }

    private static DemoPoint SpeakerClothAt(float x, float y)
    {
        float u = 36 * x,
            v = 36 * y,
            du = MathF.Abs(u - MathF.Floor(u) - 0.5f),
            dv = MathF.Abs(v - MathF.Floor(v) - 0.5f),
            thread = MathF.Max(MathF.Cos(MathF.PI * du), MathF.Cos(MathF.PI * dv)),
            hole = Smooth(0.17f, 0.12f, MathF.Sqrt((0.5f - du) * (0.5f - du) + (0.5f - dv) * (0.5f - dv)));
        float speck = Cloth.Random((int)MathF.Floor(u) % 36, (int)MathF.Floor(v) % 36, 2),
            fade = Cloth.Fractal(x, y, 3, 3);
        var colour =
            Vector3.Lerp(new(0.33f, 0.27f, 0.20f), new(0.58f, 0.50f, 0.38f), Math.Clamp(0.25f + 0.6f * speck + 0.2f * fade, 0, 1))
            * (0.6f + 0.4f * thread);
        return new(colour, 0, 0.9f - 0.06f * thread, 0.1f + 0.75f * thread * (1 - hole), 1 - hole);
    }
}
