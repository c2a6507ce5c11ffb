using System.Numerics;
using Kiln.Colour.Configs;

namespace Kiln.Colour.Operations;

/// <summary>
/// One step of a colour transform. Immutable and safe to share between threads.
/// Whoever transforms colours does it by these, whether the steps come from a config or from our own spaces.
/// </summary>
public abstract record ColourOp
{
    /// <summary>Pixels a block: samples of red, green, blue and alpha that stay in the nearest cache from step to step.</summary>
    public const int Block = 1024;

    /// <summary>Pixels of red, green, blue and alpha, in place.</summary>
    public abstract void Apply(Span<Vector4> pixels);

    /// <summary>Interleaved red, green and blue without alpha (1 is taken for it), in place; whole pixels only.</summary>
    public virtual void Apply(Span<float> rgb)
    {
        Span<Vector4> block = stackalloc Vector4[Block];
        for (var at = 0; at + 2 < rgb.Length; at += 3 * Block)
        {
            var some = rgb.Slice(at, Math.Min(3 * Block, (rgb.Length - at) / 3 * 3));
            for (var i = 0; i < some.Length; i += 3)
                block[i / 3] = new(some[i], some[i + 1], some[i + 2], 1);
            Apply(block[..(some.Length / 3)]);
            for (var i = 0; i < some.Length; i += 3)
                block[i / 3].AsVector3().CopyTo(some[i..]);
        }
    }

    /// <summary>One colour, whose alpha is 1.</summary>
    public virtual Vector3 Apply(Vector3 rgb)
    {
        Span<Vector4> one = [new(rgb, 1)];
        Apply(one);
        return one[0].AsVector3();
    }

    /// <summary>The step that undoes this one.</summary>
    /// <exception cref="ConfigException">It cannot be undone.</exception>
    public abstract ColourOp Inverse();

    /// <summary>Whether nothing changes, so that the step can be left out.</summary>
    public virtual bool IsIdentity => false;

    /// <summary>Whether alpha changes the colour.</summary>
    public virtual bool ReadsAlpha => false;
}
