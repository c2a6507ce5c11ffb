using System.Numerics;
using Kiln.Pixels;
using Kiln.Scattering;

namespace Kiln.Proof.Rendering;

/// <summary>What one path met first, and what it brought back apart by where the first surface sent it from.</summary>
public struct FirstHit
{
    public bool Met;
    public Vector3 Albedo,
        Normal,
        Emission,
        Direct;
    public float Distance;
    public ScatteredLight Light;

    public void Meet(Vector3 albedo, Vector3 normal, float distance) => (Met, Albedo, Normal, Distance) = (true, albedo, normal, distance);

    public void Add(in ScatteredLight light)
    {
        Light.Diffuse += light.Diffuse;
        Light.Specular += light.Specular;
        Light.Coat += light.Coat;
        Light.Transmission += light.Transmission;
    }
}

/// <summary>
/// The parts of a proof. Light adds up to the picture (beside the background): diffuse, reflection, coat, transmission and emission as the
/// first surface sends
/// it to the camera. Albedo, normal (world axes) and depth (metres from the camera) are those of the first surface.
/// </summary>
public sealed class ProofLayers(int width, int height)
{
    public static readonly IReadOnlyList<string> Light = ["diffuse", "reflection", "coat", "transmission", "emission"];

    public static readonly IReadOnlyList<string> Names = [.. Light, "albedo", "normal", "depth"];

    private readonly Vector3[][] sums = [.. Names.Select(_ => new Vector3[width * height])];
    private readonly int[] met = new int[width * height],
        all = new int[width * height];

    public void Add(int pixel, in FirstHit seen)
    {
        all[pixel]++;
        if (!seen.Met)
            return;
        met[pixel]++;
        sums[0][pixel] += seen.Light.Diffuse;
        sums[1][pixel] += seen.Light.Specular;
        sums[2][pixel] += seen.Light.Coat;
        sums[3][pixel] += seen.Light.Transmission;
        sums[4][pixel] += seen.Emission;
        sums[5][pixel] += seen.Albedo;
        sums[6][pixel] += seen.Normal;
        sums[7][pixel] += new Vector3(seen.Distance);
    }

    /// <summary>
    /// One part for the eye, as numbers 0 to 1 that no view is to change; null for light and albedo, which are shown through a view.
    /// </summary>
    public ImageBuffer? Plain(string name)
    {
        if (name is not ("normal" or "depth"))
            return null;
        var picture = Picture(name);
        var samples = picture.Samples<float>();
        if (name == "normal")
        {
            for (var i = 0; i < samples.Length; i++)
                samples[i] = samples[i] * 0.5f + 0.5f;
            return picture;
        }
        // Near is bright; what was not met is black.
        float near = float.PositiveInfinity,
            far = 0;
        foreach (var d in samples)
            if (d > 0)
                (near, far) = (MathF.Min(near, d), MathF.Max(far, d));
        var shown = new ImageBuffer(width, height, ImageBuffer.Rgb, SampleType.F32);
        var to = shown.Samples<float>();
        for (var i = 0; i < samples.Length; i++)
            to[3 * i] = to[3 * i + 1] = to[3 * i + 2] = samples[i] > 0 ? 1 - 0.9f * (samples[i] - near) / MathF.Max(1e-6f, far - near) : 0;
        return shown;
    }

    /// <summary>A picture with these parts beside it as channels of their own: "coat.R" and so on, depth as "Z".</summary>
    public ImageBuffer With(ImageBuffer picture, IReadOnlyList<string> names)
    {
        var parts = names.Select(name => (Name: name, Picture: Picture(name))).ToList();
        var channels = picture.Channels.AddRange(parts.SelectMany(p => p.Name == "depth" ? ["Z"] : "RGB".Select(c => $"{p.Name}.{c}")));
        var result = new ImageBuffer(width, height, channels, SampleType.F32);
        var to = result.Samples<float>();
        var at = 0;
        foreach (var source in parts.Select(p => p.Picture).Prepend(picture))
        {
            var from = source.Samples<float>();
            var n = source.ChannelCount;
            for (var i = 0; i < width * height; i++)
            for (var c = 0; c < n; c++)
                to[i * channels.Length + at + c] = from[i * n + c];
            at += n;
        }
        return result;
    }

    /// <summary>One part as a float picture: RGB, or one channel for depth; where nothing was met 0.</summary>
    /// <exception cref="ArgumentException">There is no such part.</exception>
    public ImageBuffer Picture(string name)
    {
        var at = Names.ToList().IndexOf(name);
        if (at < 0)
            throw new ArgumentException($"A proof has no layer '{name}'. Known: {string.Join(", ", Names)}.");
        var channels = name == "depth" ? 1 : 3;
        var result = new ImageBuffer(width, height, ImageBuffer.UsualChannels(channels), SampleType.F32);
        var samples = result.Samples<float>();
        for (var i = 0; i < met.Length; i++)
        {
            // Light is a mean over the pixel; what describes the surface is a mean over where there is one.
            var v = sums[at][i] / Math.Max(1, at < Light.Count ? all[i] : met[i]);
            if (name == "normal" && v != Vector3.Zero)
                v = Vector3.Normalize(v);
            for (var c = 0; c < channels; c++)
                samples[i * channels + c] = v[c];
        }
        return result;
    }
}
