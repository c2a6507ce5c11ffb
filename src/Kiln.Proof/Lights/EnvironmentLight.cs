using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Proof.Lights;

/// <summary>
/// Light from all around: a lat-long picture of radiance, in linear ACEScg unless moved to another working space, sampled by its own
/// brightness. The middle of the picture is −z, up is +y.
/// </summary>
public sealed class EnvironmentLight
{
    private readonly int width,
        height;
    private readonly Vector3[] texels;
    private readonly float[] rowSin;
    private readonly (float Keep, int Other)[] aliases;
    private readonly float total,
        perBrightness;
    private readonly Vector3? even;

    private EnvironmentLight(int width, int height, Vector3[] texels, Vector3? even)
    {
        (this.width, this.height, this.texels, this.even) = (width, height, texels, even);
        rowSin = [.. Enumerable.Range(0, height).Select(y => MathF.Sin(MathF.PI * (y + 0.5f) / height))];
        var weights = texels.Select((t, i) => Brightness(t) * rowSin[i / width]).ToArray();
        total = (float)weights.Sum(w => (double)w);
        perBrightness = total > 0 ? width * height / (2f * MathF.PI * MathF.PI * total) : 0;
        aliases = Aliases(weights, total);
    }

    /// <summary>Whether form and light stand alone, without ground: the furnace.</summary>
    public bool IsFurnace => even is not null;

    /// <summary>The same radiance from everywhere.</summary>
    public static EnvironmentLight Even(Vector3 radiance) => new(2, 1, [radiance, radiance], radiance);

    /// <summary>From a lat-long picture in linear ACEScg; values that are negative or not finite count as black.</summary>
    public static EnvironmentLight Of(ImageBuffer picture)
    {
        var texels = new Vector3[picture.Width * picture.Height];
        for (var y = 0; y < picture.Height; y++)
        for (var x = 0; x < picture.Width; x++)
            texels[y * picture.Width + x] = new(
                Clean(picture[x, y, 0]),
                Clean(picture[x, y, Math.Min(1, picture.ChannelCount - 1)]),
                Clean(picture[x, y, Math.Min(2, picture.ChannelCount - 1)])
            );
        return new(picture.Width, picture.Height, texels, null);
    }

    /// <summary>
    /// A person's own light: a lat-long picture in linear Rec.709, as Radiance files and most OpenEXR lights are. Pixels that are no light
    /// (negative, infinite, not a
    /// number) count as black.
    /// </summary>
    /// <exception cref="PictureException">It is not twice as wide as high, or holds no light at all.</exception>
    public static (EnvironmentLight Light, int BadPixels) OfPerson(ImageBuffer picture)
    {
        if (picture.Height < 2 || picture.Width < 1.9f * picture.Height || picture.Width > 2.1f * picture.Height)
            throw new PictureException(
                $"A light is a picture of everything around, twice as wide as high; this one is {picture.Width} x {picture.Height}."
            );
        if (!picture.Type.IsFloat())
            throw new PictureException("A light needs a picture that holds brightness beyond white: Radiance (.hdr) or OpenEXR (.exr).");
        var own = picture.As(SampleType.F32);
        var bad = 0;
        foreach (ref var v in own.Samples<float>())
            if (!float.IsFinite(v) || v < 0)
                (v, bad) = (0, bad + 1);
        if (own.ChannelCount == 3)
            ColourTransform.Between(ColourSpace.LinRec709, ColourSpace.AcesCg).Apply(own.Samples<float>(), 3);
        var light = Of(own);
        return light.total > 0 ? (light, bad) : throw new PictureException("This light is black everywhere.");
    }

    /// <summary>The light as a lat-long picture, for looking at.</summary>
    public ImageBuffer Picture(int width, int height)
    {
        var result = new ImageBuffer(width, height, ImageBuffer.Rgb, SampleType.F32);
        var to = result.Samples<float>();
        for (var y = 0; y < height; y++)
        for (var x = 0; x < width; x++)
        {
            var v = Background(Direction((x + 0.5f) / width, (y + 0.5f) / height));
            (to[3 * (y * width + x)], to[3 * (y * width + x) + 1], to[3 * (y * width + x) + 2]) = (v.X, v.Y, v.Z);
        }
        return result;
    }

    private const int BlurredHeight = 64;
    private const float BlurDegrees = 9;

    private EnvironmentLight? blurred;

    /// <summary>
    /// The same light out of focus, as a background that does not draw the eye away: the mean over a Gaussian of 9° (a choice of taste). It
    /// lights nothing.
    /// </summary>
    public EnvironmentLight Blurred => even is not null ? this : blurred ??= MadeBlurred();

    private EnvironmentLight MadeBlurred()
    {
        // A coarse copy first, each texel the mean of what lies in it; then every direction's mean over all others.
        const int w = 2 * BlurredHeight,
            h = BlurredHeight;
        var coarse = new Vector3[w * h];
        var parts = new int[w * h];
        for (var y = 0; y < height; y++)
        for (var x = 0; x < width; x++)
        {
            var at = Math.Min(h - 1, y * h / height) * w + Math.Min(w - 1, x * w / width);
            coarse[at] += texels[y * width + x];
            parts[at]++;
        }
        for (var i = 0; i < coarse.Length; i++)
            coarse[i] = parts[i] > 0 ? coarse[i] / parts[i] : Background(Direction((i % w + 0.5f) / w, (i / w + 0.5f) / h));
        var directions = Enumerable.Range(0, w * h).Select(i => Direction((i % w + 0.5f) / w, (i / w + 0.5f) / h)).ToArray();
        var sigma = BlurDegrees * MathF.PI / 180f;
        // exp(−θ²/2σ²) with θ² ≈ 2(1 − cos θ).
        return Generate(w, h, d =>
        {
            var sum = Vector3.Zero;
            var total = 0f;
            for (var i = 0; i < coarse.Length; i++)
            {
                var closeness = (Vector3.Dot(d, directions[i]) - 1f) / (sigma * sigma);
                if (closeness < -8f)
                    continue;
                var weight = MathF.Exp(closeness) * MathF.Sin(MathF.PI * (i / w + 0.5f) / h);
                sum += weight * coarse[i];
                total += weight;
            }
            return total > 0 ? sum / total : Background(d);
        });
    }

    /// <summary>The same light for another working space; what is outside its primaries is brought to their edge.</summary>
    public EnvironmentLight In(WorkingSpace working)
    {
        if (working == WorkingSpace.AcesCg)
            return this;
        var convert = ColourTransform.Between(ColourSpace.AcesCg, working.Space);
        return new(
            width,
            height,
            [.. texels.Select(t => Vector3.Max(Vector3.Zero, convert.Apply(t)))],
            even is { } e ? convert.Apply(e) : null
        );
    }

    public static EnvironmentLight Generate(int width, int height, Func<Vector3, Vector3> radiance)
    {
        var texels = new Vector3[width * height];
        Parallel.For(0, height, y =>
        {
            for (var x = 0; x < width; x++)
                texels[y * width + x] = radiance(Direction((x + 0.5f) / width, (y + 0.5f) / height));
        });
        return new(width, height, texels, null);
    }

    /// <summary>Smoothly interpolated, for what the camera sees.</summary>
    public Vector3 Background(Vector3 direction)
    {
        if (even is { } e)
            return e;
        var (u, v) = Coordinates(direction);
        float fx = u * width - 0.5f,
            fy = Math.Clamp(v * height - 0.5f, 0, height - 1);
        int x0 = (int)MathF.Floor(fx),
            y0 = (int)fy,
            y1 = Math.Min(height - 1, y0 + 1);
        float tx = fx - x0,
            ty = fy - y0;
        Vector3 At(int x, int y) => texels[y * width + (x % width + width) % width];
        return Vector3.Lerp(Vector3.Lerp(At(x0, y0), At(x0 + 1, y0), tx), Vector3.Lerp(At(x0, y1), At(x0 + 1, y1), tx), ty);
    }

    /// <summary>Radiance, and the density over solid angle with which <see cref="Sample"/> gives a direction.</summary>
    public (Vector3 Radiance, float Pdf) Meet(Vector3 direction)
    {
        if (even is { } e)
            return (e, 1f / (4f * MathF.PI));
        var (x, y) = Texel(direction);
        var radiance = texels[y * width + x];
        var sin = MathF.Sqrt(MathF.Max(1e-12f, 1f - direction.Y * direction.Y));
        return (radiance, total <= 0 ? 0 : Brightness(radiance) * rowSin[y] * perBrightness / sin);
    }

    public (Vector3 Direction, Vector3 Radiance, float Pdf) Sample(Vector2 u)
    {
        if (even is { } e)
        {
            var z = 1f - 2f * u.X;
            var (sin, cos) = MathF.SinCos(2f * MathF.PI * u.Y);
            var r = MathF.Sqrt(MathF.Max(0f, 1f - z * z));
            return (new(r * cos, z, r * sin), e, 1f / (4f * MathF.PI));
        }
        if (total <= 0)
            return (Vector3.UnitY, Vector3.Zero, 0);
        // One texel by its alias; what remains of the number places the point within it.
        var scaled = u.X * texels.Length;
        var texel = Math.Min((int)scaled, texels.Length - 1);
        var rest = scaled - texel;
        var (keep, other) = aliases[texel];
        if (rest >= keep)
        {
            rest = (rest - keep) / MathF.Max(1e-6f, 1f - keep);
            texel = other;
        }
        else
        {
            rest /= MathF.Max(1e-6f, keep);
        }
        int x = texel % width,
            y = texel / width;
        float v = (y + u.Y) / height,
            theta = v * MathF.PI;
        var (sinPhi, cosPhi) = MathF.SinCos(((x + Math.Clamp(rest, 0f, 0.99999f)) / width - 0.5f) * 2f * MathF.PI);
        var (sinTheta, cosTheta) = MathF.SinCos(theta);
        var pdf = Brightness(texels[texel]) * rowSin[y] * perBrightness / MathF.Max(1e-6f, sinTheta);
        return (new(sinTheta * sinPhi, cosTheta, -sinTheta * cosPhi), texels[texel], pdf);
    }

    /// <summary>Vose 1991: every texel keeps its share and lends the rest to one other.</summary>
    private static (float Keep, int Other)[] Aliases(float[] weights, float total)
    {
        var n = weights.Length;
        var aliases = new (float Keep, int Other)[n];
        var share = new double[n];
        Stack<int> small = new(),
            large = new();
        for (var i = 0; i < n; i++)
        {
            share[i] = total > 0 ? (double)weights[i] / total * n : 1;
            (share[i] < 1 ? small : large).Push(i);
        }
        while (small.Count > 0 && large.Count > 0)
        {
            int s = small.Pop(),
                l = large.Peek();
            aliases[s] = ((float)share[s], l);
            share[l] -= 1 - share[s];
            if (share[l] < 1)
                small.Push(large.Pop());
        }
        foreach (var i in small.Concat(large))
            aliases[i] = (1, i);
        return aliases;
    }

    private (int X, int Y) Texel(Vector3 direction)
    {
        var (u, v) = Coordinates(direction);
        return (Math.Clamp((int)(u * width), 0, width - 1), Math.Clamp((int)(v * height), 0, height - 1));
    }

    private static (float U, float V) Coordinates(Vector3 d)
    {
        var u = Turn(d.X, -d.Z) + 0.5f;
        var y = Math.Clamp(d.Y, -1f, 1f);
        return (u - MathF.Floor(u), 2f * Turn(MathF.Sqrt(1f - y * y), y));
    }

    /// <summary>atan2 in turns, −0.5 to 0.5, to 2e-6 of a turn: the polynomial of Abramowitz and Stegun 4.4.47 on the octant.</summary>
    private static float Turn(float y, float x)
    {
        float ax = MathF.Abs(x),
            ay = MathF.Abs(y),
            t = MathF.Min(ax, ay) / MathF.Max(MathF.Max(ax, ay), 1e-30f),
            s = t * t;
        var a = t * (0.9998660f + s * (-0.3302995f + s * (0.1801410f + s * (-0.0851330f + s * 0.0208351f)))) * (0.5f / MathF.PI);
        a = ay > ax ? 0.25f - a : a;
        a = x < 0f ? 0.5f - a : a;
        return y < 0f ? -a : a;
    }

    private static Vector3 Direction(float u, float v)
    {
        var (sinPhi, cosPhi) = MathF.SinCos((u - 0.5f) * 2f * MathF.PI);
        var (sinTheta, cosTheta) = MathF.SinCos(v * MathF.PI);
        return new(sinTheta * sinPhi, cosTheta, -sinTheta * cosPhi);
    }

    private static float Brightness(Vector3 c) => 0.27222872f * c.X + 0.67408177f * c.Y + 0.05368952f * c.Z;

    private static float Clean(float v) => float.IsFinite(v) ? MathF.Max(0, v) : 0;
}
