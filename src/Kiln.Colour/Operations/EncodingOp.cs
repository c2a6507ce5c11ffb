using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Operations;

/// <summary>A space's own curve: linear light to stored values, or stored values to linear light. Alpha stays.</summary>
/// <param name="Decodes">From stored values to linear light.</param>
public sealed record EncodingOp(ColourEncoding Encoding, bool Decodes) : ColourOp
{
    public override bool IsIdentity => Encoding == ColourEncoding.Linear;

    public override Vector3 Apply(Vector3 rgb) => new(One(rgb.X), One(rgb.Y), One(rgb.Z));

    public override void Apply(Span<Vector4> pixels)
    {
        foreach (ref var p in pixels)
            p = new(Apply(p.AsVector3()), p.W);
    }

    public override void Apply(Span<float> rgb)
    {
        if (Decodes)
            Encoding.Decode(rgb);
        else
            Encoding.Encode(rgb);
    }

    public override ColourOp Inverse() => this with { Decodes = !Decodes };

    private float One(float value) => Decodes ? Encoding.Decode(value) : Encoding.Encode(value);
}
