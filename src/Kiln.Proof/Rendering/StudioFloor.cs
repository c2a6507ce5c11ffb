using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Steps.Arithmetic;
using Kiln.Scattering;

namespace Kiln.Proof.Rendering;

/// <summary>
/// What a form stands on: a matt grey floor with a fine grain, so that shadows and size can be seen on it, which the camera sees less and
/// less of towards the distance.
/// </summary>
internal static class StudioFloor
{
    public static readonly SurfaceModel Model = new(DiffuseModel.Lambert, DielectricModel.Exact, MetalModel.F82, true);

    /// <summary>Even grey, for what does not look closely.</summary>
    private static readonly SurfaceParameters Even = SurfaceParameters.Plain with
    {
        BaseColour = new(0.22f),
        Width = 0.6f,
        Ior = 1.4f,
        SpecularWeight = 0.5f,
    };

    /// <summary>Cells to a metre, and how far the grain goes from the mean.</summary>
    private static readonly NoiseField Grain = new(NoiseKind.Fractal, Cells: 7, Octaves: 6, Gain: 0.62f, Seed: 11);
    private const float Depth = 0.55f;

    /// <summary>Metres from the form where the floor begins to fade, and where nothing of it is left.</summary>
    private const float Whole = 1.9f,
        Gone = 5.6f;

    /// <param name="uv">In metres.</param>
    /// <param name="footprint">Side of what the ray stands for, in metres.</param>
    public static SurfaceParameters Surface(Vector2 uv, float footprint)
    {
        var grain = TileableNoise.At(Grain, uv, footprint) - 0.5f;
        return Even with { BaseColour = new(0.22f * MathF.Max(0.2f, 1 + Depth * grain)), Width = 0.6f - 0.25f * grain };
    }

    /// <summary>Chance that the camera sees the floor here; light that is on its way always meets it.</summary>
    public static float Presence(Vector3 position)
    {
        var far = Math.Clamp((new Vector2(position.X, position.Z).Length() - Whole) / (Gone - Whole), 0, 1);
        return 1 - far * far * (3 - 2 * far);
    }
}
