using System.Numerics;

namespace Kiln.Colour.Operations;

/// <summary>Several steps in order.</summary>
public sealed class ColourChain(IEnumerable<ColourOp> ops)
{
    private readonly ColourOp[] ops = [.. Simplified(ops)];

    public static readonly ColourChain Identity = new([]);

    public IReadOnlyList<ColourOp> Operations => ops;

    public bool IsIdentity => ops.Length == 0;

    public ColourChain Inverse() => new(ops.Reverse().Select(o => o.Inverse()));

    public ColourChain Then(ColourChain next) => new(ops.Concat(next.ops));

    /// <summary>One colour, whose alpha is 1.</summary>
    public Vector3 Apply(Vector3 rgb)
    {
        foreach (var op in ops)
            rgb = op.Apply(rgb);
        return rgb;
    }

    /// <summary>All pixels, a block at a time, so that the steps find them in the cache.</summary>
    public void Apply(Span<Vector4> pixels)
    {
        for (var at = 0; at < pixels.Length; at += ColourOp.Block)
            foreach (var op in ops)
                op.Apply(pixels.Slice(at, Math.Min(ColourOp.Block, pixels.Length - at)));
    }

    /// <summary>Interleaved pixels in place: the first three of every <paramref name="stride"/> samples; the rest (alpha) stay.</summary>
    public void Apply(Span<float> samples, int stride = 3)
    {
        if (ops.Length == 0)
            return;
        if (stride == 3)
            Three(samples);
        else if (ops.Any(o => o.ReadsAlpha))
            Four(samples, stride);
        else
            Packed(samples, stride);
    }

    private void Three(Span<float> rgb)
    {
        for (var at = 0; at + 2 < rgb.Length; at += 3 * ColourOp.Block)
            foreach (var op in ops)
                op.Apply(rgb.Slice(at, Math.Min(3 * ColourOp.Block, (rgb.Length - at) / 3 * 3)));
    }

    /// <summary>Colours packed beside each other, without what lies between them.</summary>
    private void Packed(Span<float> samples, int stride)
    {
        Span<float> packed = stackalloc float[3 * ColourOp.Block];
        for (int at = 0, count = samples.Length / stride; at < count; at += ColourOp.Block)
        {
            var some = Math.Min(ColourOp.Block, count - at);
            for (var i = 0; i < some; i++)
                samples.Slice((at + i) * stride, 3).CopyTo(packed[(3 * i)..]);
            Three(packed[..(3 * some)]);
            for (var i = 0; i < some; i++)
                packed.Slice(3 * i, 3).CopyTo(samples[((at + i) * stride)..]);
        }
    }

    private void Four(Span<float> samples, int stride)
    {
        Span<Vector4> block = stackalloc Vector4[ColourOp.Block];
        for (int at = 0, count = samples.Length / stride; at < count; at += ColourOp.Block)
        {
            var some = block[..Math.Min(ColourOp.Block, count - at)];
            for (var i = 0; i < some.Length; i++)
            {
                var s = (at + i) * stride;
                some[i] = new(samples[s], samples[s + 1], samples[s + 2], samples[s + 3]);
            }
            Apply(some);
            for (var i = 0; i < some.Length; i++)
                some[i].AsVector3().CopyTo(samples[((at + i) * stride)..]);
        }
    }

    /// <summary>Without steps that change nothing, and with neighbouring matrices made one.</summary>
    private static List<ColourOp> Simplified(IEnumerable<ColourOp> ops)
    {
        var result = new List<ColourOp>();
        foreach (var op in ops)
        {
            if (op is MatrixOp next && result.Count > 0 && result[^1] is MatrixOp last)
                result[^1] = last.Then(next);
            else if (!op.IsIdentity)
                result.Add(op);
            if (result.Count > 0 && result[^1].IsIdentity)
                result.RemoveAt(result.Count - 1);
        }
        return result;
    }
}
