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
    private readonly Vector3? even;
    private readonly LightTable table;

    private EnvironmentLight(int width, int height, Vector3[] texels, Vector3? even)
    {
        (this.width, this.height, this.texels, this.even) = (width, height, texels, even);
        table = new(width, height, texels);
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
        return light.table.IsLit ? (light, bad) : throw new PictureException("This light is black everywhere.");
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
    public Vector3 Background(Vector3 direction) => Background(Wide3.Of(direction))[0];

    /// <summary>The same for eight directions.</summary>
    internal Wide3 Background(in Wide3 direction) => even is { } e ? Wide3.Of(e) : table.Smooth(direction);

    /// <summary>Radiance, and the density over solid angle with which <see cref="Sample(Wide, Wide)"/> gives a direction.</summary>
    internal Wide3 Meet(in Wide3 direction, out Wide density)
    {
        if (even is not { } e)
            return table.Meet(direction, out density);
        density = WideMath.Of(1f / (4f * MathF.PI));
        return Wide3.Of(e);
    }

    internal (Wide3 Direction, Wide3 Radiance, Wide Density) Sample(Wide u, Wide v)
    {
        if (even is not { } e)
            return table.Sample(u, v);
        var z = Wide.One - 2f * u;
        var (sin, cos) = SinCosTurns(v);
        var r = Sqrt(Max(Wide.One - z * z, Wide.Zero));
        return (new(r * cos, z, r * sin), Wide3.Of(e), WideMath.Of(1f / (4f * MathF.PI)));
    }

    /// <summary>A direction that light comes from, its radiance, and its density over solid angle; 0 where there is no light.</summary>
    public (Vector3 Direction, Vector3 Radiance, float Pdf) Sample(Vector2 u)
    {
        var (direction, radiance, density) = Sample(WideMath.Of(u.X), WideMath.Of(u.Y));
        return (direction[0], radiance[0], density.ToScalar());
    }

    private static Vector3 Direction(float u, float v)
    {
        var (sinPhi, cosPhi) = MathF.SinCos((u - 0.5f) * 2f * MathF.PI);
        var (sinTheta, cosTheta) = MathF.SinCos(v * MathF.PI);
        return new(sinTheta * sinPhi, cosTheta, -sinTheta * cosPhi);
    }

    private static float Clean(float v) => float.IsFinite(v) ? MathF.Max(0, v) : 0;
}
