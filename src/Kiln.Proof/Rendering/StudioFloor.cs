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

    /// <summary>Even grey, on which the grain lies.</summary>
    public static readonly WideParameters Even = WideParameters.Of(
        SurfaceParameters.Plain with
        {
            BaseColour = new(0.22f),
            Width = 0.6f,
            Ior = 1.4f,
            SpecularWeight = 0.5f,
        }
    );

    /// <summary>Cells to a metre, and how far the grain goes from the mean.</summary>
    private static readonly WideNoise Grain = new(new(NoiseKind.Fractal, Cells: 7, Octaves: 6, Gain: 0.62f, Seed: 11));
    private const float Depth = 0.55f;

    /// <summary>Metres from the form where the floor begins to fade, and where nothing of it is left.</summary>
    private const float Whole = 1.9f,
        Gone = 5.6f;

    /// <param name="u">In metres, as is <paramref name="v"/>.</param>
    /// <param name="footprint">Sides of what the rays stand for, in metres.</param>
    public static void Vary(Wide u, Wide v, Wide footprint, ref WideParameters p)
    {
        var grain = Grain.At(u, v, footprint) - Of(0.5f);
        p.BaseColour = new(0.22f * Max(Wide.One + Depth * grain, Of(0.2f)));
        p.Width = Of(0.6f) - 0.25f * grain;
    }

    /// <summary>Chances that the camera sees the floor; light that is on its way always meets it.</summary>
    public static Wide Presence(in Wide3 position)
    {
        var far = Unit((Sqrt(position.X * position.X + position.Z * position.Z) - Of(Whole)) * (1f / (Gone - Whole)));
        return Wide.One - far * far * (Of(3f) - 2f * far);
    }
}
