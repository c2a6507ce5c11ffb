using System.Numerics;
using Kiln.Pixels;
using Kiln.Proof.Materials;
using Kiln.Scattering;

namespace Kiln.Proof.Rendering;

/// <summary>
/// A unidirectional path tracer: the environment and the surface are sampled in turn and combined by the power heuristic (Veach 1997).
/// Accumulates sample by sample; the same seed gives the same picture with any number of threads.
/// </summary>
public sealed class PathTracer
{
    private const int LongestPath = 10, SureBounces = 3, MostPasses = 32;
    private const float Clearance = 1e-4f, LeastCosine = 0.02f;

    /// <summary>How much a bounce off a rough surface widens the footprint of later lookups. Common practice, no source.</summary>
    private const float ConeOfWidth = 0.35f;

    private static readonly SurfaceParameters GroundSurface = new() { BaseColour = new(0.22f), Width = 0.6f, Ior = 1.4f, SpecularWeight = 0.5f, SpecularColour = Vector3.One, Opacity = 1 };
    private static readonly SurfaceModel GroundModel = new(DiffuseModel.Lambert, DielectricModel.Exact, MetalModel.F82, true);

    private readonly ProofScene scene;
    private readonly int width, height;
    private readonly uint seed;
    private readonly bool background;
    private readonly Vector3[] sum;
    private readonly float[] coverage, squares;
    private long rays;

    public PathTracer(ProofScene scene, int width, int height, OrbitCamera camera, uint seed = 1, bool background = true)
    {
        (this.scene, this.width, this.height, this.seed, this.background) = (scene, width, height, seed, background);
        sum = new Vector3[width * height];
        coverage = new float[width * height];
        squares = new float[width * height];
        Camera = new(camera, scene.Centre, scene.Radius, width, height);
    }

    public CameraFrame Camera { get; }

    public int Samples { get; private set; }

    public long Rays => rays;

    /// <summary>Adds samples to every pixel.</summary>
    /// <exception cref="OperationCanceledException">Cancelled; the picture is then unusable.</exception>
    /// <param name="hold">While it says yes, rows wait: something that a person waits for needs the processors.</param>
    public void Accumulate(int samples, CancellationToken cancel = default, int? threads = null, Func<bool>? hold = null)
    {
        Parallel.For(0, height, new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = threads ?? -1 }, y =>
        {
            while (hold?.Invoke() == true && !cancel.IsCancellationRequested)
                Thread.Sleep(1);
            var scratch = new Vector3[scene.Material.Registers];
            long traced = 0;
            for (var x = 0; x < width; x++)
            {
                if (cancel.IsCancellationRequested)
                    return;
                var pixel = y * width + x;
                for (var s = 0; s < samples; s++)
                {
                    var sampler = new Sampler(Sampler.Hash((uint)pixel * 0x9e3779b9u ^ Sampler.Hash(seed)), (uint)(Samples + s));
                    var (radiance, covered) = Path(x, y, ref sampler, scratch, ref traced);
                    sum[pixel] += radiance;
                    coverage[pixel] += covered;
                    var l = Brightness(radiance);
                    squares[pixel] += l * l;
                }
            }
            Interlocked.Add(ref rays, traced);
        });
        cancel.ThrowIfCancellationRequested();
        Samples += samples;
    }

    /// <summary>The mean so far: linear in the material's working space, RGB(A) float; alpha is coverage when the background is off.</summary>
    public ImageBuffer Picture()
    {
        var result = new ImageBuffer(width, height, background ? ImageBuffer.Rgb : ImageBuffer.Rgba, SampleType.F32);
        var row = new float[width * result.ChannelCount];
        for (var y = 0; y < height; y++)
        {
            for (var x = 0; x < width; x++)
            {
                var v = sum[y * width + x] / Math.Max(1, Samples);
                var at = x * result.ChannelCount;
                (row[at], row[at + 1], row[at + 2]) = (v.X, v.Y, v.Z);
                if (!background)
                    row[at + 3] = coverage[y * width + x] / Math.Max(1, Samples);
            }
            result.WriteRow(y, row);
        }
        return result;
    }

    /// <summary>Mean over the picture of the standard error of luminance, relative to the picture's mean luminance.</summary>
    public float Noise()
    {
        if (Samples < 2)
            return 1;
        double error = 0, mean = 0;
        for (var i = 0; i < sum.Length; i++)
        {
            double m = Brightness(sum[i]) / Samples, variance = Math.Max(0, squares[i] / Samples - m * m) / (Samples - 1);
            error += Math.Sqrt(variance);
            mean += m;
        }
        return (float)(error / Math.Max(1e-9, mean));
    }

    private (Vector3 Radiance, float Coverage) Path(int x, int y, ref Sampler sampler, Span<Vector3> scratch, ref long traced)
    {
        var jitter = sampler.Next2();
        var direction = Camera.Direction(x + jitter.X, y + jitter.Y);
        var origin = Camera.Eye;
        Vector3 throughput = Vector3.One, radiance = Vector3.Zero;
        // The density by which the last direction was chosen; 0 while the ray comes straight from the camera.
        float pdf = 0, distance = 0, cone = Camera.Spread;
        for (int bounces = 0, passes = 0; bounces < LongestPath && passes < MostPasses;)
        {
            traced++;
            if (!scene.Intersect(origin, direction, 0, out var hit))
            {
                var toward = scene.ToLight(direction);
                if (pdf == 0)
                    return background ? (radiance + throughput * scene.Light.Background(toward), 0) : (radiance, 0);
                return (radiance + throughput * scene.Light.Radiance(toward) * Power(pdf, scene.Light.Pdf(toward)), 1);
            }
            distance += hit.Distance;
            var point = scene.Point(hit, origin, direction);
            var wo = -direction;
            var outside = Vector3.Dot(point.Facet, wo) >= 0;
            var facet = outside ? point.Facet : -point.Facet;
            var normal = outside ? point.Normal : -point.Normal;
            var (p, model) = (GroundSurface, GroundModel);
            if (scene.IsForm(hit) && scene.Fixed(hit) is { } own)
            {
                (p, model) = (own.Parameters, own.Model);
            }
            else if (scene.IsForm(hit))
            {
                var cosine = MathF.Max(0.05f, MathF.Abs(Vector3.Dot(point.Normal, wo)));
                p = scene.Material.At(point.Uv, cone * distance / MathF.Sqrt(cosine) * point.UvPerMetre, scratch, out var turned);
                model = scene.Material.Model;
                if (scene.Material.HasNormal)
                    normal = outside ? Turned(point, turned) : -Turned(point, turned);
                if (p.Opacity < 1f && sampler.Next() >= p.Opacity)
                {
                    // Not there: the ray goes on as if nothing had been hit.
                    origin = point.Position - facet * Clearance;
                    passes++;
                    continue;
                }
                radiance += throughput * p.Emission;
            }
            bounces++;
            var frame = new Frame(FacingViewer(normal, wo));
            var surface = new BaseSurface(model, p, frame.ToLocal(wo));
            origin = point.Position + facet * Clearance;
            radiance += throughput * ByLight(surface, frame, origin, facet, ref sampler, scratch, ref traced);
            var choice = sampler.Next();
            var next = surface.Sample(choice, sampler.Next2());
            pdf = surface.Pdf(next);
            direction = frame.ToWorld(next);
            if (pdf <= 1e-12f || Vector3.Dot(direction, facet) <= 0)
                return (radiance, 1);
            throughput *= surface.Evaluate(next) / pdf;
            cone += ConeOfWidth * p.Width;
            if (bounces < SureBounces)
                continue;
            var survive = MathF.Min(0.95f, MathF.Max(throughput.X, MathF.Max(throughput.Y, throughput.Z)));
            if (sampler.Next() >= survive)
                return (radiance, 1);
            throughput /= survive;
        }
        return (radiance, 1);
    }

    /// <summary>Light that arrives directly, by a direction the light proposes.</summary>
    private Vector3 ByLight(in BaseSurface surface, in Frame frame, Vector3 origin, Vector3 facet, ref Sampler sampler, Span<Vector3> scratch, ref long traced)
    {
        var (lightDirection, arriving, lightPdf) = scene.Light.Sample(sampler.Next2());
        var through = sampler.Next();
        if (lightPdf <= 0)
            return Vector3.Zero;
        var wi = scene.FromLight(lightDirection);
        var local = frame.ToLocal(wi);
        if (local.Z <= 0 || Vector3.Dot(wi, facet) <= 0)
            return Vector3.Zero;
        var f = surface.Evaluate(local);
        if (f == Vector3.Zero)
            return Vector3.Zero;
        traced++;
        return Blocked(origin, wi, through, scratch) ? Vector3.Zero : f * arriving * (Power(lightPdf, surface.Pdf(local)) / lightPdf);
    }

    private bool Blocked(Vector3 origin, Vector3 direction, float through, Span<Vector3> scratch)
    {
        if (scene.Material.IsOpaque)
            return scene.Occluded(origin, direction, 0);
        for (var passes = 0; passes < MostPasses; passes++)
        {
            if (!scene.Intersect(origin, direction, 0, out var hit))
                return false;
            if (!scene.IsForm(hit) || scene.Fixed(hit) is not null)
                return true;
            var point = scene.Point(hit, origin, direction);
            var opacity = scene.Material.At(point.Uv, 1e-3f, scratch, out _).Opacity;
            if (through < opacity)
                return true;
            // What remains of the number is again evenly distributed.
            through = (through - opacity) / MathF.Max(1e-6f, 1f - opacity);
            origin = point.Position + direction * Clearance;
        }
        return true;
    }

    /// <summary>A tangent-space normal on the form: unnormalised interpolated frame, bitangent from normal and tangent (MikkTSpace).</summary>
    private static Vector3 Turned(in SurfacePoint point, Vector3 n)
    {
        var bitangent = Vector3.Cross(point.Normal, point.Tangent) * point.BitangentSign;
        return Vector3.Normalize(point.Tangent * n.X + bitangent * n.Y + point.Normal * n.Z);
    }

    /// <summary>A shading normal that leans away from the viewer is brought back until it is seen.</summary>
    private static Vector3 FacingViewer(Vector3 normal, Vector3 wo)
    {
        var cos = Vector3.Dot(normal, wo);
        return cos >= LeastCosine ? normal : Vector3.Normalize(normal + wo * (LeastCosine - cos));
    }

    private static float Power(float own, float other) => own * own / (own * own + other * other);

    private static float Brightness(Vector3 c) => 0.27222872f * c.X + 0.67408177f * c.Y + 0.05368952f * c.Z;
}

/// <summary>An orthonormal frame around a normal (Duff et al. 2017).</summary>
internal readonly struct Frame
{
    private readonly Vector3 x, y, z;

    public Frame(Vector3 normal)
    {
        z = normal;
        var sign = MathF.CopySign(1f, z.Z);
        var a = -1f / (sign + z.Z);
        var b = z.X * z.Y * a;
        x = new(1f + sign * z.X * z.X * a, sign * b, -sign * z.X);
        y = new(b, sign + z.Y * z.Y * a, -z.Y);
    }

    public Vector3 ToLocal(Vector3 v) => new(Vector3.Dot(v, x), Vector3.Dot(v, y), Vector3.Dot(v, z));

    public Vector3 ToWorld(Vector3 v) => x * v.X + y * v.Y + z * v.Z;
}
