using System.Numerics;
using Kiln.Proof.Geometry;
using Kiln.Scattering;

namespace Kiln.Proof.Rendering;

/// <summary>
/// Follows light backwards from the camera, one path at a time: the environment and the surface are sampled in turn and combined by the
/// power
/// heuristic (Veach 1997). One for each thread.
/// </summary>
internal sealed class PathIntegrator(ProofScene scene, CameraFrame camera, PictureContent content)
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

    /// <summary>A path on its way.</summary>
    private struct Path
    {
        public Vector3 Origin,
            Direction,
            Throughput,
            Radiance,
            Absorbed;

        /// <summary>The density by which the last direction was chosen; 0 while the ray comes straight from the camera.</summary>
        public float Pdf;

        /// <summary>Metres from the camera, how much the footprint widens with them, and the least width of what is met.</summary>
        public float Distance,
            Cone,
            Soft;

        /// <summary>In nanometres, once the path has been in a body that bends colours differently; 0 before.</summary>
        public float Wavelength;

        /// <summary>How the light that arrives at the first surface is shared between its layers.</summary>
        public ScatteredLight? First;

        public int Bounces,
            Passes;

        public readonly bool IsAtFirst => Bounces == 1;
    }

    /// <summary>A place where a path meets a surface.</summary>
    private struct Meeting
    {
        public SurfacePoint Point;
        public SurfaceParameters Parameters;
        public SurfaceModel Model;

        /// <summary>Towards where the path came from, and the geometric normal on that side.</summary>
        public Vector3 Wo,
            Facet;

        public Vector3 Normal,
            CoatNormal,
            Stretch,
            CoatStretch;

        public bool IsOutside,
            IsInside,
            HasOwnCoat;

        public readonly Vector3 Beyond(bool toOutside) => Point.Position + (toOutside ? Facet : -Facet) * Clearance;
    }

    /// <summary>One path through a pixel: its radiance, and whether it met something.</summary>
    public (Vector3 Radiance, float Coverage) Trace(int x, int y, ref Sampler sampler)
    {
        if (content.WithLayers)
            seen = default;
        var jitter = sampler.Next2();
        var path = new Path
        {
            Direction = camera.Direction(x + jitter.X, y + jitter.Y),
            Origin = camera.Eye,
            Throughput = Vector3.One,
            Cone = camera.Spread * PartOfPixel,
        };
        while (path.Bounces < LongestPath && path.Passes < MostPasses)
        {
            Rays++;
            if (!scene.Intersect(path.Origin, path.Direction, 0, out var hit))
                return Escaped(path);
            path.Distance += hit.Distance;
            Attenuate(ref path, hit.Distance);
            if (!Meet(hit, path, ref sampler, out var met))
            {
                // Not there: the ray goes on as if nothing had been hit.
                path.Origin = met.Beyond(toOutside: false);
                path.Passes++;
                continue;
            }
            path.Bounces++;
            if (!Bounce(ref path, ref met, ref sampler) || !Survives(ref path, ref sampler))
                break;
        }
        return End(path.Radiance, path.First);
    }

    /// <summary>A path that leaves the scene brings home what the light or the background sends from there.</summary>
    private (Vector3, float) Escaped(in Path path)
    {
        var toward = scene.ToLight(path.Direction);
        if (path.Pdf != 0)
        {
            var (arriving, lightPdf) = scene.Light.Meet(toward);
            return End(path.Radiance + path.Throughput * arriving * Power(path.Pdf, lightPdf), path.First);
        }
        if (!content.Background)
            return (path.Radiance, 0);
        var shown = content.BlurredBackground ? scene.Light.Blurred.Background(toward) : scene.Light.Background(toward);
        return (path.Radiance + path.Throughput * shown, 0);
    }

    private static void Attenuate(ref Path path, float distance)
    {
        if (path.Absorbed == Vector3.Zero)
            return;
        path.Throughput *= new Vector3(
            MathF.Exp(-path.Absorbed.X * distance),
            MathF.Exp(-path.Absorbed.Y * distance),
            MathF.Exp(-path.Absorbed.Z * distance)
        );
    }

    /// <summary>What lies where a ray hits; false where the surface is not there for this path.</summary>
    private bool Meet(in Hit hit, in Path path, ref Sampler sampler, out Meeting met)
    {
        met = new Meeting { Wo = -path.Direction };
        scene.Point(hit, path.Origin, path.Direction, out met.Point);
        met.IsOutside = Vector3.Dot(met.Point.Facet, met.Wo) >= 0;
        met.Facet = met.IsOutside ? met.Point.Facet : -met.Point.Facet;
        met.Normal = met.CoatNormal = met.IsOutside ? met.Point.Normal : -met.Point.Normal;
        met.Stretch = met.CoatStretch = met.Point.Tangent;
        if (!scene.IsForm(hit))
        {
            if (path.Pdf == 0 && StudioFloor.Presence(met.Point.Position) is < 1 and var presence && sampler.Next() >= presence)
                return false;
            (met.Parameters, met.Model) = (StudioFloor.Surface(met.Point.Uv, Footprint(path, met)), StudioFloor.Model);
            return true;
        }
        if (scene.Fixed(hit) is { } own)
        {
            (met.Parameters, met.Model) = (own.Parameters, own.Model);
            return true;
        }
        return MeetMaterial(path, ref sampler, ref met);
    }

    private bool MeetMaterial(in Path path, ref Sampler sampler, ref Meeting met)
    {
        ref var p = ref met.Parameters;
        ref readonly var point = ref met.Point;
        scene.Material.At(point.Uv, Footprint(path, met) * point.UvPerMetre, scratch, out p, out var directions);
        met.Model = scene.Material.Model;
        if (p.Anisotropy > 0f)
            met.Stretch = Headed(point, directions.Heading);
        if (scene.Material.HasNormal)
            met.Normal = met.CoatNormal = met.IsOutside ? Bent(point, directions.Normal) : -Bent(point, directions.Normal);
        if (scene.Material.HasCoatNormal)
            met.CoatNormal = met.IsOutside ? Bent(point, directions.CoatNormal) : -Bent(point, directions.CoatNormal);
        met.HasOwnCoat = scene.Material.HasCoatNormal || p.CoatAnisotropy > 0f;
        if (met.HasOwnCoat)
            met.CoatStretch = Headed(point, directions.CoatHeading);
        if (p.Opacity < 1f && sampler.Next() >= p.Opacity)
            return false;
        if (scene.IsSheet)
            p.ThinWalled = 1;
        met.IsInside = !met.IsOutside && p.Transmission > 0f && p.ThinWalled < 0.5f;
        return true;
    }

    /// <summary>Metres that the path's cone covers of the surface, longer where it is met at an angle.</summary>
    private static float Footprint(in Path path, in Meeting met)
    {
        var cosine = MathF.Max(0.05f, MathF.Abs(Vector3.Dot(met.Point.Normal, met.Wo)));
        return path.Cone * path.Distance / MathF.Sqrt(cosine);
    }

    /// <summary>Gathers what comes from the place itself and from the light, and sends the path on; false where it ends.</summary>
    private bool Bounce(ref Path path, ref Meeting met, ref Sampler sampler)
    {
        ref var p = ref met.Parameters;
        met.Normal = Reflecting(met.Normal, met.Wo, met.Facet);
        // What is seen by way of a matt surface is shown as if it were less sharp: caustics come out soft instead of as sparks.
        p.Width = MathF.Max(p.Width, path.Soft);
        p.CoatWidth = MathF.Max(p.CoatWidth, path.Soft);
        var wavelength = ChosenWavelength(ref p, path.Wavelength, ref sampler);
        var frame = p.Anisotropy > 0f ? new Frame(met.Normal, met.Stretch) : new Frame(met.Normal);
        var coatFrame = met.HasOwnCoat
            ? new Frame(Reflecting(met.CoatNormal, met.Wo, met.Facet), met.CoatStretch).Within(frame)
            : (Frame?)null;
        Surface.Make(out var surface, met.Model, p, frame.ToLocal(met.Wo), met.IsInside, coatFrame);
        if (p.Emission != Vector3.Zero)
            path.Radiance += Emitted(path.Throughput * p.Emission * surface.EmissionShare, path.IsAtFirst);
        if (content.WithLayers && path.IsAtFirst)
            seen.Meet(surface.Albedo, met.Normal, path.Distance);
        path.Radiance += ByLight(surface, frame, met, path, ref sampler);
        return SendOn(ref path, met, surface, frame, wavelength, ref sampler);
    }

    /// <summary>The wavelength of a path that meets a body which bends colours differently; the body gets the index of it.</summary>
    private static float ChosenWavelength(ref SurfaceParameters p, float wavelength, ref Sampler sampler)
    {
        if (!(p.Dispersion > 0f && p.Transmission > 0f && p.ThinWalled < 0.5f))
            return wavelength;
        if (wavelength == 0)
            wavelength = Dispersion.Wavelength(sampler.Next());
        p.Ior = Dispersion.IndexAt(p.Ior, p.Dispersion, wavelength);
        return wavelength;
    }

    private bool SendOn(ref Path path, in Meeting met, in Surface surface, in Frame frame, float wavelength, ref Sampler sampler)
    {
        ref readonly var p = ref met.Parameters;
        var next = surface.Sample(sampler.Next(), sampler.Next2());
        var scattered = surface.Evaluate(next, out var pdf);
        path.Pdf = pdf;
        path.Direction = frame.ToWorld(next);
        var toOutside = Vector3.Dot(path.Direction, met.Facet) > 0;
        if (!(pdf > 1e-12f) || toOutside != next.Z > 0f)
            return false;
        path.Origin = met.Beyond(toOutside);
        var coloured = Vector3.One;
        if (!toOutside && wavelength != path.Wavelength)
        {
            // What is reflected keeps all colours: its share hardly depends on them.
            path.Wavelength = wavelength;
            coloured = Dispersion.Weight(wavelength, met.Model.FromXyz);
        }
        if (!toOutside && p.ThinWalled < 0.5f)
            path.Absorbed = met.IsInside ? Vector3.Zero : Absorption(p);
        path.Cone += ConeOfWidth * p.Width;
        path.Soft = MathF.Max(path.Soft, Softest * MathF.Min(1f, 1f / MathF.Sqrt(MathF.PI * pdf)));
        if (content.WithLayers && path.IsAtFirst)
        {
            // From here on the path gathers what arrives at the first surface.
            seen.Direct = path.Radiance;
            path.First = Scaled(scattered, coloured * path.Throughput / pdf);
            (path.Throughput, path.Radiance) = (Vector3.One, Vector3.Zero);
        }
        else
        {
            path.Throughput *= coloured * (scattered.Sum / pdf);
        }
        return true;
    }

    /// <summary>Paths that carry little are ended by chance, and count for more where they go on.</summary>
    private bool Survives(ref Path path, ref Sampler sampler)
    {
        if (path.Bounces < SureBounces || content.WithLayers && path.IsAtFirst)
            return true;
        var survive = MathF.Min(0.95f, Greatest(path.Throughput));
        if (sampler.Next() >= survive)
            return false;
        path.Throughput /= survive;
        return true;
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
        if (content.WithLayers && first)
            seen.Emission += light;
        return light;
    }

    /// <summary>Light that arrives directly, by a direction the light proposes.</summary>
    private Vector3 ByLight(in Surface surface, in Frame frame, in Meeting met, in Path path, ref Sampler sampler)
    {
        var (lightDirection, arriving, lightPdf) = scene.Light.Sample(sampler.Next2());
        var through = sampler.Next();
        if (lightPdf <= 0)
            return Vector3.Zero;
        var wi = scene.FromLight(lightDirection);
        var local = frame.ToLocal(wi);
        var toOutside = Vector3.Dot(wi, met.Facet) > 0;
        if (toOutside != local.Z > 0 || !toOutside && !surface.IsTransmissive)
            return Vector3.Zero;
        var scattered = surface.Evaluate(local, out var pdf);
        var sum = scattered.Sum;
        if (sum == Vector3.Zero)
            return Vector3.Zero;
        var weight = path.Throughput * arriving * (Power(lightPdf, pdf) / lightPdf);
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
        if (Blocked(met.Beyond(toOutside), wi, through))
            return Vector3.Zero;
        if (content.WithLayers && path.IsAtFirst)
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
