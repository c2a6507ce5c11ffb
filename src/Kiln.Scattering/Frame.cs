using System.Numerics;

namespace Kiln.Scattering;

/// <summary>
/// An orthonormal frame around a normal; its x axis along a tangent where one is given, else anywhere (Duff et al. 2017).
/// </summary>
public readonly struct Frame
{
    private readonly WideFrame frame;

    public Frame(Vector3 normal) => frame = new(Wide3.Of(normal));

    public Frame(Vector3 normal, Vector3 tangent) => frame = new(Wide3.Of(normal), Wide3.Of(tangent));

    internal WideFrame Eight => frame;

    public Vector3 ToWorld(Vector3 v) => frame.ToWorld(Wide3.Of(v))[0];
}

/// <summary>Eight of them.</summary>
public readonly struct WideFrame
{
    private readonly Wide3 x,
        y,
        z;

    public WideFrame(in Wide3 normal)
    {
        z = normal;
        (x, y) = Around(normal);
    }

    /// <summary>Where the tangent has no direction of its own beside the normal, it lies anywhere.</summary>
    public WideFrame(in Wide3 normal, in Wide3 tangent)
    {
        z = normal;
        var flat = tangent - normal * Wide3.Dot(tangent, normal);
        var length2 = Wide3.Dot(flat, flat);
        var has = Greater(length2, Of(1e-12f));
        var along = flat * (Wide.One / Sqrt(Max(length2, Of(1e-12f))));
        var across = Wide3.Cross(normal, along);
        var (freeX, freeY) = Around(normal);
        (x, y) = (Wide3.Select(has, along, freeX), Wide3.Select(has, across, freeY));
    }

    private WideFrame(in Wide3 normal, in Wide3 tangent, bool _) => (z, x, y) = (normal, tangent, Wide3.Cross(normal, tangent));

    private static (Wide3, Wide3) Around(in Wide3 n)
    {
        var sign = CopySign(Wide.One, n.Z);
        var a = Negative(Wide.One / (sign + n.Z));
        var b = n.X * n.Y * a;
        return (new(Wide.One + sign * n.X * n.X * a, sign * b, Negative(sign * n.X)), new(b, sign + n.Y * n.Y * a, Negative(n.Y)));
    }

    public Wide3 Normal => z;

    /// <summary>The same frame as the other one sees it.</summary>
    public WideFrame Within(in WideFrame other) => new(other.ToLocal(z), other.ToLocal(x), true);

    public Wide3 ToLocal(in Wide3 v) => new(Wide3.Dot(v, x), Wide3.Dot(v, y), Wide3.Dot(v, z));

    public Wide3 ToWorld(in Wide3 v) => x * v.X + y * v.Y + z * v.Z;
}
