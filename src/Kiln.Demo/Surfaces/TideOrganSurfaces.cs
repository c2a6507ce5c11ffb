using System.Numerics;

namespace Kiln.Demo.Surfaces;

/// <summary>The rest of the breakwater and its organ.</summary>
public sealed partial record DemoSurface
{
    public static readonly DemoSurface SaltBeam = new("salt worn beam", 0.018f, SaltBeamAt);
    public static readonly DemoSurface SlateSill = new("wet slate sill", 0.015f, SlateSillAt);
    public static readonly DemoSurface BarnacleIron = new("barnacled iron", 0.045f, BarnacleIronAt);
    public static readonly DemoSurface SailCanvas = new("sail canvas", 0.006f, SailCanvasAt);
    public static readonly DemoSurface GlazedTile = new("glazed blue tile", 0.012f, GlazedTileAt);
    public static readonly DemoSurface BrassReed = new("brass reed plate", 0.010f, BrassReedAt);
    public static readonly DemoSurface KelpConcrete = new("kelp stained concrete", 0.020f, KelpConcreteAt);
    public static readonly DemoSurface TarredRope = new("tarred rope", 0.050f, TarredRopeAt);

    private static readonly Noise Beam = new(61),
        Slate = new(67),
        Iron = new(71),
        Sail = new(73),
        Tile = new(79),
        Brass = new(83),
        Kelp = new(89),
        Rope = new(97);

    private static DemoPoint SaltBeamAt(float x, float y)
    {
        // Grain runs along y; salt sits in the cracks.
        float warp = Beam.Fractal(x, y, 3, 3),
            grain = 0.5f + 0.5f * MathF.Sin(MathF.Tau * (9 * x + 0.7f * warp + 0.2f * Beam.Fractal(x, y, 12, 3, 40)));
        float fibre = Beam.Gradient(x, y, 128, 60) * 0.6f + Beam.Gradient(x, y, 200, 70) * 0.4f,
            crack = Smooth(0.12f, 0.02f, MathF.Abs(Beam.Fractal(x, y, 5, 3, 80) + 0.2f * warp));
        var salt = Smooth(0.25f, 0.6f, Beam.Fractal(x, y, 8, 4, 90) + 0.4f * crack);
        var wood = Vector3.Lerp(new(0.52f, 0.47f, 0.41f), new(0.35f, 0.31f, 0.27f), grain * 0.8f + 0.1f * fibre);
        wood = Vector3.Lerp(wood, new(0.13f, 0.11f, 0.09f), crack * 0.8f);
        return new(
            Vector3.Lerp(wood, new(0.80f, 0.79f, 0.76f), salt * 0.55f),
            0,
            0.74f + 0.12f * salt - 0.06f * grain,
            0.62f - 0.16f * grain - 0.4f * crack + 0.04f * fibre + 0.06f * salt
        );
    }

    private static DemoPoint SlateSillAt(float x, float y)
    {
        float layers = Slate.Fractal(x, y, 3, 5),
            step = MathF.Floor(layers * 5 + 2.5f) / 5,
            edge = Slate.Fractal(x, y, 20, 4, 30),
            puddle = Smooth(0.06f, -0.10f, layers + 0.15f * edge);
        var stone = Vector3.Lerp(
            new(0.27f, 0.285f, 0.31f),
            new(0.38f, 0.385f, 0.39f),
            Math.Clamp(0.5f + 0.5f * layers + 0.2f * edge, 0, 1)
        );
        stone = Vector3.Lerp(stone, new(0.36f, 0.33f, 0.27f), Smooth(0.3f, 0.7f, Slate.Fractal(x, y, 4, 4, 50)) * 0.4f);
        return new(
            stone * (1 - 0.45f * puddle),
            0,
            Lerp(0.55f + 0.12f * edge, 0.07f, puddle),
            Lerp(0.35f + 0.35f * step + 0.06f * edge, 0.33f, puddle * 0.8f)
        );
    }

    private static DemoPoint BarnacleIronAt(float x, float y)
    {
        var (distance, second, value) = Iron.Cells(x, y, 14);
        float there = Smooth(0.35f, 0.5f, value + 0.35f * Iron.Fractal(x, y, 3, 3, 20)),
            cone = Math.Clamp(1 - distance * 1.9f, 0, 1) * there,
            mouth = Smooth(0.16f, 0.08f, distance) * there;
        float rust = Iron.Fractal(x, y, 6, 6, 40),
            flake = Smooth(0.1f, 0.35f, rust),
            bare = Smooth(-0.2f, -0.45f, rust);
        var iron = Vector3.Lerp(new(0.42f, 0.20f, 0.10f), new(0.56f, 0.31f, 0.14f), Math.Clamp(0.5f + rust, 0, 1));
        iron = Vector3.Lerp(iron, new(0.40f, 0.395f, 0.39f), bare);
        var shell = Vector3.Lerp(
            new(0.72f, 0.69f, 0.62f),
            new(0.52f, 0.50f, 0.45f),
            Math.Clamp(0.5f + 0.5f * MathF.Sin(24 * second), 0, 1)
        );
        shell = Vector3.Lerp(shell, new(0.12f, 0.10f, 0.09f), mouth);
        var on = Smooth(0.02f, 0.08f, cone);
        return new(
            Vector3.Lerp(iron, shell, on),
            bare * (1 - on),
            Lerp(Lerp(0.86f, 0.42f, bare), 0.72f, on),
            0.15f + 0.12f * flake + 0.05f * rust + 0.6f * cone - 0.35f * mouth
        );
    }

    private static DemoPoint SailCanvasAt(float x, float y)
    {
        float u = 48 * x,
            v = 48 * y;
        var over = ((int)MathF.Floor(u) + (int)MathF.Floor(v)) % 2 == 0;
        float across = MathF.Sin(MathF.PI * (u - MathF.Floor(u))),
            along = MathF.Sin(MathF.PI * (v - MathF.Floor(v))),
            thread = over ? across : along;
        float slub = Sail.Fractal(x, y, 24, 3),
            stain = Smooth(0.2f, 0.8f, Sail.Fractal(x, y, 3, 5, 30)),
            fold = Sail.Fractal(x, y, 4, 2, 50);
        var cloth = Vector3.Lerp(new(0.79f, 0.74f, 0.63f), new(0.70f, 0.64f, 0.53f), 0.5f + 0.5f * slub) * (0.85f + 0.15f * thread);
        return new(
            Vector3.Lerp(cloth, new(0.55f, 0.47f, 0.33f), 0.4f * stain),
            0,
            0.88f - 0.05f * thread + 0.04f * slub,
            0.25f + 0.4f * thread * (over ? 1 : 0.85f) + 0.1f * slub + 0.12f * fold
        );
    }

    private static DemoPoint GlazedTileAt(float x, float y)
    {
        float u = 4 * x,
            v = 4 * y,
            du = MathF.Abs(u - MathF.Floor(u) - 0.5f),
            dv = MathF.Abs(v - MathF.Floor(v) - 0.5f),
            edge = MathF.Max(du, dv);
        float tile = Smooth(0.475f, 0.462f, edge),
            id = Tile.Random((int)MathF.Floor(u) & 3, (int)MathF.Floor(v) & 3, 9),
            ring = MathF.Sqrt(du * du + dv * dv);
        float pool = Tile.Fractal(x, y, 8, 4),
            craze = Smooth(0.035f, 0.01f, Tile.Cells(x, y, 22).Second - Tile.Cells(x, y, 22).Distance),
            motif = Smooth(0.30f, 0.28f, ring) * Smooth(0.18f, 0.20f, ring);
        var glaze = Vector3.Lerp(
            new(0.10f, 0.27f, 0.47f),
            new(0.16f, 0.41f, 0.58f),
            Math.Clamp(0.4f + 0.5f * pool + 0.4f * (id - 0.5f), 0, 1)
        );
        glaze = Vector3.Lerp(glaze, new(0.88f, 0.89f, 0.86f), motif * 0.9f) * (1 - 0.25f * craze);
        return new(
            Vector3.Lerp(new(0.60f, 0.57f, 0.51f), glaze, tile),
            0,
            Lerp(0.85f, 0.09f + 0.25f * craze + 0.03f * pool, tile),
            Lerp(0.2f, 0.75f + 0.06f * pool + 0.08f * MathF.Sqrt(MathF.Max(0, 1 - 4 * edge * edge)) - 0.05f * craze, tile)
        );
    }

    private static DemoPoint BrassReedAt(float x, float y)
    {
        float brush = Brass.Gradient(x, y, 220, 5) * 0.5f + Brass.Gradient(x, y, 128, 6) * 0.5f,
            tarnish = Smooth(0.1f, 0.55f, Brass.Fractal(x, y, 4, 5, 20)),
            finger = Smooth(0.5f, 0.8f, Brass.Fractal(x, y, 5, 2, 60));
        float slotX = MathF.Abs(6 * x - MathF.Floor(6 * x) - 0.5f),
            slot = Smooth(0.06f, 0.045f, slotX) * Smooth(0.40f, 0.38f, MathF.Abs(y - 0.5f));
        var brass = Vector3.Lerp(new(0.90f, 0.77f, 0.45f), new(0.80f, 0.65f, 0.35f), 0.5f + 0.5f * brush);
        brass = Vector3.Lerp(brass, new(0.42f, 0.31f, 0.17f), tarnish * 0.7f);
        return new(
            Vector3.Lerp(brass, new(0.06f, 0.05f, 0.04f), slot),
            (1 - 0.35f * tarnish) * (1 - slot),
            Lerp(0.24f + 0.10f * brush + 0.30f * tarnish + 0.12f * finger, 0.9f, slot),
            0.8f + 0.02f * brush - 0.03f * tarnish - 0.75f * slot
        );
    }

    private static DemoPoint KelpConcreteAt(float x, float y)
    {
        float broad = Kelp.Fractal(x, y, 4, 5),
            pore = Smooth(0.18f, 0.10f, Kelp.Cells(x, y, 40, 7).Distance),
            sand = Kelp.Gradient(x, y, 256, 9),
            strand = Kelp.Fractal(x, y, 5, 3, 30) + 0.25f * MathF.Sin(MathF.Tau * (3 * y + 0.4f * broad));
        float kelp = Smooth(0.10f, 0.0f, MathF.Abs(strand)) * Smooth(-0.2f, 0.3f, broad),
            damp = Smooth(-0.1f, 0.5f, -broad);
        var concrete =
            Vector3.Lerp(new(0.52f, 0.51f, 0.48f), new(0.62f, 0.60f, 0.56f), Math.Clamp(0.5f + 0.5f * broad + 0.15f * sand, 0, 1))
            * (1 - 0.3f * damp);
        concrete = Vector3.Lerp(concrete, new(0.20f, 0.19f, 0.17f), 0.6f * pore);
        return new(
            Vector3.Lerp(concrete, new(0.27f, 0.28f, 0.10f), kelp * 0.8f),
            0,
            Lerp(0.85f - 0.25f * damp + 0.05f * sand, 0.45f, kelp),
            0.5f + 0.14f * broad + 0.03f * sand - 0.22f * pore + 0.08f * kelp
        );
    }

    private static DemoPoint TarredRopeAt(float x, float y)
    {
        float lay = 6 * x + 3 * y,
            strand = MathF.Abs(MathF.Sin(MathF.PI * lay)),
            yarn = 0.5f + 0.5f * MathF.Sin(MathF.Tau * (24 * x - 12 * y) + 1.2f * Rope.Fractal(x, y, 6, 3)),
            hair = Rope.Gradient(x, y, 180, 4);
        var tar = Smooth(-0.1f, 0.4f, Rope.Fractal(x, y, 4, 5, 20) + 0.3f * (1 - strand));
        var fibre = Vector3.Lerp(new(0.46f, 0.36f, 0.22f), new(0.31f, 0.23f, 0.14f), 0.5f + 0.35f * yarn + 0.15f * hair);
        return new(
            Vector3.Lerp(fibre, new(0.075f, 0.065f, 0.055f), tar * 0.85f),
            0,
            Lerp(0.85f + 0.05f * hair, 0.32f, tar),
            0.08f + 0.75f * MathF.Sqrt(strand) + 0.1f * yarn * strand + 0.02f * hair
        );
    }
}
