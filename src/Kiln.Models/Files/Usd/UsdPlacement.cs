using System.Numerics;
using Kiln.Usd;

namespace Kiln.Models.Files.Usd;

/// <summary>
/// Where a prim stands in what it stands in: its transform operations in their order (UsdGeom, Xformable), for points as rows.
/// </summary>
internal static class UsdPlacement
{
    private const string Inverted = "!invert!",
        Reset = "!resetXformStack!",
        Operation = "xformOp:";

    /// <param name="stands">Whether it does without what its ancestors say.</param>
    /// <param name="unknown">Takes the operations that cannot be followed; the prim stands elsewhere then.</param>
    public static Matrix4x4 Of(UsdPrim prim, out bool stands, Action<string> unknown)
    {
        stands = false;
        var place = Matrix4x4.Identity;
        if (prim.Find("xformOpOrder")?.Texts is not { } order)
            return place;
        foreach (var name in order)
        {
            if (name == Reset)
            {
                (stands, place) = (true, Matrix4x4.Identity);
                continue;
            }
            var isInverted = name.StartsWith(Inverted, StringComparison.Ordinal);
            var operation = isInverted ? name[Inverted.Length..] : name;
            // One that the order names and nothing gives a value is passed over (UsdGeom, Xformable).
            if (prim.Find(operation) is not { Numbers: { } numbers })
            {
                if (prim.Find(operation) is null or { Connection: not null })
                    unknown(operation);
                continue;
            }
            if (
                !operation.StartsWith(Operation, StringComparison.Ordinal)
                || numbers.Any(n => !double.IsFinite(n))
                || One(operation[Operation.Length..].Split(':')[0], numbers) is not { } one
                || isInverted && !Matrix4x4.Invert(one, out one)
            )
            {
                unknown(operation);
                continue;
            }
            // The first of the order acts last.
            place = one * place;
        }
        return place;
    }

    private static Matrix4x4? One(string kind, double[] n) =>
        (kind, n.Length) switch
        {
            ("translate", 3) => Matrix4x4.CreateTranslation((float)n[0], (float)n[1], (float)n[2]),
            ("translateX" or "translateY" or "translateZ", 1) => Matrix4x4.CreateTranslation((float)n[0] * Axis(kind[^1])),
            ("scaleX" or "scaleY" or "scaleZ", 1) => Matrix4x4.CreateScale(Vector3.One + ((float)n[0] - 1) * Axis(kind[^1])),
            ("scale", 3) => Matrix4x4.CreateScale((float)n[0], (float)n[1], (float)n[2]),
            ("orient", 4) => Matrix4x4.CreateFromQuaternion(Quaternion.Normalize(new((float)n[1], (float)n[2], (float)n[3], (float)n[0]))),
            ("transform", 16) => Matrix(n),
            ("rotateX" or "rotateY" or "rotateZ", 1) => Around(kind[^1], n[0]),
            ("rotateXYZ" or "rotateXZY" or "rotateYXZ" or "rotateYZX" or "rotateZXY" or "rotateZYX", 3) => kind["rotate".Length..]
                .Aggregate(Matrix4x4.Identity, (turned, axis) => turned * Around(axis, n[axis - 'X'])),
            _ => null,
        };

    private static Vector3 Axis(char axis) =>
        axis switch
        {
            'X' => Vector3.UnitX,
            'Y' => Vector3.UnitY,
            _ => Vector3.UnitZ,
        };

    private static Matrix4x4 Around(char axis, double degrees)
    {
        var angle = (float)(degrees * Math.PI / 180);
        return axis switch
        {
            'X' => Matrix4x4.CreateRotationX(angle),
            'Y' => Matrix4x4.CreateRotationY(angle),
            _ => Matrix4x4.CreateRotationZ(angle),
        };
    }

    private static Matrix4x4 Matrix(double[] n)
    {
        var m = new Matrix4x4();
        for (var i = 0; i < 16; i++)
            m[i / 4, i % 4] = (float)n[i];
        return m;
    }
}
