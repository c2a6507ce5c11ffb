using System.Numerics;
using Kiln.Colour.Configs;

namespace Kiln.Colour.Operations;

/// <summary>
/// One step of a colour transform over pixels of red, green, blue and alpha, in place. Immutable and safe to share between threads.
/// </summary>
public abstract record ColourOp
{
    public abstract void Apply(Span<Vector4> pixels);

    /// <summary>The step that undoes this one.</summary>
    /// <exception cref="ConfigException">It cannot be undone.</exception>
    public abstract ColourOp Inverse();

    /// <summary>Whether nothing changes, so that the step can be left out.</summary>
    public virtual bool IsIdentity => false;
}

/// <summary>Several steps in order.</summary>
public sealed class ColourChain(IEnumerable<ColourOp> ops)
{
    private const int Block = 1024;

    private readonly ColourOp[] ops = [.. Simplified(ops)];

    public static readonly ColourChain Identity = new([]);

    public IReadOnlyList<ColourOp> Operations => ops;

    public bool IsIdentity => ops.Length == 0;

    public ColourChain Inverse() => new(ops.Reverse().Select(o => o.Inverse()));

    public ColourChain Then(ColourChain next) => new(ops.Concat(next.ops));

    public Vector3 Apply(Vector3 rgb)
    {
        Span<Vector4> one = [new(rgb, 1)];
        foreach (var op in ops)
            op.Apply(one);
        return one[0].AsVector3();
    }

    /// <summary>All pixels, a block at a time, so that the steps find them in the cache.</summary>
    public void Apply(Span<Vector4> pixels)
    {
        for (var at = 0; at < pixels.Length; at += Block)
            foreach (var op in ops)
                op.Apply(pixels.Slice(at, Math.Min(Block, pixels.Length - at)));
    }

    /// <summary>Interleaved pixels in place: the first three of every <paramref name="stride"/> samples.</summary>
    public void Apply(Span<float> samples, int stride = 3)
    {
        Span<Vector4> block = new Vector4[Math.Min(Block, samples.Length / stride + 1)];
        var count = samples.Length / stride;
        for (var at = 0; at < count; at += block.Length)
        {
            var some = block[..Math.Min(block.Length, count - at)];
            for (var i = 0; i < some.Length; i++)
            {
                var s = (at + i) * stride;
                some[i] = new(samples[s], samples[s + 1], samples[s + 2], stride > 3 ? samples[s + 3] : 1);
            }
            foreach (var op in ops)
                op.Apply(some);
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
