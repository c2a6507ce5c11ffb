using System.Numerics;

namespace Kiln.Scattering;

/// <summary>One surface, seen from one direction: a <see cref="WideSurface"/> with the same in every lane.</summary>
public readonly struct Surface
{
    private readonly WideSurface eight;

    private Surface(WideSurface eight) => this.eight = eight;

    /// <summary>The surface as it is seen from <paramref name="wo"/>.</summary>
    /// <param name="inside">Whether <paramref name="wo"/> lies within the body: only its interface is met there.</param>
    /// <param name="coatFrame">The coat's normal and tangent in the shading frame, its normal on the side of <paramref name="wo"/>; null
    /// where it follows the base.</param>
    public static Surface Of(SurfaceModel model, in SurfaceParameters p, Vector3 wo, bool inside = false, Frame? coatFrame = null)
    {
        var surface = new WideSurface();
        surface.Fill(model, WideParameters.Of(p), Wide3.Of(wo), inside ? Wide.AllBitsSet : Wide.Zero, coatFrame?.Eight);
        return new(surface);
    }

    /// <summary>What is left of light that the surface emits below coat and fibres, towards the viewer.</summary>
    public Vector3 EmissionShare => eight.EmissionShare[0];

    /// <summary>
    /// Reflectance by itself, for a picture of the surface's colour: what it returns under light from everywhere, without the coat's and
    /// the fibres' own.
    /// </summary>
    public Vector3 Albedo => eight.Albedo[0];

    /// <summary>
    /// The distribution times the cosine of <paramref name="wi"/>, and the density of <see cref="Sample"/> over solid angle.
    /// </summary>
    public ScatteredLight Evaluate(Vector3 wi, out float density)
    {
        eight.Evaluate(Wide3.Of(wi), out var light, out var densities);
        density = densities.ToScalar();
        return light[0];
    }

    /// <summary>The same for eight directions.</summary>
    public WideScatteredLight Evaluate(in Wide3 wi)
    {
        eight.Evaluate(wi, out var light, out _);
        return light;
    }

    /// <summary>
    /// Proposes a direction; its density comes with <see cref="Evaluate(Vector3, out float)"/>. Zero where a facet sends light to the wrong
    /// side: it is lost.
    /// </summary>
    public Vector3 Sample(float choice, Vector2 u) => eight.Sample(WideMath.Of(choice), WideMath.Of(u.X), WideMath.Of(u.Y))[0];
}
