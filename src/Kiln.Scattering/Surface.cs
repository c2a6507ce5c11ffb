using System.Numerics;

namespace Kiln.Scattering;

/// <summary>
/// A surface of layers: fibres, a coat, and below them a metal mixed with a dielectric that is matt, lets light through, or both. Each
/// layer
/// is scaled by what those above leave over (albedo scaling, OpenPBR Surface 1.1 "Layering"), so a white surface returns all light and none
/// returns
/// more. Directions are in the shading frame, z along the normal, x along the tangent, pointing away from the surface; wo lies above it.
/// Light that is refracted is not scaled by the squares of the indices: every path that enters a medium leaves it again, where the factors
/// cancel.
/// </summary>
public readonly struct Surface
{
    private const float LeastBend = 0.02f;

    private readonly SurfaceModel model;
    private readonly Vector3 wo;
    private readonly Facets facets;
    private readonly Facets.Viewed viewed;
    private readonly Distribution distribution;
    private readonly bool inside,
        thin,
        straight;
    private readonly float metalness,
        dielectric,
        width,
        specularWeight;

    // The dielectric: exact by index, or Schlick between two ends; and the film over it and the metal.
    private readonly float ior,
        glassGain;
    private readonly Vector3 f0,
        f90,
        tint;
    private readonly float filmWeight;
    private readonly ThinFilm film;

    private readonly Vector3 baseColour,
        diffuseColour,
        transmissionTint,
        sheetColour;
    private readonly float diffuseRoughness,
        diffuseShare,
        transmissionShare,
        sheetShare;
    private readonly Vector3 metalMany,
        underInterface;
    private readonly float reflectionAlbedo;

    private readonly float coatWeight,
        coatIor,
        coatShare;
    private readonly Facets coat;
    private readonly Frame coatFrame;
    private readonly bool ownCoat;
    private readonly Vector3 coatNormal,
        coatColour,
        underCoat;

    private readonly float fuzzShare,
        underFuzz;
    private readonly Vector3 fuzzColour;
    private readonly Fuzz fuzz;

    private readonly float fuzzChance,
        coatChance,
        specularChance,
        diffuseChance,
        transmissionChance,
        sheetChance;

    /// <param name="inside">Whether <paramref name="wo"/> lies within the body: only its interface is met there.</param>
    /// <param name="coatFrame">The coat's normal and tangent in the shading frame, its normal on the side of <paramref name="wo"/>; null
    /// where it follows the base.</param>
    public Surface(SurfaceModel model, in SurfaceParameters p, Vector3 wo, bool inside = false, Frame? coatFrame = null)
    {
        this.model = model;
        this.wo = wo;
        this.inside = inside;
        distribution = model.Distribution;
        facets = new(p.Width, p.Anisotropy, distribution);
        viewed = facets.From(wo);
        width = facets.MeanWidth;
        thin = p.ThinWalled >= 0.5f;
        baseColour = Unit(p.BaseColour);
        diffuseRoughness = Unit(p.DiffuseRoughness);
        metalness = Unit(p.Metalness);
        specularWeight = Unit(p.SpecularWeight);
        dielectric = 1f - metalness;
        var transmission = Unit(p.Transmission);
        var tint = this.tint = Unit(p.SpecularColour);
        filmWeight = p.FilmThickness > 0f ? Unit(p.FilmWeight) : 0f;
        film = new(MathF.Max(0f, p.FilmThickness), Math.Clamp(p.FilmIor, 1f, 3f));

        // The interface. The weight scales the reflectance at normal incidence by changing the index (OpenPBR Surface 1.1, "Specular
        // weight").
        var index = Math.Clamp(float.IsFinite(p.Ior) ? p.Ior : 1.5f, 1f, 3.1f);
        var normal = Fresnel.NormalIncidence(index);
        ior = Fresnel.IndexOf(normal * specularWeight);
        if (model.Dielectric == DielectricModel.Schlick)
        {
            // glTF 2.0, KHR_materials_specular: f0 = min(f0(ior)·colour, 1)·weight, f90 = weight. Or both ends as colours.
            var asColour = p.ReflectanceAsColour >= 0.5f;
            f0 = (asColour ? tint : Vector3.Min(normal * tint, Vector3.One)) * specularWeight;
            f90 = (asColour ? Unit(p.EdgeColour) : Vector3.One) * specularWeight;
            ior = index;
        }
        if (inside)
            ior = 1f / ior;
        // Between media that hardly differ a refracting facet cannot be told in single precision.
        straight = thin || MathF.Abs(ior - 1f) < LeastBend;
        glassGain = 1f;
        if (transmission > 0f && !straight && model.Compensation)
            glassGain = 1f / MathF.Max(0.2f, AlbedoTables.Glass(wo.Z, width, ior));

        reflectionAlbedo = metalness > 0f ? AlbedoTables.Reflection(distribution, wo.Z, width) : 0f;
        metalMany = default;
        var metalManyShare = 0f;
        if (model.Compensation && metalness > 0f)
        {
            var average = AlbedoTables.Average(distribution, width);
            var reflectance = model.Metal switch
            {
                MetalModel.F82 => Fresnel.F82Average(baseColour, tint),
                MetalModel.Conductor => Fresnel.ConductorAverage(baseColour, tint),
                _ => baseColour + (Vector3.One - baseColour) / 21f,
            };
            var many = reflectance * reflectance * average / (Vector3.One - reflectance * (1f - average));
            metalMany = many / (MathF.PI * MathF.Max(1e-4f, 1f - average));
            metalManyShare = Mean(many) * (1f - reflectionAlbedo);
        }

        if (inside)
        {
            // Light within the body meets nothing but its skin.
            (metalness, dielectric) = (0f, 1f);
            transmissionShare = 1f;
            transmissionTint = p.TransmissionDepth > 0f ? Vector3.One : Unit(p.TransmissionColour);
            underCoat = Vector3.One;
            underFuzz = 1f;
            coatColour = Vector3.One;
            var reflected = Fresnel.Dielectric(wo.Z, ior);
            specularChance = Math.Clamp(reflected, 0.1f, reflected >= 1f && width < 0.05f ? 1f : 0.9f);
            transmissionChance = 1f - specularChance;
            return;
        }

        var interfaceAlbedo = InterfaceAlbedo();
        // A film sends on what it does not reflect, colour by colour; a tint is no interference, and must not colour what lies below.
        underInterface = filmWeight > 0f ? Vector3.One - interfaceAlbedo : new(1f - Greatest(interfaceAlbedo));
        var subsurface = Unit(p.Subsurface);
        var skin = Unit(p.SubsurfaceColour);
        diffuseShare = dielectric * (1f - transmission);
        // A thin sheet scatters half of what goes under its skin to the other side.
        sheetShare = thin ? diffuseShare * subsurface * 0.5f : 0f;
        sheetColour = skin;
        diffuseColour = thin ? baseColour * (1f - subsurface) + skin * (subsurface * 0.5f) : Vector3.Lerp(baseColour, skin, subsurface);
        transmissionShare = dielectric * transmission;
        transmissionTint = thin || p.TransmissionDepth <= 0f ? Unit(p.TransmissionColour) : Vector3.One;

        coatWeight = Unit(p.CoatWeight);
        coatColour = Vector3.One;
        underCoat = Vector3.One;
        coatNormal = Vector3.UnitZ;
        var coatAlbedo = 0f;
        if (coatWeight > 0f)
        {
            coatIor = Math.Clamp(p.CoatIor, 1f, 3f);
            if (coatFrame is { } own)
                (this.coatFrame, ownCoat, coatNormal) = (own, true, own.Normal);
            coat = new(p.CoatWidth, p.CoatAnisotropy, distribution);
            var cos = MathF.Max(1e-3f, Vector3.Dot(wo, coatNormal));
            coatAlbedo = CoatAlbedo(cos);
            coatShare = coatWeight;
            coatColour = Unit(p.CoatColour);
            underCoat = new(1f - coatWeight * coatAlbedo);
            var darkening = coatWeight * Unit(p.CoatDarkening);
            if (darkening > 0f)
            {
                // Light that the coat throws back down is absorbed again and again (OpenPBR Surface 1.1, "Coat darkening", as its MaterialX
                // graph has it).
                var kept = 1f - (1f - Fresnel.NormalIncidence(coatIor)) / (coatIor * coatIor);
                var below = metalness * baseColour * specularWeight + dielectric * Vector3.Lerp(baseColour, skin, subsurface);
                underCoat *= Vector3.Lerp(Vector3.One, (1f - kept) * Vector3.One / (Vector3.One - below * kept), darkening);
            }
        }
        underFuzz = 1f;
        var fuzzWeight = Unit(p.FuzzWeight);
        if (fuzzWeight > 0f)
        {
            fuzz = new(model.Fuzz, p.FuzzRoughness, wo);
            fuzzColour = Unit(p.FuzzColour);
            fuzzShare = fuzzWeight;
            underFuzz = 1f - fuzzWeight * Greatest(fuzzColour) * fuzz.Albedo;
        }

        var below1 = underFuzz * Mean(underCoat) * (coatWeight > 0f ? Mean(Vector3.Lerp(Vector3.One, coatColour, coatWeight)) : 1f);
        var specular =
            below1 * (metalness * specularWeight * reflectionAlbedo * Mean(MetalReflectance(wo.Z)) + dielectric * Mean(interfaceAlbedo));
        var diffuse = below1 * (diffuseShare * Mean(diffuseColour * underInterface) + metalness * specularWeight * metalManyShare);
        var through = below1 * transmissionShare * Mean(transmissionTint * underInterface);
        var sheet = below1 * sheetShare * Mean(sheetColour * underInterface);
        var coatPart = underFuzz * coatWeight * coatAlbedo;
        var fuzzPart = fuzzShare * Mean(fuzzColour) * fuzz.Albedo;
        var most = specular + diffuse + through + sheet + coatPart + fuzzPart;
        // Every lobe that is there keeps a chance, so that no direction is left out.
        float Chance(float part, bool there) => there ? MathF.Max(part, 0.04f * most + 1e-6f) : 0f;
        specular = Chance(specular, metalness > 0f || Greatest(interfaceAlbedo) > 0f);
        diffuse = Chance(diffuse, diffuse > 0f);
        through = Chance(through, transmissionShare > 0f);
        sheet = Chance(sheet, sheetShare > 0f);
        coatPart = Chance(coatPart, coatWeight > 0f);
        fuzzPart = Chance(fuzzPart, fuzzShare > 0f);
        var total = specular + diffuse + through + sheet + coatPart + fuzzPart;
        if (total <= 0f)
        {
            diffuseChance = 1f;
            return;
        }
        (specularChance, diffuseChance, transmissionChance) = (specular / total, diffuse / total, through / total);
        (sheetChance, coatChance, fuzzChance) = (sheet / total, coatPart / total, fuzzPart / total);
    }

    /// <summary>Whether light may go on below the surface.</summary>
    public bool IsTransmissive => transmissionChance > 0f || sheetChance > 0f;

    /// <summary>What is left of light that the surface emits below coat and fibres, towards the viewer.</summary>
    public Vector3 EmissionShare =>
        coatWeight > 0f
            ? underFuzz
                * (1f - coatWeight * CoatAlbedo(MathF.Max(1e-3f, Vector3.Dot(wo, coatNormal))))
                * CoatPath(Vector3.Dot(wo, coatNormal), 1f, 0.5f)
            : new(underFuzz);

    /// <summary>
    /// Reflectance by itself, for a picture of the surface's colour: what it returns under light from everywhere, without the coat's and
    /// the fibres' own.
    /// </summary>
    public Vector3 Albedo =>
        Vector3.Clamp(metalness * specularWeight * MetalReflectance(1f) + dielectric * diffuseColour, Vector3.Zero, Vector3.One);

    /// <summary>
    /// The distribution times the cosine of <paramref name="wi"/>, and the density of <see cref="Sample"/> over solid angle.
    /// </summary>
    public ScatteredLight Evaluate(Vector3 wi, out float density)
    {
        var result = default(ScatteredLight);
        density = 0f;
        if (wo.Z <= 0f)
            return result;
        if (wi.Z <= 0f)
        {
            if (wi.Z < 0f && IsTransmissive)
                Transmission(wi, ref result, ref density);
            return result;
        }
        var below = new Vector3(underFuzz);
        if (fuzzShare > 0f)
        {
            result.Coat += fuzzColour * (fuzzShare * fuzz.Evaluate(wi));
            density += fuzzChance * fuzz.Density(wi);
        }
        if (coatWeight > 0f)
            below *= OffCoat(wi, ref result, ref density);
        var h = Vector3.Normalize(wo + wi);
        var oh = MathF.Max(0f, Vector3.Dot(wo, h));
        if (specularChance > 0f && oh > 0f)
        {
            float d = facets.D(h),
                g = facets.G2(viewed, wi),
                lobe = d * g / (4f * wo.Z);
            if (lobe > 0f)
            {
                if (metalness > 0f)
                    result.Specular += MetalReflectance(oh) * (metalness * specularWeight * lobe) * below;
                if (dielectric > 0f)
                    result.Specular +=
                        InterfaceReflectance(oh)
                        * (dielectric * lobe * (transmissionShare > 0f ? 1f + (glassGain - 1f) * transmissionShare / dielectric : 1f))
                        * below;
            }
            density += specularChance * facets.Density(viewed, h) / MathF.Max(1e-7f, 4f * oh);
        }
        if (diffuseChance > 0f)
        {
            if (diffuseShare > 0f)
                result.Diffuse += DiffuseLobe(wi) * (diffuseShare * wi.Z) * underInterface * below;
            if (metalMany != Vector3.Zero)
                result.Specular +=
                    metalMany
                    * (
                        metalness
                        * specularWeight
                        * (1f - reflectionAlbedo)
                        * (1f - AlbedoTables.Reflection(distribution, wi.Z, width))
                        * wi.Z
                    )
                    * below;
            density += diffuseChance * wi.Z / MathF.PI;
        }
        return result;
    }

    /// <summary>
    /// Proposes a direction; its density comes with <see cref="Evaluate"/>. Zero where a facet sends light to the wrong side: it is lost.
    /// </summary>
    public Vector3 Sample(float choice, Vector2 u)
    {
        if ((choice -= specularChance) < 0f)
            return Above(Mirror(facets.Sample(wo, u)));
        if ((choice -= diffuseChance) < 0f)
            return Cosine(u);
        if ((choice -= coatChance) < 0f)
        {
            var mirrored = Mirror(CoatFacet(u));
            return Vector3.Dot(mirrored, coatNormal) > 0f ? Above(mirrored) : default;
        }
        if ((choice -= fuzzChance) < 0f)
            return fuzz.Sample(u);
        if (sheetChance > 0f && ((choice -= sheetChance) < 0f || transmissionChance <= 0f))
            return -Cosine(u);
        if (transmissionChance <= 0f)
            return Cosine(u);
        var h = facets.Sample(wo, u);
        if (straight)
            return Above(Mirror(h)) is { Z: > 0f } mirrored ? mirrored with { Z = -mirrored.Z } : default;
        return Vector3.Dot(wo, h) > 0f && Interface.Refract(wo, h, ior) is { Z: < 0f } refracted ? refracted : default;
    }

    private static Vector3 Above(Vector3 w) => w.Z > 0f ? w : default;

    private Vector3 CoatFacet(Vector2 u)
    {
        if (!ownCoat)
            return coat.Sample(wo, u);
        return coatFrame.ToWorld(coat.Sample(coatFrame.ToLocal(wo), u));
    }

    private Vector3 Mirror(Vector3 h) => 2f * Vector3.Dot(wo, h) * h - wo;

    private Vector3 DiffuseLobe(Vector3 wi) =>
        model.Diffuse switch
        {
            DiffuseModel.Eon => Diffuse.Eon(diffuseColour, diffuseRoughness, wo, wi),
            // Nothing returns more light than it gets, not even this model.
            DiffuseModel.OrenNayar => Diffuse.OrenNayar(diffuseColour, diffuseRoughness, wo, wi)
                / MathF.Max(1f, Diffuse.OrenNayarMost(diffuseRoughness)),
            _ => Diffuse.Lambert(diffuseColour),
        };

    private static Vector3 Cosine(Vector2 u)
    {
        var r = MathF.Sqrt(u.X);
        var (sin, cos) = MathF.SinCos(2f * MathF.PI * u.Y);
        return new(r * cos, r * sin, MathF.Sqrt(MathF.Max(0f, 1f - u.X)));
    }

    private void Transmission(Vector3 wi, ref ScatteredLight result, ref float density)
    {
        var below = underCoat * underFuzz;
        if (coatWeight > 0f)
            below *= CoatPath(Vector3.Dot(wo, coatNormal), 1f, 0.5f);
        if (sheetShare > 0f)
        {
            result.Transmission += sheetColour * (sheetShare * -wi.Z / MathF.PI) * underInterface * below;
            density += sheetChance * -wi.Z / MathF.PI;
        }
        if (transmissionShare <= 0f)
            return;
        if (straight)
        {
            // Both faces of a thin sheet, or media that hardly differ: what is not reflected goes straight on, as wide as the mirrored
            // lobe.
            var mirrored = wi with { Z = -wi.Z };
            var h = Vector3.Normalize(wo + mirrored);
            var oh = Vector3.Dot(wo, h);
            result.Transmission +=
                transmissionTint
                * (Vector3.One - InterfaceReflectance(oh))
                * (transmissionShare * facets.D(h) * facets.G2(viewed, mirrored) / (4f * wo.Z))
                * below;
            density += transmissionChance * facets.Density(viewed, h) / MathF.Max(1e-7f, 4f * oh);
            return;
        }
        var facet = Interface.RefractingFacet(wo, wi, ior);
        if (facet == Vector3.Zero)
            return;
        float o = Vector3.Dot(wo, facet),
            i = Vector3.Dot(wi, facet),
            part = Interface.RefractedPart(o, i, ior);
        result.Transmission +=
            transmissionTint
            * (Vector3.One - InterfaceLoss(o))
            * (transmissionShare * glassGain * facets.D(facet) * facets.G2(viewed, wi) * o / wo.Z * part)
            * below;
        density += transmissionChance * facets.Density(viewed, facet) * part;
    }

    /// <summary>Adds what the coat reflects; returns what is left for what lies below.</summary>
    private Vector3 OffCoat(Vector3 wi, ref ScatteredLight result, ref float density)
    {
        float no = MathF.Max(1e-3f, Vector3.Dot(wo, coatNormal)),
            ni = MathF.Max(1e-3f, Vector3.Dot(wi, coatNormal));
        var h = Vector3.Normalize(wo + wi);
        var oh = Vector3.Dot(wo, h);
        if (Vector3.Dot(h, coatNormal) > 0f && oh > 0f)
        {
            // Without a frame of its own the coat shares that of the base.
            Vector3 o = wo,
                i = wi,
                m = h;
            if (ownCoat)
                (o, i, m) = (coatFrame.ToLocal(wo), coatFrame.ToLocal(wi), coatFrame.ToLocal(h));
            if (o.Z > 0f && i.Z > 0f)
            {
                var reflectance =
                    model.Dielectric == DielectricModel.Exact
                        ? Fresnel.Dielectric(oh, coatIor)
                        : Fresnel.Schlick(oh, new(Fresnel.NormalIncidence(coatIor)), Vector3.One).X;
                result.Coat += new Vector3(coatShare * underFuzz * reflectance * coat.D(m) * coat.G2(o, i) / (4f * o.Z));
                density += coatChance * coat.Density(o, m) / MathF.Max(1e-7f, 4f * oh);
            }
        }
        return underCoat * CoatPath(no, ni, 1f);
    }

    /// <summary>
    /// Absorption on the ways through the coat: its colour is what is left of white after there and back along the normal.
    /// </summary>
    private Vector3 CoatPath(float cosOut, float cosIn, float ways)
    {
        if (coatColour == Vector3.One)
            return Vector3.One;
        if (!model.CoatAbsorbs)
            return Vector3.Lerp(Vector3.One, coatColour, coatWeight);
        var length = ways < 1f ? 0.5f * PathLength(cosOut, coatIor) : 0.5f * (PathLength(cosOut, coatIor) + PathLength(cosIn, coatIor));
        Vector3 absorbed = new(MathF.Pow(coatColour.X, length), MathF.Pow(coatColour.Y, length), MathF.Pow(coatColour.Z, length));
        return Vector3.Lerp(Vector3.One, absorbed, coatWeight);
    }

    /// <summary>Within a layer of thickness 1, after refraction.</summary>
    private static float PathLength(float cos, float ior) =>
        1f / MathF.Sqrt(MathF.Max(1e-3f, 1f - (1f - Math.Clamp(cos * cos, 0f, 1f)) / (ior * ior)));

    private float CoatAlbedo(float cos) =>
        model.Dielectric == DielectricModel.Exact
            ? AlbedoTables.Dielectric(distribution, cos, coat.MeanWidth, coatIor)
            : AlbedoTables.Schlick(distribution, cos, coat.MeanWidth, new(Fresnel.NormalIncidence(coatIor)), Vector3.One).X;

    private Vector3 MetalReflectance(float cos)
    {
        var plain = model.Metal switch
        {
            MetalModel.F82 => Fresnel.F82(cos, baseColour, tint),
            MetalModel.Conductor => Fresnel.Conductor(cos, baseColour, tint),
            _ => Fresnel.Schlick(cos, baseColour, Vector3.One),
        };
        return filmWeight <= 0f
            ? plain
            : Vector3.Lerp(
                plain,
                film.OverMetal(cos, baseColour, model.Metal == MetalModel.F82 ? tint : Vector3.One, model.FromXyz),
                filmWeight
            );
    }

    /// <summary>Share that is reflected at a facet.</summary>
    private Vector3 InterfaceReflectance(float cos)
    {
        if (model.Dielectric == DielectricModel.Schlick && !inside && filmWeight <= 0f)
            return thin && transmissionShare > 0f ? Sheet(Fresnel.Schlick(cos, f0, f90)) : Fresnel.Schlick(cos, f0, f90);
        if (inside)
            return new(Fresnel.Dielectric(cos, ior));
        var outer = filmWeight > 0f ? FilmReflectance(cos, tint) : tint * Fresnel.Dielectric(cos, ior);
        return thin && transmissionShare > 0f ? Sheet(outer) : outer;
    }

    private Vector3 FilmReflectance(float cos, Vector3 tint)
    {
        var index = model.Dielectric == DielectricModel.Exact ? ior : MathF.Min(3.1f, Fresnel.IndexOf(Mean(f0)));
        var plain = model.Dielectric == DielectricModel.Exact ? tint * Fresnel.Dielectric(cos, ior) : Fresnel.Schlick(cos, f0, f90);
        return Vector3.Lerp(plain, tint * film.OverDielectric(cos, index, model.FromXyz), filmWeight);
    }

    /// <summary>Share that does not get through a facet: a tint of the reflection lets no more through.</summary>
    private Vector3 InterfaceLoss(float cos) =>
        filmWeight > 0f && !inside ? FilmReflectance(cos, Vector3.One)
        : model.Dielectric == DielectricModel.Schlick && !inside ? Fresnel.Schlick(cos, f0, f90)
        : new(Fresnel.Dielectric(cos, ior));

    /// <summary>Two faces of a sheet: R + T²R/(1 − R²) = 2R/(1 + R).</summary>
    private static Vector3 Sheet(Vector3 r) => 2f * r / (Vector3.One + r);

    /// <summary>Albedo of the interface by which what lies below is scaled.</summary>
    private Vector3 InterfaceAlbedo()
    {
        if (dielectric <= 0f)
            return default;
        if (filmWeight > 0f)
            return FilmAlbedo();
        var plain =
            model.Dielectric == DielectricModel.Exact
                ? tint * AlbedoTables.Dielectric(distribution, wo.Z, width, ior)
                : AlbedoTables.Schlick(distribution, wo.Z, width, f0, f90);
        return thin && transmissionShare > 0f ? Sheet(plain) : plain;
    }

    /// <summary>
    /// With a film the reflectance is no function that a table holds: the table's albedo without it, and the mean over facets at fixed
    /// places of what the film changes.
    /// </summary>
    private Vector3 FilmAlbedo()
    {
        // A wide lobe meets every angle.
        var places = width < 0.05f ? 16 : 96;
        var plain =
            model.Dielectric == DielectricModel.Exact
                ? tint * AlbedoTables.Dielectric(distribution, wo.Z, width, ior)
                : AlbedoTables.Schlick(distribution, wo.Z, width, f0, f90);
        var sum = Vector3.Zero;
        for (var i = 0; i < places; i++)
        {
            // The additive recurrence of the plastic number, as the tables have it.
            var h = facets.Sample(wo, new((0.5f + i * 0.75487766f) % 1f, (0.5f + i * 0.56984029f) % 1f));
            var (oh, wi) = (Vector3.Dot(wo, h), Mirror(h));
            if (oh <= 0f || wi.Z <= 0f)
                continue;
            var without = model.Dielectric == DielectricModel.Exact ? tint * Fresnel.Dielectric(oh, ior) : Fresnel.Schlick(oh, f0, f90);
            sum +=
                (FilmReflectance(oh, tint) - without)
                * (facets.D(h) * facets.G2(viewed, wi) * oh / MathF.Max(1e-12f, facets.Density(viewed, h) * wo.Z));
        }
        var albedo = Vector3.Clamp(plain + sum / places, Vector3.Zero, Vector3.One);
        return thin && transmissionShare > 0f ? Sheet(albedo) : albedo;
    }

    private static float Unit(float v) => v > 0f ? MathF.Min(v, 1f) : 0f;

    private static Vector3 Unit(Vector3 v) => Vector3.Clamp(v, Vector3.Zero, Vector3.One);

    private static float Mean(Vector3 v) => (v.X + v.Y + v.Z) / 3f;

    private static float Greatest(Vector3 v) => MathF.Max(v.X, MathF.Max(v.Y, v.Z));
}
