using System.Numerics;

namespace Kiln.Scattering.Interfaces;

/// <summary>A film over metal and dielectric, and how much of the surface it covers.</summary>
internal readonly struct Film
{
    private readonly ThinFilm film;
    private readonly Matrix4x4 fromXyz;

    public Film(SurfaceModel model, in SurfaceParameters p)
    {
        Weight = p.FilmThickness > 0f ? Directions.Unit(p.FilmWeight) : 0f;
        film = new(MathF.Max(0f, p.FilmThickness), Math.Clamp(p.FilmIor, 1f, 3f));
        fromXyz = model.FromXyz;
    }

    public float Weight { get; }

    public bool IsThere => Weight > 0f;

    public Vector3 OverDielectric(float cos, float ior) => film.OverDielectric(cos, ior, fromXyz);

    public Vector3 OverMetal(float cos, Vector3 reflectance, Vector3 edge) => film.OverMetal(cos, reflectance, edge, fromXyz);
}
