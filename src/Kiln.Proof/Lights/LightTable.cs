using System.Numerics;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kiln.Proof.Lights;

/// <summary>
/// A lat-long picture of radiance as tables that are read, and from which directions are drawn by their brightness, eight at a time. The
/// middle of the picture is −z, up is +y.
/// </summary>
internal sealed class LightTable
{
    private readonly int width,
        height;

    /// <summary>Numbers of a texel: red, green and blue; its density over the picture times sin θ; the share that it keeps of its alias,
    /// and
    /// the number of the other, as bits.</summary>
    private const int Stride = 8,
        Density = 3,
        Keep = 4,
        Other = 5;

    // Pinned, as eight places are read at once. What is read of a texel lies together: the picture is larger than any cache.
    private readonly float[] numbers;
    private readonly int texels;
    private readonly float total;

    public LightTable(int width, int height, Vector3[] texels)
    {
        (this.width, this.height) = (width, height);
        this.texels = texels.Length;
        var weights = texels.Select((t, i) => Brightness(t) * MathF.Sin(MathF.PI * (i / width + 0.5f) / height)).ToArray();
        total = (float)weights.Sum(w => (double)w);
        var perWeight = total > 0 ? width * height / (2f * MathF.PI * MathF.PI * total) : 0;
        numbers = GC.AllocateArray<float>(Stride * texels.Length, pinned: true);
        for (var i = 0; i < texels.Length; i++)
        {
            var to = numbers.AsSpan(Stride * i, Stride);
            (to[0], to[1], to[2], to[Density]) = (texels[i].X, texels[i].Y, texels[i].Z, weights[i] * perWeight);
        }
        FillAliases(weights);
    }

    /// <summary>Whether there is any light.</summary>
    public bool IsLit => total > 0;

    /// <summary>Radiance, and the density over solid angle with which <see cref="Sample"/> gives a direction.</summary>
    public Wide3 Meet(in Wide3 direction, out Wide density)
    {
        var (u, v) = Coordinates(direction);
        Vector256<int> x = Within(u * width, width),
            y = Within(v * height, height);
        var texel = y * width + x;
        density = Of(texel, Density) / Sqrt(Max(Wide.One - direction.Y * direction.Y, WideMath.Of(1e-12f)));
        return Radiance(texel);
    }

    /// <param name="choice">Which texel, and where across it.</param>
    /// <param name="down">Where down the texel.</param>
    /// <returns>Directions, their radiance and their densities over solid angle; 0 where there is no light.</returns>
    public (Wide3 Direction, Wide3 Radiance, Wide Density) Sample(Wide choice, Wide down)
    {
        // One texel by its alias; what remains of the number places the point within it.
        var scaled = choice * texels;
        var texel = Vector256.Min(Whole(scaled), Vector256.Create(texels - 1));
        var rest = scaled - Float(texel);
        var kept = Of(texel, Keep);
        var lent = AtLeast(rest, kept);
        var least = WideMath.Of(1e-6f);
        rest = Select(lent, (rest - kept) / Max(Wide.One - kept, least), rest / Max(kept, least));
        texel = Vector256.ConditionalSelect(lent.AsInt32(), Of(texel, Other).AsInt32(), texel);
        var y = Whole((Float(texel) + WideMath.Of(0.5f)) * (1f / width));
        var x = texel - y * width;
        // In single precision a large picture's last texel of a row may count to the next one.
        Vector256<int> before = Vector256.LessThan(x, Vector256<int>.Zero),
            after = Vector256.GreaterThanOrEqual(x, Vector256.Create(width));
        y += before - after;
        x += (before & Vector256.Create(width)) - (after & Vector256.Create(width));
        var v = (Float(y) + down) * (1f / height);
        var (sinPhi, cosPhi) = SinCosTurns((Float(x) + Clamp(rest, Wide.Zero, WideMath.Of(0.99999f))) * (1f / width) - WideMath.Of(0.5f));
        var (sinTheta, cosTheta) = SinCosTurns(v * 0.5f);
        var density = Of(texel, Density) / Max(sinTheta, least);
        return (new(sinTheta * sinPhi, cosTheta, Negative(sinTheta * cosPhi)), Radiance(texel), density);
    }

    /// <summary>Smoothly interpolated, for what the camera sees.</summary>
    public Wide3 Smooth(in Wide3 direction)
    {
        var (u, v) = Coordinates(direction);
        Wide fx = u * width - WideMath.Of(0.5f),
            fy = Clamp(v * height - WideMath.Of(0.5f), Wide.Zero, WideMath.Of(height - 1)),
            left = Floor(fx),
            top = Floor(fy);
        var lastX = Vector256.Create(width - 1);
        Vector256<int> x0 = Whole(left),
            y0 = Whole(top),
            x1 = x0 + Vector256<int>.One,
            y1 = Vector256.Min(y0 + Vector256<int>.One, Vector256.Create(height - 1));
        x0 = Vector256.ConditionalSelect(Vector256.LessThan(x0, Vector256<int>.Zero), lastX, x0);
        x1 = Vector256.ConditionalSelect(Vector256.GreaterThan(x1, lastX), Vector256<int>.Zero, x1);
        var across = fx - left;
        var upper = Wide3.Lerp(Radiance(y0 * width + x0), Radiance(y0 * width + x1), across);
        return Wide3.Lerp(upper, Wide3.Lerp(Radiance(y1 * width + x0), Radiance(y1 * width + x1), across), fy - top);
    }

    private Wide Of(Vector256<int> texel, int number) => Gather(ref numbers[number], texel * Stride);

    private Wide3 Radiance(Vector256<int> texel) => new(Of(texel, 0), Of(texel, 1), Of(texel, 2));

    private static Vector256<int> Within(Wide x, int size) => Whole(Clamp(x, Wide.Zero, WideMath.Of(size - 1)));

    private static (Wide U, Wide V) Coordinates(in Wide3 d)
    {
        var u = Atan2Turns(d.X, Negative(d.Z)) + WideMath.Of(0.5f);
        var y = Clamp(d.Y, WideMath.Of(-1f), Wide.One);
        return (u - Floor(u), 2f * Atan2Turns(Sqrt(Wide.One - y * y), y));
    }

    /// <summary>Vose 1991: every texel keeps its share and lends the rest to one other.</summary>
    private void FillAliases(float[] weights)
    {
        var n = weights.Length;
        void Set(int texel, float kept, int lent) =>
            (numbers[Stride * texel + Keep], numbers[Stride * texel + Other]) = (kept, BitConverter.Int32BitsToSingle(lent));
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
            Set(s, (float)share[s], l);
            share[l] -= 1 - share[s];
            if (share[l] < 1)
                small.Push(large.Pop());
        }
        foreach (var i in small.Concat(large))
            Set(i, 1, i);
    }

    private static float Brightness(Vector3 c) => 0.27222872f * c.X + 0.67408177f * c.Y + 0.05368952f * c.Z;
}
