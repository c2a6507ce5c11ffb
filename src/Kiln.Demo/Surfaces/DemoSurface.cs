using System.Numerics;

namespace Kiln.Demo.Surfaces;

/// <summary>
/// What a demo surface is at one point: colours as sRGB code values 0..1, the rest as measurements. Height 0..1 over <see
/// cref="DemoSurface.ReliefMetres"/>.
/// </summary>
public record struct DemoPoint(
    Vector3 BaseColour,
    float Metalness,
    float Roughness,
    float Height,
    float Opacity = 1,
    Vector3 Emission = default
);

/// <summary>
/// A made-up surface: a name and a function of the unit square; maps agree with each other because they all come from it.
/// </summary>
public sealed partial record DemoSurface(string Name, float ReliefMetres, Func<float, float, DemoPoint> At)
{
    public static readonly DemoSurface Limewash = new("limewashed wall", 0.030f, LimewashAt);
    public static readonly DemoSurface Verdigris = new("verdigris copper pipe", 0.022f, VerdigrisAt);
    public static readonly DemoSurface Knob = new("knurled steel knob", 0.020f, KnobAt);
    public static readonly DemoSurface Window = new("amber tuning window", 0.012f, WindowAt);

    private static readonly Noise Lime = new(11),
        Copper = new(23),
        Steel = new(37),
        Amber = new(53);

    private static DemoPoint LimewashAt(float x, float y)
    {
        float broad = Lime.Fractal(x, y, 4, 4),
            trowel = Lime.Fractal(x, y, 10, 5, 200),
            grain = Lime.Gradient(x, y, 180, 300);
        var flake = Smooth(0.28f, 0.46f, Lime.Fractal(x, y, 6, 5, 400) + 0.25f * broad);
        var stain = Smooth(0.1f, 0.9f, Lime.Fractal(x, y, 3, 4, 500) + 0.4f * (y - 0.5f));
        var lime = Vector3.Lerp(new(0.90f, 0.885f, 0.85f), new(0.80f, 0.775f, 0.72f), 0.5f + 0.5f * trowel);
        lime = Vector3.Lerp(lime, new(0.70f, 0.69f, 0.63f), 0.35f * stain);
        var render = Vector3.Lerp(new(0.56f, 0.50f, 0.43f), new(0.46f, 0.41f, 0.36f), 0.5f + 0.5f * grain);
        var height = 0.55f + 0.12f * broad + 0.16f * trowel + 0.03f * grain - 0.26f * flake;
        return new(Vector3.Lerp(lime, render, flake), 0, 0.78f + 0.12f * flake + 0.05f * trowel - 0.06f * stain, height);
    }

    private static DemoPoint VerdigrisAt(float x, float y)
    {
        float hammer = Copper.Cells(x, y, 9).Distance,
            broad = Copper.Fractal(x, y, 4, 5, 100),
            fine = Copper.Fractal(x, y, 32, 4, 200);
        var run = Copper.Fractal(x, y * 1.0f, 8, 3, 300) + 0.5f * MathF.Sin(MathF.Tau * (2 * x + 0.25f * broad));
        var patina = Smooth(-0.15f, 0.35f, broad + 0.35f * run + 0.25f * fine);
        var crust = Smooth(0.35f, 0.75f, broad + 0.5f * fine + 0.2f * run);
        var copper = Vector3.Lerp(new(0.86f, 0.56f, 0.42f), new(0.62f, 0.36f, 0.26f), 0.5f + 0.5f * fine);
        var green = Vector3.Lerp(new(0.32f, 0.56f, 0.49f), new(0.52f, 0.71f, 0.62f), Math.Clamp(0.5f + 0.6f * fine, 0, 1));
        green = Vector3.Lerp(green, new(0.66f, 0.79f, 0.72f), crust * 0.7f);
        var height = 0.45f - 0.18f * MathF.Min(1, hammer) + 0.16f * patina + 0.16f * crust + 0.06f * fine * patina;
        return new(Vector3.Lerp(copper, green, patina), 1 - patina, Lerp(0.30f + 0.08f * fine, 0.82f + 0.08f * fine, patina), height);
    }

    private static DemoPoint KnobAt(float x, float y)
    {
        // Two sets of grooves crossing: pyramids between them, worn bright at the tips.
        float a = Triangle(12 * (x + y)),
            b = Triangle(12 * (x - y));
        var pyramid = MathF.Min(a, b);
        float dirt = Smooth(0.28f, 0.04f, pyramid + 0.06f * Steel.Fractal(x, y, 16, 4)),
            scratch = Steel.Fractal(x, y, 64, 3, 50),
            tip = Smooth(0.62f, 0.9f, pyramid + 0.05f * scratch);
        var steel = Vector3.Lerp(new(0.66f, 0.655f, 0.645f), new(0.78f, 0.775f, 0.765f), tip);
        var colour = Vector3.Lerp(steel, new(0.17f, 0.15f, 0.13f), dirt * 0.9f);
        return new(
            colour,
            1 - dirt * 0.95f,
            Lerp(Lerp(0.38f, 0.24f, tip) + 0.05f * scratch, 0.85f, dirt),
            MathF.Min(pyramid, 0.82f) * 0.95f + 0.02f
        );
    }

    private static DemoPoint WindowAt(float x, float y)
    {
        // A moulded frame with cut corners around an amber pane; lamps behind the pane, a slot row cut through above them.
        float dx = MathF.Abs(x - 0.5f),
            dy = MathF.Abs(y - 0.5f),
            edge = MathF.Max(MathF.Max(dx, dy), (dx + dy) * 0.72f);
        var pane = Smooth(0.402f, 0.392f, edge);
        var slot = pane * Smooth(0.012f, 0.008f, MathF.Abs(y - 0.74f)) * Smooth(0.20f, 0.24f, MathF.Abs(MathF.Sin(MathF.PI * 12 * x)));
        float grain = Amber.Fractal(x, y, 40, 4),
            ribs = 0.5f + 0.5f * MathF.Cos(MathF.Tau * 26 * y),
            streak = Amber.Fractal(x, y, 3, 3, 70);
        float lampX = (x - 0.5f) / 0.30f,
            lampY = (y - 0.42f) / 0.20f,
            glow = MathF.Exp(-(lampX * lampX + lampY * lampY)) * (0.78f + 0.22f * ribs);
        var needle = pane * Smooth(0.007f, 0.004f, MathF.Abs(x - 0.62f)) * Smooth(0.30f, 0.28f, MathF.Abs(y - 0.45f));
        var frame = Vector3.Lerp(new(0.20f, 0.195f, 0.185f), new(0.27f, 0.26f, 0.245f), 0.5f + 0.5f * grain);
        var glass = Vector3.Lerp(new(0.80f, 0.47f, 0.12f), new(0.66f, 0.33f, 0.07f), 0.5f + 0.4f * streak);
        glass = Vector3.Lerp(glass, new(0.30f, 0.05f, 0.03f), needle);
        var emission = new Vector3(1.0f, 0.62f, 0.20f) * MathF.Sqrt(glow) * pane * (1 - needle * 0.8f);
        var rim = Smooth(0.43f, 0.40f, edge) * (1 - pane);
        return new(
            Vector3.Lerp(frame, glass, pane),
            0,
            Lerp(0.62f + 0.06f * grain, 0.14f + 0.08f * ribs, pane),
            Lerp(0.72f + 0.03f * grain - 0.3f * rim, 0.25f + 0.12f * ribs, pane),
            1 - slot,
            emission
        );
    }

    private static float Triangle(float t) => MathF.Abs(2 * (t - MathF.Floor(t)) - 1);

    private static float Lerp(float a, float b, float t) => a + (b - a) * t;

    private static float Smooth(float from, float to, float x)
    {
        var t = Math.Clamp((x - from) / (to - from), 0, 1);
        return t * t * (3 - 2 * t);
    }
}
