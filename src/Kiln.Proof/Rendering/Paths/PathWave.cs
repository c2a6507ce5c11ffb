using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Kiln.Proof.Geometry;
using Kiln.Proof.Materials;
using Kiln.Scattering;

namespace Kiln.Proof.Rendering.Paths;

/// <summary>
/// Follows light backwards from the camera, some hundreds of paths together: all rays, then all surfaces, eight of a kind at once, then all
/// rays towards the light. Environment and surface are sampled in turn and combined by the power heuristic (Veach 1997). What a path brings
/// does not depend on which others go with it. One for each thread.
/// </summary>
internal sealed class PathWave(ProofScene scene, CameraFrame camera, PictureContent content)
{
    private const int LongestPath = 64,
        SureBounces = 3,
        MostPasses = 32;

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

    private readonly PathStore paths = new(content.WithLayers);
    private readonly ShadowRays shadows = new(content.WithLayers);
    private readonly WideSurface surface = new();

    // What each kind's look works in.
    private readonly Wide3[][] scratch = [.. scene.Kinds.Select(k => k.Look?.NewScratch() ?? [])];
    private readonly Vector3[][] opacityScratch = [.. scene.Kinds.Select(k => k.Look?.NewOpacityScratch() ?? [])];
    private readonly int[] active = new int[PathStore.Capacity],
        next = new int[PathStore.Capacity],
        escaped = new int[PathStore.Capacity];
    private readonly List<int>[] met = [.. Enumerable.Range(0, scene.Kinds.Count).Select(_ => new List<int>(PathStore.Capacity))];
    private readonly bool withLayers = content.WithLayers;
    private WideParameters parameters;
    private int count,
        going;

    /// <summary>Rays traced so far.</summary>
    public long Rays { get; private set; }

    /// <summary>Forgets all paths.</summary>
    public void Clear()
    {
        paths.Clear();
        count = 0;
    }

    /// <summary>A path through a pixel; at most <see cref="PathStore.Capacity"/> of them.</summary>
    public void Add(int x, int y, uint seed, int sample)
    {
        paths.At(PathField.Direction, count) = x;
        paths.At(PathField.Direction + 1, count) = y;
        paths.At(PathField.Seed, count) = BitConverter.UInt32BitsToSingle(seed);
        paths.At(PathField.Index, count) = BitConverter.Int32BitsToSingle(sample);
        paths.At(PathField.Coverage, count) = 1;
        active[count] = count;
        count++;
    }

    /// <summary>Follows all paths to their ends.</summary>
    public void Run()
    {
        Begin();
        for (going = count; going > 0; )
        {
            var missed = Meet();
            for (var i = 0; i < missed; i += Lanes)
                Escape(new(escaped.AsSpan(i, missed - i)));
            going = 0;
            for (var kind = 0; kind < met.Length; kind++)
            {
                var list = CollectionsMarshal.AsSpan(met[kind]);
                for (var i = 0; i < list.Length; i += Lanes)
                    Shade(new(list[i..]), kind);
                met[kind].Clear();
            }
            Rays += shadows.Count;
            shadows.Follow(paths, Blocked);
            next.AsSpan(0, going).CopyTo(active);
        }
    }

    /// <summary>What a path brought home, and whether it met something.</summary>
    public (Vector3 Radiance, float Coverage) Result(int path)
    {
        var gathered = paths.Vector(PathField.Radiance, path);
        var covered = paths.At(PathField.Coverage, path);
        return withLayers ? (paths.Vector(PathField.Direct, path) + First(path).Sum * gathered, covered) : (gathered, covered);
    }

    /// <summary>What a path met first, and its light apart by where that surface sent it from.</summary>
    public FirstHit Seen(int path)
    {
        var (first, gathered) = (First(path), paths.Vector(PathField.Radiance, path));
        return new FirstHit
        {
            Met = paths.At(PathField.Depth, path) > 0,
            Albedo = paths.Vector(PathField.Albedo, path),
            Normal = paths.Vector(PathField.Normal, path),
            Distance = paths.At(PathField.Depth, path),
            Emission = paths.Vector(PathField.Emission, path),
            Light = new ScatteredLight
            {
                Diffuse = paths.Vector(PathField.LightDiffuse, path) + first.Diffuse * gathered,
                Specular = paths.Vector(PathField.LightSpecular, path) + first.Specular * gathered,
                Coat = paths.Vector(PathField.LightCoat, path) + first.Coat * gathered,
                Transmission = paths.Vector(PathField.LightTransmission, path) + first.Transmission * gathered,
            },
        };
    }

    private ScatteredLight First(int path) =>
        new()
        {
            Diffuse = paths.Vector(PathField.FirstDiffuse, path),
            Specular = paths.Vector(PathField.FirstSpecular, path),
            Coat = paths.Vector(PathField.FirstCoat, path),
            Transmission = paths.Vector(PathField.FirstTransmission, path),
        };

    private void Begin()
    {
        for (var i = 0; i < count; i += Lanes)
        {
            var lanes = new PathLanes(active.AsSpan(i, count - i));
            var jitter = Draw(lanes, lanes.Used);
            var pixel = paths.Load3(PathField.Direction, lanes);
            paths.Store(PathField.Direction, lanes, lanes.Used, camera.Direction(pixel.X + jitter.First, pixel.Y + jitter.Second));
            paths.Store(PathField.Origin, lanes, lanes.Used, Wide3.Of(camera.Eye));
            paths.Store(PathField.Throughput, lanes, lanes.Used, Wide3.One);
            paths.Store(PathField.Cone, lanes, lanes.Used, Of(camera.Spread * PartOfPixel));
        }
    }

    /// <summary>The next four numbers of eight paths; those whose bits are set use them up.</summary>
    private FourNumbers Draw(in PathLanes lanes, uint bits)
    {
        var group = paths.LoadWhole(PathField.Group, lanes);
        paths.Store(PathField.Group, lanes, bits, group + Vector256<int>.One);
        return SamplePoints.At(
            paths.LoadWhole(PathField.Seed, lanes).AsUInt32(),
            paths.LoadWhole(PathField.Index, lanes).AsUInt32(),
            group.AsUInt32()
        );
    }

    /// <summary>Follows every path to the next surface, and sorts paths by what they meet.</summary>
    /// <returns>How many meet nothing.</returns>
    private int Meet()
    {
        var missed = 0;
        Rays += going;
        for (var i = 0; i < going; i++)
        {
            var path = active[i];
            if (!scene.Intersect(paths.Vector(PathField.Origin, path), paths.Vector(PathField.Direction, path), 0, out var hit))
            {
                escaped[missed++] = path;
                continue;
            }
            paths.At(PathField.HitDistance, path) = hit.Distance;
            paths.At(PathField.HitTriangle, path) = BitConverter.Int32BitsToSingle(hit.Triangle);
            paths.At(PathField.HitU, path) = hit.U;
            paths.At(PathField.HitV, path) = hit.V;
            met[scene.KindOf(hit.Triangle)].Add(path);
        }
        return missed;
    }

    /// <summary>Paths that leave the scene bring home what the light or the background sends from there.</summary>
    private void Escape(in PathLanes lanes)
    {
        var toward = scene.ToLight(paths.Load3(PathField.Direction, lanes));
        var pdf = paths.Load(PathField.Pdf, lanes);
        var throughput = paths.Load3(PathField.Throughput, lanes);
        var straight = Bits(AtMost(pdf, Wide.Zero)) & lanes.Used;
        var bounced = lanes.Used & ~straight;
        if (bounced != 0)
        {
            var arriving = scene.Light.Meet(toward, out var lightPdf);
            paths.Add(PathField.Radiance, lanes, bounced, throughput * arriving * Power(pdf, lightPdf));
        }
        if (straight == 0)
            return;
        paths.Store(PathField.Coverage, lanes, straight, Wide.Zero);
        if (!content.Background)
            return;
        var shown = (content.BlurredBackground ? scene.Light.Blurred : scene.Light).Background(toward);
        paths.Add(withLayers ? PathField.Direct : PathField.Radiance, lanes, straight, throughput * shown);
    }

    private void Places(in PathLanes lanes, out WidePlaces places)
    {
        var triangles = paths.LoadWhole(PathField.HitTriangle, lanes);
        Wide u = paths.Load(PathField.HitU, lanes),
            v = paths.Load(PathField.HitV, lanes);
        scene.Shading.At(
            MemoryMarshal.CreateReadOnlySpan(ref Unsafe.As<Vector256<int>, int>(ref triangles), Lanes),
            MemoryMarshal.CreateReadOnlySpan(ref Unsafe.As<Wide, float>(ref u), Lanes),
            MemoryMarshal.CreateReadOnlySpan(ref Unsafe.As<Wide, float>(ref v), Lanes),
            out places
        );
    }

    /// <summary>Eight paths that meet surfaces of one kind: what they gather there, and how they go on.</summary>
    private void Shade(in PathLanes lanes, int number)
    {
        var kind = scene.Kinds[number];
        Places(lanes, out var place);
        var reached = paths.Load(PathField.HitDistance, lanes);
        var met = new Meeting(paths.Load3(PathField.Origin, lanes), paths.Load3(PathField.Direction, lanes), reached, place);
        var throughput = Attenuated(lanes, reached);
        var distance = paths.Load(PathField.Distance, lanes) + reached;
        paths.Store(PathField.Distance, lanes, lanes.Used, distance);
        var footprint = met.Footprint(paths.Load(PathField.Cone, lanes), distance);
        var there = lanes.Used;
        parameters = kind.Plain;
        if (kind.IsFloor)
        {
            there &= OnFloor(lanes, met);
            StudioFloor.Vary(met.Place.U, met.Place.V, footprint, ref parameters);
        }
        else if (kind.Look is { } look)
        {
            there &= OnForm(lanes, look, scratch[number], footprint, ref met);
        }
        if (there != lanes.Used)
            PassOn(lanes, lanes.Used & ~there, met, throughput);
        if (there != 0)
            Bounce(lanes, there, kind, ref met, throughput);
    }

    private Wide3 Attenuated(in PathLanes lanes, Wide reached)
    {
        var throughput = paths.Load3(PathField.Throughput, lanes);
        if (!scene.LetsLightIn)
            return throughput;
        var absorbed = paths.Load3(PathField.Absorbed, lanes);
        return Any(Positive(Wide3.Greatest(absorbed))) ? throughput * Wide3.Exp(absorbed * Negative(reached)) : throughput;
    }

    /// <summary>The lanes for which the floor is there: the camera sees less and less of it.</summary>
    private uint OnFloor(in PathLanes lanes, in Meeting met)
    {
        var straight = AtMost(paths.Load(PathField.Pdf, lanes), Wide.Zero);
        var presence = Select(straight, StudioFloor.Presence(met.Position), Wide.One);
        var partly = Bits(Less(presence, Wide.One)) & lanes.Used;
        return partly == 0 ? lanes.Used : ~partly | Bits(Less(Draw(lanes, partly).First, presence));
    }

    /// <summary>The lanes for which the look's surface is there.</summary>
    private uint OnForm(in PathLanes lanes, ProofMaterial material, Span<Wide3> own, Wide footprint, ref Meeting met)
    {
        ref var p = ref parameters;
        material.At(met.Place.U, met.Place.V, footprint * met.Place.UvPerMetre, own, ref p, out var directions);
        if (material.MayStretch)
            met.Stretch = met.Headed(directions.Heading);
        if (material.HasNormal)
            met.Normal = met.CoatNormal = met.Bent(directions.Normal);
        if (material.HasCoatNormal)
            met.CoatNormal = met.Bent(directions.CoatNormal);
        if (material.HasOwnCoat)
            met.CoatStretch = met.Headed(directions.CoatHeading);
        var there = lanes.Used;
        if (!material.IsOpaque)
        {
            var partly = Bits(Less(p.Opacity, Wide.One)) & lanes.Used;
            if (partly != 0)
                there = ~partly | Bits(Less(Draw(lanes, partly).First, p.Opacity));
        }
        if (scene.IsSheet)
            p.ThinWalled = Wide.One;
        if (material.LetsLightIn)
            met.IsInside = Without(Positive(p.Transmission) & Less(p.ThinWalled, Of(0.5f)), met.IsOutside);
        return there;
    }

    /// <summary>Rays of what is not there go on as if nothing had been hit.</summary>
    private void PassOn(in PathLanes lanes, uint bits, in Meeting met, in Wide3 throughput)
    {
        paths.Store(PathField.Origin, lanes, bits, met.Beyond(Wide.Zero));
        paths.Store(PathField.Throughput, lanes, bits, throughput);
        var passes = paths.LoadWhole(PathField.Passes, lanes) + Vector256<int>.One;
        paths.Store(PathField.Passes, lanes, bits, passes);
        Continue(lanes, bits & Vector256.LessThan(passes, Vector256.Create(MostPasses)).ExtractMostSignificantBits());
    }

    private void Continue(in PathLanes lanes, uint bits)
    {
        for (; bits != 0; bits &= bits - 1)
            next[going++] = lanes.Paths[BitOperations.TrailingZeroCount(bits)];
    }

    /// <summary>Gathers what comes from the places themselves and from the light, and sends the paths on.</summary>
    private void Bounce(in PathLanes lanes, uint there, SurfaceKind kind, ref Meeting met, in Wide3 throughput)
    {
        ref var p = ref parameters;
        var bounces = paths.LoadWhole(PathField.Bounces, lanes) + Vector256<int>.One;
        paths.Store(PathField.Bounces, lanes, there, bounces);
        var first = withLayers ? Vector256.Equals(bounces, Vector256<int>.One).ExtractMostSignificantBits() & there : 0;
        // What is seen by way of a matt surface is shown as if it were less sharp: caustics come out soft instead of as sparks.
        var soft = paths.Load(PathField.Soft, lanes);
        (p.Width, p.CoatWidth) = (Max(p.Width, soft), Max(p.CoatWidth, soft));
        var wavelength = kind.MayDisperse ? ChosenWavelengths(lanes, there, ref p) : Wide.Zero;
        met.Normal = met.Reflecting(met.Normal);
        var frame = kind.MayStretch ? new WideFrame(met.Normal, met.Stretch) : new WideFrame(met.Normal);
        var coatFrame = kind.HasOwnCoat ? new WideFrame(met.Reflecting(met.CoatNormal), met.CoatStretch).Within(frame) : (WideFrame?)null;
        surface.Fill(kind.Model, p, frame.ToLocal(met.Wo), met.IsInside, coatFrame);
        if (Any(Positive(Wide3.Greatest(p.Emission))))
            Emit(lanes, there, first, throughput * p.Emission * surface.EmissionShare);
        if (first != 0)
        {
            paths.Store(PathField.Albedo, lanes, first, surface.Albedo);
            paths.Store(PathField.Normal, lanes, first, met.Normal);
            paths.Store(PathField.Depth, lanes, first, paths.Load(PathField.Distance, lanes));
        }
        var draw = Draw(lanes, there);
        ByLight(lanes, (there, first), frame, met, throughput, draw);
        SendOn(lanes, (there, first), frame, met, (throughput, wavelength, bounces, draw.Third));
    }

    private void Emit(in PathLanes lanes, uint there, uint first, in Wide3 light)
    {
        paths.Add(PathField.Radiance, lanes, there & ~first, light);
        if (first == 0)
            return;
        paths.Add(PathField.Direct, lanes, first, light);
        paths.Add(PathField.Emission, lanes, first, light);
    }

    /// <summary>The wavelengths of paths that meet a body which bends colours differently; the body gets the index of it.</summary>
    private Wide ChosenWavelengths(in PathLanes lanes, uint there, ref WideParameters p)
    {
        var wavelength = paths.Load(PathField.Wavelength, lanes);
        var bends = Bits(Positive(p.Dispersion) & Positive(p.Transmission) & Less(p.ThinWalled, Of(0.5f))) & there;
        if (bends == 0)
            return wavelength;
        var open = bends & Bits(AtMost(wavelength, Wide.Zero));
        var random = open != 0 ? Draw(lanes, open).First : Wide.Zero;
        for (; bends != 0; bends &= bends - 1)
        {
            var lane = BitOperations.TrailingZeroCount(bends);
            if ((open >> lane & 1) != 0)
                wavelength = wavelength.WithElement(lane, Dispersion.Wavelength(random[lane]));
            p.Ior = p.Ior.WithElement(lane, Dispersion.IndexAt(p.Ior[lane], p.Dispersion[lane], wavelength[lane]));
        }
        return wavelength;
    }

    /// <summary>Light that arrives directly, by directions the light proposes.</summary>
    private void ByLight(
        in PathLanes lanes,
        (uint There, uint First) bits,
        in WideFrame frame,
        in Meeting met,
        in Wide3 throughput,
        in FourNumbers draw
    )
    {
        var (lightDirection, arriving, lightPdf) = scene.Light.Sample(draw.First, draw.Second);
        var wi = scene.FromLight(lightDirection);
        var local = frame.ToLocal(wi);
        Wide toOutside = Positive(Wide3.Dot(wi, met.Facet)),
            above = Positive(local.Z);
        var counts = Positive(lightPdf) & Without(toOutside | surface.IsTransmissive, toOutside ^ above);
        if ((Bits(counts) & bits.There) == 0)
            return;
        surface.Evaluate(local, out var scattered, out var pdf);
        var sum = scattered.Sum;
        var weight = throughput * arriving * (Power(lightPdf, pdf) / lightPdf);
        // Little light is asked for seldom, and counts for more then.
        var light = sum * weight;
        var little = Wide3.Greatest(light) * (1f / WorthARay);
        counts &= Positive(Wide3.Greatest(sum)) & Less(draw.Fourth, little);
        var asked = Bits(counts) & bits.There;
        if (asked == 0)
            return;
        var share = Min(little, Wide.One);
        var more = Wide.One / share;
        var apart = default(WideScatteredLight);
        if (withLayers)
        {
            weight *= more;
            apart = Scaled(scattered, weight);
        }
        shadows.Add(lanes, asked, (met.Beyond(toOutside), wi, draw.Fourth / share), light * more, apart, bits.First);
    }

    private void SendOn(
        in PathLanes lanes,
        (uint There, uint First) bits,
        in WideFrame frame,
        in Meeting met,
        (Wide3 Throughput, Wide Wavelength, Vector256<int> Bounces, Wide Choice) path
    )
    {
        ref readonly var p = ref parameters;
        var draw = Draw(lanes, bits.There);
        var local = surface.Sample(path.Choice, draw.First, draw.Second);
        surface.Evaluate(local, out var scattered, out var pdf);
        var direction = frame.ToWorld(local);
        var toOutside = Positive(Wide3.Dot(direction, met.Facet));
        var on = Without(Greater(pdf, Of(1e-12f)), toOutside ^ Positive(local.Z));
        var go = Bits(on) & bits.There;
        if (go == 0)
            return;
        var per = new Wide3(Wide.One / pdf);
        if (scene.LetsLightIn)
        {
            var into = Without(Less(p.ThinWalled, Of(0.5f)), toOutside);
            if (Any(into))
                paths.Store(
                    PathField.Absorbed,
                    lanes,
                    go & Bits(into),
                    Wide3.Where(met.IsOutside, Meeting.Absorption(p, scene.UnitsPerMetre))
                );
            per *= Coloured(lanes, go & ~Bits(toOutside), path.Wavelength);
        }
        var throughput = path.Throughput * per * scattered.Sum;
        go &= Bits(Wide3.Finite(throughput));
        if (bits.First != 0)
        {
            // From here on the path gathers what arrives at the first surface.
            var firstShare = Scaled(scattered, path.Throughput * per);
            var first = bits.First & go;
            paths.Store(PathField.FirstDiffuse, lanes, first, firstShare.Diffuse);
            paths.Store(PathField.FirstSpecular, lanes, first, firstShare.Specular);
            paths.Store(PathField.FirstCoat, lanes, first, firstShare.Coat);
            paths.Store(PathField.FirstTransmission, lanes, first, firstShare.Transmission);
            throughput = Wide3.Select(LanesOf(bits.First), Wide3.One, throughput);
        }
        // Paths that carry little are ended by chance, and count for more where they go on.
        var chance = Min(Wide3.Greatest(throughput), Of(0.95f));
        chance = Select(LessWhole(path.Bounces, SureBounces) | LanesOf(bits.First), Wide.One, chance);
        go &= Bits(Less(draw.Third, chance) & LessWhole(path.Bounces, LongestPath));
        paths.Store(PathField.Throughput, lanes, go, throughput * (Wide.One / chance));
        paths.Store(PathField.Origin, lanes, go, met.Beyond(toOutside));
        paths.Store(PathField.Direction, lanes, go, direction);
        paths.Store(PathField.Pdf, lanes, go, pdf);
        paths.Store(PathField.Cone, lanes, go, paths.Load(PathField.Cone, lanes) + ConeOfWidth * p.Width);
        var softened = Softest * Min(Wide.One / Sqrt(MathF.PI * pdf), Wide.One);
        paths.Store(PathField.Soft, lanes, go, Max(paths.Load(PathField.Soft, lanes), softened));
        Continue(lanes, go);
    }

    /// <summary>What light of one wavelength counts where it enters a body for the first time. What is reflected keeps all colours: its
    /// share
    /// hardly depends on them.</summary>
    private Wide3 Coloured(in PathLanes lanes, uint entering, Wide wavelength)
    {
        var fresh = entering & Bits(Greater(wavelength, paths.Load(PathField.Wavelength, lanes)));
        var coloured = Wide3.One;
        if (fresh == 0)
            return coloured;
        paths.Store(PathField.Wavelength, lanes, fresh, wavelength);
        for (; fresh != 0; fresh &= fresh - 1)
        {
            var lane = BitOperations.TrailingZeroCount(fresh);
            coloured[lane] = Dispersion.Weight(wavelength[lane], scene.FromXyz);
        }
        return coloured;
    }

    private bool Blocked(Vector3 origin, Vector3 direction, float through)
    {
        if (scene.IsOpaque)
            return scene.Occluded(origin, direction, 0);
        for (var passes = 0; passes < MostPasses; passes++)
        {
            if (!scene.Intersect(origin, direction, 0, out var hit))
                return false;
            var kind = scene.KindOf(hit.Triangle);
            if (scene.Kinds[kind].Look is not { } look)
                return true;
            var opacity = scene.OpacityAt(look, hit, opacityScratch[kind]);
            if (through < opacity)
                return true;
            // What remains of the number is again evenly distributed.
            through = (through - opacity) / MathF.Max(1e-6f, 1f - opacity);
            origin += direction * (hit.Distance + Meeting.Clearance);
        }
        return true;
    }

    private static WideScatteredLight Scaled(in WideScatteredLight light, in Wide3 by) =>
        new()
        {
            Diffuse = light.Diffuse * by,
            Specular = light.Specular * by,
            Coat = light.Coat * by,
            Transmission = light.Transmission * by,
        };

    private static Wide LessWhole(Vector256<int> a, int b) => Vector256.LessThan(a, Vector256.Create(b)).AsSingle();

    private static Wide Power(Wide own, Wide other) => own * own / (own * own + other * other);
}
