using System.Numerics;

namespace Kiln.Scattering;

/// <summary>
/// An orthonormal frame around a normal; its x axis along a tangent where one is given, else anywhere (Duff et al. 2017).
/// </summary>
public readonly struct Frame
{
    private readonly Vector3 x,
        y,
        z;

    public Frame(Vector3 normal)
    {
        z = normal;
        var sign = MathF.CopySign(1f, z.Z);
        var a = -1f / (sign + z.Z);
        var b = z.X * z.Y * a;
        x = new(1f + sign * z.X * z.X * a, sign * b, -sign * z.X);
        y = new(b, sign + z.Y * z.Y * a, -z.Y);
    }

    public Frame(Vector3 normal, Vector3 tangent)
    {
        var flat = tangent - normal * Vector3.Dot(tangent, normal);
        this = flat.LengthSquared() > 1e-12f ? new(normal, Vector3.Normalize(flat), true) : new(normal);
    }

    private Frame(Vector3 normal, Vector3 tangent, bool _)
    {
        (z, x) = (normal, tangent);
        y = Vector3.Cross(z, x);
    }

    public Vector3 Normal => z;

    /// <summary>The same frame as this one sees it.</summary>
    public Frame Within(in Frame other) => new(other.ToLocal(z), other.ToLocal(x), true);

    public Vector3 ToLocal(Vector3 v) => new(Vector3.Dot(v, x), Vector3.Dot(v, y), Vector3.Dot(v, z));

    public Vector3 ToWorld(Vector3 v) => x * v.X + y * v.Y + z * v.Z;
}
