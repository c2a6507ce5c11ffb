using System.Numerics;

namespace Kiln.Scattering.Interfaces;

/// <summary>A film over metal and dielectric, and how much of the surface it covers.</summary>
internal readonly struct Film
{
    private readonly ThinFilm film;
    private readonly Matrix4x4 fromXyz;

    public Film(SurfaceModel model, in WideParameters p, Wide inside)
    {
        Weight = Without(Unit(p.FilmWeight) & Positive(p.FilmThickness), inside);
        IsThere = Any(Positive(Weight));
        if (!IsThere)
            return;
        film = new(Max(p.FilmThickness, Wide.Zero), Clamp(p.FilmIor, Wide.One, Of(3f)));
        fromXyz = model.FromXyz;
    }

    public Wide Weight { get; }

    /// <summary>Whether any of the eight has one.</summary>
    public bool IsThere { get; }

    public Wide3 OverDielectric(Wide cos, Wide ior) => film.OverDielectric(cos, ior, fromXyz);

    public Wide3 OverMetal(Wide cos, in Wide3 reflectance, in Wide3 edge) => film.OverMetal(cos, reflectance, edge, fromXyz);
}
