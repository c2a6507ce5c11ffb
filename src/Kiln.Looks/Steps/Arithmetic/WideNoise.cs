using System.Runtime.Intrinsics;
using Kiln.Looks.Document;
using Kiln.Simd;
using static Kiln.Simd.WideMath;

namespace Kiln.Looks.Steps.Arithmetic;

/// <summary>
/// <see cref="TileableNoise"/> by gradients at eight places at once, with the gradients of its lattices worked out beforehand. For noise
/// that
/// is asked often; a lattice takes eight bytes a cell.
/// </summary>
public sealed class WideNoise
{
    /// <summary>The sum over all octaves is brought to this by the greatest value of each: see <see cref="TileableNoise"/>.</summary>
    private const float ToHalf = 0.70710678f;

    private readonly (float[] Gradients, int Cells, float Weight)[] octaves;
    private readonly float perTotal;

    /// <exception cref="ArgumentException">Noise without gradients.</exception>
    public WideNoise(NoiseField noise)
    {
        if (noise.Kind == NoiseKind.Cell)
            throw new ArgumentException("Cells have no gradients.", nameof(noise));
        octaves = new (float[], int, float)[noise.Kind == NoiseKind.Fractal ? noise.Octaves : 1];
        var (cells, weight, total) = (noise.Cells, 1f, 0f);
        for (var octave = 0; octave < octaves.Length; octave++, cells *= 2, weight *= noise.Gain)
        {
            octaves[octave] = (TileableNoise.Gradients(cells, (uint)(noise.Seed + octave * 7919)), cells, weight);
            total += weight;
        }
        perTotal = ToHalf / total;
    }

    /// <param name="u">In units of one repeat, as is <paramref name="v"/>.</param>
    /// <param name="footprint">Sides of the squares that are asked for, in the same units: finer octaves fade to their mean.</param>
    public Wide At(Wide u, Wide v, Wide footprint)
    {
        var sum = Wide.Zero;
        foreach (var (gradients, cells, weight) in octaves)
        {
            // Half a cell in the footprint: as good as its mean, which is zero.
            var fade = Unit(Of(2f) - footprint * (2f * cells));
            if (Any(Positive(fade)))
                sum += fade * Octave(gradients, cells, u * cells, v * cells) * weight;
        }
        return Unit(Of(0.5f) + sum * perTotal);
    }

    private static Wide Octave(float[] gradients, int cells, Wide x, Wide y)
    {
        Wide left = Floor(x),
            low = Floor(y),
            fx = x - left,
            fy = y - low;
        var one = Vector256<int>.One;
        Vector256<int> x0 = Wrapped(left, cells),
            y0 = Wrapped(low, cells),
            x1 = Next(x0, cells),
            y1 = Next(y0, cells);
        Wide Corner(Vector256<int> cx, Vector256<int> cy, Wide dx, Wide dy)
        {
            var at = (cy * cells + cx) * 2;
            return Gather(ref gradients[0], at) * dx + Gather(ref gradients[0], at + one) * dy;
        }
        Wide across = Fade(fx),
            beyondX = fx - Wide.One,
            beyondY = fy - Wide.One;
        return Lerp(
            Lerp(Corner(x0, y0, fx, fy), Corner(x1, y0, beyondX, fy), across),
            Lerp(Corner(x0, y1, fx, beyondY), Corner(x1, y1, beyondX, beyondY), across),
            Fade(fy)
        );
    }

    /// <summary>6t⁵ − 15t⁴ + 10t³ (Perlin 2002).</summary>
    private static Wide Fade(Wide t) => t * t * t * (t * (t * 6f - Of(15f)) + Of(10f));

    private static Vector256<int> Wrapped(Wide whole, int cells)
    {
        var rest = Whole(whole - Floor(whole * (1f / cells)) * cells);
        // Division by multiplication may be off by one.
        rest = Vector256.ConditionalSelect(Vector256.LessThan(rest, Vector256<int>.Zero), rest + Vector256.Create(cells), rest);
        return Vector256.ConditionalSelect(
            Vector256.GreaterThanOrEqual(rest, Vector256.Create(cells)),
            rest - Vector256.Create(cells),
            rest
        );
    }

    private static Vector256<int> Next(Vector256<int> x, int cells)
    {
        var next = x + Vector256<int>.One;
        return Vector256.AndNot(next, Vector256.Equals(next, Vector256.Create(cells)));
    }
}
