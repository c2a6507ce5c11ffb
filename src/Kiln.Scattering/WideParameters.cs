namespace Kiln.Scattering;

/// <summary><see cref="SurfaceParameters"/> of eight places.</summary>
public struct WideParameters
{
    public Wide3 BaseColour,
        SpecularColour,
        EdgeColour,
        TransmissionColour,
        SubsurfaceColour,
        CoatColour,
        FuzzColour,
        Emission;
    public Wide DiffuseRoughness,
        Metalness,
        Width,
        Anisotropy,
        Ior,
        SpecularWeight,
        ReflectanceAsColour,
        Transmission,
        TransmissionDepth,
        Dispersion,
        ThinWalled,
        Subsurface,
        CoatWeight,
        CoatWidth,
        CoatAnisotropy,
        CoatIor,
        CoatDarkening,
        FuzzWeight,
        FuzzRoughness,
        FilmWeight,
        FilmThickness,
        FilmIor,
        Opacity;

    /// <summary>The same in every lane.</summary>
    public static WideParameters Of(in SurfaceParameters p) =>
        new()
        {
            BaseColour = Wide3.Of(p.BaseColour),
            SpecularColour = Wide3.Of(p.SpecularColour),
            EdgeColour = Wide3.Of(p.EdgeColour),
            TransmissionColour = Wide3.Of(p.TransmissionColour),
            SubsurfaceColour = Wide3.Of(p.SubsurfaceColour),
            CoatColour = Wide3.Of(p.CoatColour),
            FuzzColour = Wide3.Of(p.FuzzColour),
            Emission = Wide3.Of(p.Emission),
            DiffuseRoughness = WideMath.Of(p.DiffuseRoughness),
            Metalness = WideMath.Of(p.Metalness),
            Width = WideMath.Of(p.Width),
            Anisotropy = WideMath.Of(p.Anisotropy),
            Ior = WideMath.Of(p.Ior),
            SpecularWeight = WideMath.Of(p.SpecularWeight),
            ReflectanceAsColour = WideMath.Of(p.ReflectanceAsColour),
            Transmission = WideMath.Of(p.Transmission),
            TransmissionDepth = WideMath.Of(p.TransmissionDepth),
            Dispersion = WideMath.Of(p.Dispersion),
            ThinWalled = WideMath.Of(p.ThinWalled),
            Subsurface = WideMath.Of(p.Subsurface),
            CoatWeight = WideMath.Of(p.CoatWeight),
            CoatWidth = WideMath.Of(p.CoatWidth),
            CoatAnisotropy = WideMath.Of(p.CoatAnisotropy),
            CoatIor = WideMath.Of(p.CoatIor),
            CoatDarkening = WideMath.Of(p.CoatDarkening),
            FuzzWeight = WideMath.Of(p.FuzzWeight),
            FuzzRoughness = WideMath.Of(p.FuzzRoughness),
            FilmWeight = WideMath.Of(p.FilmWeight),
            FilmThickness = WideMath.Of(p.FilmThickness),
            FilmIor = WideMath.Of(p.FilmIor),
            Opacity = WideMath.Of(p.Opacity),
        };

    /// <summary>What lies below the skin: nothing but the skin is met from there.</summary>
    internal WideParameters Inside(Wide inside)
    {
        var seen = this;
        seen.CoatWeight = Without(CoatWeight, inside);
        seen.FuzzWeight = Without(FuzzWeight, inside);
        seen.Metalness = Without(Metalness, inside);
        seen.Subsurface = Without(Subsurface, inside);
        seen.ThinWalled = Without(ThinWalled, inside);
        seen.Transmission = Select(inside, Wide.One, Transmission);
        seen.TransmissionColour = Wide3.Select(inside & Positive(TransmissionDepth), Wide3.One, TransmissionColour);
        return seen;
    }
}
