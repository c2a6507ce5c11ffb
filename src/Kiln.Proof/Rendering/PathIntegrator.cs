using System.Numerics;
using Kiln.Proof.Geometry;
using Kiln.Scattering;

namespace Kiln.Proof.Rendering;

/// <summary>
/// Follows light backwards from the camera, one path at a time: the environment and the surface are sampled in turn and combined by the
/// power
/// heuristic (Veach 1997). One for each thread.
/// </summary>
internal sealed class PathIntegrator(ProofScene scene, CameraFrame camera, bool background, bool withLayers, bool blurredBackground = false)
{
    private const int LongestPath = 64,
        SureBounces = 3,
        MostPasses = 32;
    private const float Clearance = 1e-4f,
        LeastCosine = 0.02f,
        LeastLift = 0.01f;

    /// <summary>
    /// Direct light below this is asked for with a chance in proportion; white paper sends back about 1. Common practice, no source.
    /// </summary>
    private const float WorthARay = 0.04f;

    /// <summary>
    /// Width that sharp surfaces get when seen by way of matt ones (path space regularisation, Kaplanyan and Dachsbacher 2013, with a fixed
    /// width; the number is common practice, no source).
    /// </summary>
    private const float Softest = 0.25f;

    /// <summary>
    /// A sample stands for a part of its pixel, since its neighbours look beside it: filtered over the whole pixel each, the mean of many
    /// would be blurred twice.
    /// Measured against OpenImageIO (TextureLookups): with 1 the error at 45° is larger than that of one trilinear lookup, with a half it
    /// is not.
    /// </summary>
    private const float PartOfPixel = 0.5f;

    /// <summary>How much a bounce off a rough surface widens the footprint of later lookups. Common practice, no source.</summary>
    private const float ConeOfWidth = 0.35f;

    private readonly Vector3[] scratch = scene.Material.NewScratch();
    private FirstHit seen;

    /// <summary>Rays traced so far.</summary>
    public long Rays { get; private set; }

    /// <summary>What the last path met first.</summary>
    public ref readonly FirstHit Seen => ref seen;

    /// <summary>One path through a pixel: its radiance, and whether it met something.</summary>
    public (Vector3 Radiance, float Coverage) Trace(int x, int y, ref Sampler sampler)
    {
        if (withLayers)
            seen = default;
        var jitter = sampler.Next2();
        var direction = camera.Direction(x + jitter.X, y + jitter.Y);
        var origin = camera.Eye;
        Vector3 throughput = Vector3.One,
            radiance = Vector3.Zero,
            absorbed = Vector3.Zero;
        // The density by which the last direction was chosen; 0 while the ray comes straight from the camera.
        float pdf = 0,
            distance = 0,
            cone = camera.Spread * PartOfPixel,
            soft = 0;
        // In nanometres, once the path has been in a body that bends colours differently.
        float wavelength = 0;
        // How the light that arrives at the first surface is shared between its layers.
        ScatteredLight? first = null;
        for (int bounces = 0, passes = 0; bounces < LongestPath && passes < MostPasses; )
        {
            Rays++;
            if (!scene.Intersect(origin, direction, 0, out var hit))
            {
                var toward = scene.ToLight(direction);
                if (pdf == 0)
                    return (
                        background
                            ? radiance
                                + throughput * (blurredBackground ? scene.Light.Blurred.Background(toward) : scene.Light.Background(toward))
                            : radiance,
                        0
                    );
                var (arriving, lightPdf) = scene.Light.Meet(toward);
                return End(radiance + throughput * arriving * Power(pdf, lightPdf), first);
            }
            distance += hit.Distance;
            if (absorbed != Vector3.Zero)
                throughput *= new Vector3(
                    MathF.Exp(-absorbed.X * hit.Distance),
                    MathF.Exp(-absorbed.Y * hit.Distance),
                    MathF.Exp(-absorbed.Z * hit.Distance)
                );
            scene.Point(hit, origin, direction, out var point);
            var wo = -direction;
            var outside = Vector3.Dot(point.Facet, wo) >= 0;
            var facet = outside ? point.Facet : -point.Facet;
            Vector3 normal = outside ? point.Normal : -point.Normal,
                coatNormal = normal;
            SurfaceParameters p;
            SurfaceModel model;
            bool inside = false,
                ownCoat = false;
            Vector3 stretch = point.Tangent,
                coatStretch = stretch;
            if (!scene.IsForm(hit))
            {
                if (pdf == 0 && StudioFloor.Presence(point.Position) is < 1 and var presence && sampler.Next() >= presence)
                {
                    origin = point.Position - facet * Clearance;
                    passes++;
                    continue;
                }
                var cosine = MathF.Max(0.05f, MathF.Abs(Vector3.Dot(point.Normal, wo)));
                (p, model) = (StudioFloor.Surface(point.Uv, cone * distance / MathF.Sqrt(cosine)), StudioFloor.Model);
            }
            else if (scene.Fixed(hit) is { } own)
            {
                (p, model) = (own.Parameters, own.Model);
            }
            else
            {
                var cosine = MathF.Max(0.05f, MathF.Abs(Vector3.Dot(point.Normal, wo)));
                scene.Material.At(point.Uv, cone * distance / MathF.Sqrt(cosine) * point.UvPerMetre, scratch, out p, out var directions);
                model = scene.Material.Model;
                if (p.Anisotropy > 0f)
                    stretch = Headed(point, directions.Heading);
                if (scene.Material.HasNormal)
                    normal = coatNormal = outside ? Bent(point, directions.Normal) : -Bent(point, directions.Normal);
                if (scene.Material.HasCoatNormal)
                    coatNormal = outside ? Bent(point, directions.CoatNormal) : -Bent(point, directions.CoatNormal);
                ownCoat = scene.Material.HasCoatNormal || p.CoatAnisotropy > 0f;
                if (ownCoat)
                    coatStretch = Headed(point, directions.CoatHeading);
                if (p.Opacity < 1f && sampler.Next() >= p.Opacity)
                {
                    // Not there: the ray goes on as if nothing had been hit.
                    origin = point.Position - facet * Clearance;
                    passes++;
                    continue;
                }
                if (scene.IsSheet)
                    p.ThinWalled = 1;
                inside = !outside && p.Transmission > 0f && p.ThinWalled < 0.5f;
            }
            bounces++;
            normal = Reflecting(normal, wo, facet);
            // What is seen by way of a matt surface is shown as if it were less sharp: caustics come out soft instead of as sparks.
            p.Width = MathF.Max(p.Width, soft);
            p.CoatWidth = MathF.Max(p.CoatWidth, soft);
            var bent = wavelength;
            if (p.Dispersion > 0f && p.Transmission > 0f && p.ThinWalled < 0.5f)
            {
                if (bent == 0)
                    bent = Dispersion.Wavelength(sampler.Next());
                p.Ior = Dispersion.IndexAt(p.Ior, p.Dispersion, bent);
            }
            var frame = p.Anisotropy > 0f ? new Frame(normal, stretch) : new Frame(normal);
            var surface = new Surface(
                model,
                p,
                frame.ToLocal(wo),
                inside,
                ownCoat ? new Frame(Reflecting(coatNormal, wo, facet), coatStretch).Within(frame) : null
            );
            if (p.Emission != Vector3.Zero)
                radiance += Emitted(throughput * p.Emission * surface.EmissionShare, bounces == 1);
            if (withLayers && bounces == 1)
                seen.Meet(surface.Albedo, normal, distance);
            radiance += ByLight(surface, frame, point.Position, facet, ref sampler, throughput, bounces == 1);
            var next = surface.Sample(sampler.Next(), sampler.Next2());
            var scattered = surface.Evaluate(next, out pdf);
            direction = frame.ToWorld(next);
            var toOutside = Vector3.Dot(direction, facet) > 0;
            if (!(pdf > 1e-12f) || toOutside != next.Z > 0f)
                return End(radiance, first);
            origin = point.Position + (toOutside ? facet : -facet) * Clearance;
            var coloured = Vector3.One;
            if (!toOutside && bent != wavelength)
            {
                // What is reflected keeps all colours: its share hardly depends on them.
                wavelength = bent;
                coloured = Dispersion.Weight(bent, model.FromXyz);
            }
            if (!toOutside && p.ThinWalled < 0.5f)
                absorbed = inside ? Vector3.Zero : Absorption(p);
            cone += ConeOfWidth * p.Width;
            soft = MathF.Max(soft, Softest * MathF.Min(1f, 1f / MathF.Sqrt(MathF.PI * pdf)));
            if (withLayers && bounces == 1)
            {
                // From here on the path gathers what arrives at the first surface.
                seen.Direct = radiance;
                (first, throughput, radiance) = (Scaled(scattered, coloured * throughput / pdf), Vector3.One, Vector3.Zero);
                continue;
            }
            throughput *= coloured * (scattered.Sum / pdf);
            if (bounces < SureBounces)
                continue;
            var survive = MathF.Min(0.95f, Greatest(throughput));
            if (sampler.Next() >= survive)
                return End(radiance, first);
            throughput /= survive;
        }
        return End(radiance, first);
    }

    /// <param name="first">How what the path gathered since is shared out; null where it came to an end before.</param>
    private (Vector3, float) End(Vector3 gathered, in ScatteredLight? first)
    {
        if (first is not { } share)
            return (gathered, 1);
        seen.Add(Scaled(share, gathered));
        return (seen.Direct + share.Sum * gathered, 1);
    }

    private Vector3 Emitted(Vector3 light, bool first)
    {
        if (withLayers && first)
            seen.Emission += light;
        return light;
    }

    /// <summary>Light that arrives directly, by a direction the light proposes.</summary>
    private Vector3 ByLight(
        in Surface surface,
        in Frame frame,
        Vector3 position,
        Vector3 facet,
        ref Sampler sampler,
        Vector3 throughput,
        bool first
    )
    {
        var (lightDirection, arriving, lightPdf) = scene.Light.Sample(sampler.Next2());
        var through = sampler.Next();
        if (lightPdf <= 0)
            return Vector3.Zero;
        var wi = scene.FromLight(lightDirection);
        var local = frame.ToLocal(wi);
        var toOutside = Vector3.Dot(wi, facet) > 0;
        if (toOutside != local.Z > 0 || !toOutside && !surface.IsTransmissive)
            return Vector3.Zero;
        var scattered = surface.Evaluate(local, out var pdf);
        var sum = scattered.Sum;
        if (sum == Vector3.Zero)
            return Vector3.Zero;
        var weight = throughput * arriving * (Power(lightPdf, pdf) / lightPdf);
        // Little light is asked for seldom, and counts for more then.
        var little = Greatest(sum * weight) / WorthARay;
        if (little < 1)
        {
            if (through >= little)
                return Vector3.Zero;
            through /= little;
            weight /= little;
        }
        Rays++;
        if (Blocked(position + (toOutside ? facet : -facet) * Clearance, wi, through))
            return Vector3.Zero;
        if (withLayers && first)
            seen.Add(Scaled(scattered, weight));
        return sum * weight;
    }

    private bool Blocked(Vector3 origin, Vector3 direction, float through)
    {
        if (scene.Material.IsOpaque)
            return scene.Occluded(origin, direction, 0);
        for (var passes = 0; passes < MostPasses; passes++)
        {
            if (!scene.Intersect(origin, direction, 0, out var hit))
                return false;
            if (!scene.IsForm(hit) || scene.Fixed(hit) is not null)
                return true;
            scene.Point(hit, origin, direction, out var point);
            scene.Material.At(point.Uv, 1e-3f, scratch, out var p, out _);
            if (through < p.Opacity)
                return true;
            // What remains of the number is again evenly distributed.
            through = (through - p.Opacity) / MathF.Max(1e-6f, 1f - p.Opacity);
            origin = point.Position + direction * Clearance;
        }
        return true;
    }

    /// <summary>Per metre, so that white light has the transmission colour after the depth (Beer and Lambert).</summary>
    private static Vector3 Absorption(in SurfaceParameters p)
    {
        if (!(p.TransmissionDepth > 0f))
            return Vector3.Zero;
        var c = Vector3.Clamp(p.TransmissionColour, new(1e-4f), Vector3.One);
        return new Vector3(-MathF.Log(c.X), -MathF.Log(c.Y), -MathF.Log(c.Z)) / p.TransmissionDepth;
    }

    private static ScatteredLight Scaled(in ScatteredLight light, Vector3 by) =>
        new()
        {
            Diffuse = light.Diffuse * by,
            Specular = light.Specular * by,
            Coat = light.Coat * by,
            Transmission = light.Transmission * by,
        };

    /// <summary>
    /// A tangent-space normal on the form: unnormalised interpolated frame, bitangent from normal and tangent (MikkTSpace).
    /// </summary>
    private static Vector3 Bent(in SurfacePoint point, Vector3 n)
    {
        var bitangent = Vector3.Cross(point.Normal, point.Tangent) * point.BitangentSign;
        return Vector3.Normalize(point.Tangent * n.X + bitangent * n.Y + point.Normal * n.Z);
    }

    /// <summary>A direction along the form.</summary>
    private static Vector3 Headed(in SurfacePoint point, Vector3 heading) =>
        point.Tangent * heading.X + Vector3.Cross(point.Normal, point.Tangent) * (point.BitangentSign * heading.Y);

    /// <summary>
    /// A shading normal that leans away from the viewer, or whose mirrored ray would go into the surface, is brought back until light can
    /// get away
    /// (after Keller et al. 2017, appendix A.3, simplified).
    /// </summary>
    private static Vector3 Reflecting(Vector3 normal, Vector3 wo, Vector3 facet)
    {
        var cos = Vector3.Dot(normal, wo);
        if (cos < LeastCosine)
            normal = Vector3.Normalize(normal + wo * (LeastCosine - cos));
        var mirrored = 2f * Vector3.Dot(normal, wo) * normal - wo;
        var above = Vector3.Dot(mirrored, facet);
        return above >= LeastLift ? normal : Vector3.Normalize(wo + Vector3.Normalize(mirrored + facet * (LeastLift - above)));
    }

    private static float Greatest(Vector3 v) => MathF.Max(v.X, MathF.Max(v.Y, v.Z));

    private static float Power(float own, float other) => own * own / (own * own + other * other);
}
