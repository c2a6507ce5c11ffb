using System.Numerics;
using Kiln.Scattering;

namespace Kiln.Proof.Lights;

/// <summary>A small bright part of a light, taken out of its picture: the direction to it, its radiance over its solid angle, and its
/// radius in radians.</summary>
public sealed record Sun(Vector3 Direction, Vector3 Irradiance, float Radius);

/// <summary>
/// A light made ready for pictures that ask it once a pixel: its small bright parts as directions, what is left as lat-long pictures
/// filtered by the GGX lobe of rising widths. Below the horizon lies the studio's floor, lit by the light, where there is one.
/// </summary>
/// <param name="Sharp">The light without its suns, as it is: <see cref="SharpWidth"/> by half of it.</param>
/// <param name="Filtered"><see cref="Layers"/> pictures, <see cref="FilteredWidth"/> by half of it, of the widths (k / (layers − 1))²; the
/// first is hardly filtered.</param>
/// <param name="FloorRadiance">What the floor sends back of the sky where nothing stands in its way.</param>
public sealed record PrefilteredLight(Vector3[] Sharp, Vector3[] Filtered, Vector3 FloorRadiance, IReadOnlyList<Sun> Suns, bool HasFloor)
{
    public const int SharpWidth = 1024,
        FilteredWidth = 256,
        Layers = 8,
        MostSuns = 5;

    /// <summary>Share of light from the sky that the floor sends back: its matt grey and a little shine.</summary>
    public const float FloorAlbedo = 0.23f;

    /// <summary>A texel so many times as bright as the mean belongs to a sun, if it and its like are no larger than
    /// <see cref="LargestSun"/> steradians together. Common practice, no source.</summary>
    private const float BrightAsSun = 24,
        LargestSun = 0.03f;
    private const int FilterSamples = 96;

    public static PrefilteredLight Of(EnvironmentLight light)
    {
        var (suns, sharp) = WithoutSuns(light);
        var hasFloor = !light.IsFurnace;
        var up = hasFloor ? FromAbove(sharp) : Vector3.Zero;
        var floor = up * FloorAlbedo / MathF.PI;
        var lit =
            floor + suns.Aggregate(Vector3.Zero, (sum, s) => sum + s.Irradiance * MathF.Max(0, s.Direction.Y)) * FloorAlbedo / MathF.PI;
        var around = new LatLong(
            SharpWidth,
            hasFloor ? [.. sharp.Texels.Select((t, i) => i / SharpWidth * 2 >= SharpWidth / 2 ? lit : t)] : sharp.Texels
        );
        var copies = around.Copies();
        var size = FilteredWidth * FilteredWidth / 2;
        var filtered = new Vector3[Layers * size];
        for (var layer = 0; layer < Layers; layer++)
        {
            var width = MathF.Pow(layer / (Layers - 1f), 2);
            var first = layer * size;
            var lobe = Lobe(width);
            Parallel.For(0, size, i => filtered[first + i] = Mean(copies, LatLong.Direction(i, FilteredWidth), lobe));
        }
        return new(sharp.Texels, filtered, floor, suns, hasFloor);
    }

    /// <summary>The light brought to the sharp picture's size, and its suns taken out of it.</summary>
    private static (IReadOnlyList<Sun>, LatLong) WithoutSuns(EnvironmentLight light)
    {
        var picture = light.Picture(SharpWidth, SharpWidth / 2);
        var samples = picture.Samples<float>();
        var texels = new Vector3[SharpWidth * SharpWidth / 2];
        for (var i = 0; i < texels.Length; i++)
            texels[i] = new(samples[3 * i], samples[3 * i + 1], samples[3 * i + 2]);
        var whole = new LatLong(SharpWidth, texels);
        var mean = 0.0;
        for (var i = 0; i < texels.Length; i++)
            mean += Brightness(texels[i]) * whole.SolidAngle(i);
        var bright = (float)(mean / (4 * Math.PI) * BrightAsSun);
        var suns = new List<Sun>();
        var seen = new bool[texels.Length];
        for (var i = 0; i < texels.Length && bright > 0; i++)
        {
            if (seen[i] || Brightness(texels[i]) <= bright)
                continue;
            var part = Connected(whole, i, bright, seen);
            var angle = part.Sum(whole.SolidAngle);
            if (angle > LargestSun)
                continue;
            var irradiance = part.Aggregate(Vector3.Zero, (sum, k) => sum + texels[k] * whole.SolidAngle(k));
            var towards = part.Aggregate(Vector3.Zero, (sum, k) =>
                sum + LatLong.Direction(k, SharpWidth) * (Brightness(texels[k]) * whole.SolidAngle(k))
            );
            suns.Add(new(Vector3.Normalize(towards), irradiance, MathF.Sqrt(angle / MathF.PI)));
            if (suns.Count <= MostSuns)
                foreach (var k in part)
                    texels[k] *= bright / Brightness(texels[k]) * 0.1f;
        }
        return ([.. suns.Take(MostSuns).OrderByDescending(s => Brightness(s.Irradiance))], whole);
    }

    private static List<int> Connected(LatLong picture, int start, float bright, bool[] seen)
    {
        var (found, open) = (new List<int>(), new Stack<int>([start]));
        seen[start] = true;
        while (open.TryPop(out var at))
        {
            found.Add(at);
            foreach (var next in picture.Beside(at))
                if (!seen[next] && Brightness(picture.Texels[next]) > bright)
                {
                    seen[next] = true;
                    open.Push(next);
                }
        }
        return found;
    }

    /// <summary>Irradiance of the sky on the floor.</summary>
    private static Vector3 FromAbove(LatLong sharp)
    {
        var up = Vector3.Zero;
        for (var i = 0; i < sharp.Texels.Length / 2; i++)
            up += sharp.Texels[i] * (sharp.SolidAngle(i) * MathF.Max(0, LatLong.Direction(i, SharpWidth).Y));
        return up;
    }

    /// <summary>Directions of the lobe seen along its axis (Karis 2013), and the solid angle that each stands for; none where it is a
    /// mirror's.</summary>
    private static IReadOnlyList<(Vector3 Direction, float Angle)> Lobe(float width)
    {
        var lobe = new List<(Vector3, float)>();
        var facets = new Facets(width);
        for (var i = 0; i < FilterSamples && width >= 1e-4f; i++)
        {
            var h = facets.Sample(Vector3.UnitZ, new((0.5f + i * 0.75487766f) % 1, (0.5f + i * 0.56984029f) % 1));
            var wi = 2 * h.Z * h - Vector3.UnitZ;
            if (wi.Z > 0)
                lobe.Add((wi, 4 * h.Z / (FilterSamples * facets.Density(Vector3.UnitZ, h))));
        }
        return lobe;
    }

    /// <summary>The mean over the lobe around a direction, each sample from a copy as coarse as the samples lie apart (Křivánek and Colbert
    /// 2008).</summary>
    private static Vector3 Mean(IReadOnlyList<LatLong> copies, Vector3 axis, IReadOnlyList<(Vector3 Direction, float Angle)> lobe)
    {
        if (lobe.Count == 0)
            return copies[2].At(axis);
        var frame = new Frame(axis);
        var sum = Vector3.Zero;
        var total = 0f;
        foreach (var (direction, angle) in lobe)
        {
            sum += LatLong.Coarse(copies, frame.ToWorld(direction), angle) * direction.Z;
            total += direction.Z;
        }
        return sum / total;
    }

    private static float Brightness(Vector3 c) => (c.X + 2 * c.Y + c.Z) / 4;
}
