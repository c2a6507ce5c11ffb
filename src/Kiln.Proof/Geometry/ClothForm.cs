using System.Numerics;
using System.Runtime.CompilerServices;

namespace Kiln.Proof.Geometry;

/// <summary>
/// A square sheet of 1.5 m that was let fall over a ball on the ground: folds, hems and a draped top. It falls once, when first asked for,
/// by
/// position-based dynamics (Müller et al. 2007): threads that keep their length, a ball and a ground that are not passed. One unit of UV to
/// a metre.
/// </summary>
internal static class ClothForm
{
    private const int Threads = 50,
        Finer = 4,
        Steps = 330,
        Passes = 9;
    private const float Side = 1.5f,
        Ball = 0.25f,
        BallHeight = 0.36f,
        Thickness = 0.004f,
        Time = 1f / 90,
        Drag = 0.985f;

    public static Mesh Build()
    {
        var now = new Vector3[(Threads + 1) * (Threads + 1)];
        for (var j = 0; j <= Threads; j++)
        for (var i = 0; i <= Threads; i++)
        {
            // A little askew and not quite flat, or the folds would be as regular as the grid.
            float x = (i / (float)Threads - 0.5f) * Side,
                z = (0.5f - j / (float)Threads) * Side;
            now[At(i, j)] = new(
                x * 0.985f - z * 0.17f,
                0.70f + 0.006f * MathF.Sin(x * 11f + 1.3f) * MathF.Cos(z * 9f),
                z * 0.985f + x * 0.17f
            );
        }
        Fall(now);
        return Smooth(now);
    }

    private static int At(int i, int j) => j * (Threads + 1) + i;

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Fall(Vector3[] now)
    {
        var before = (Vector3[])now.Clone();
        var tied = new List<(int A, int B, float Length, float Half)>();
        const float step = Side / Threads;
        void Tie(int i, int j, int di, int dj, float stiffness)
        {
            if (i + di is >= 0 and <= Threads && j + dj <= Threads)
                tied.Add((At(i, j), At(i + di, j + dj), step * MathF.Sqrt(di * di + dj * dj), 0.5f * stiffness));
        }
        for (var j = 0; j <= Threads; j++)
        for (var i = 0; i <= Threads; i++)
        {
            Tie(i, j, 1, 0, 1);
            Tie(i, j, 0, 1, 1);
            Tie(i, j, 1, 1, 0.6f);
            Tie(i, j, -1, 1, 0.6f);
            // Against sharp creases.
            Tie(i, j, 3, 0, 0.10f);
            Tie(i, j, 0, 3, 0.10f);
        }
        var threads = tied.ToArray();
        var centre = new Vector3(0, BallHeight, 0);
        for (var s = 0; s < Steps; s++)
        {
            for (var k = 0; k < now.Length; k++)
            {
                var velocity = (now[k] - before[k]) * Drag;
                before[k] = now[k];
                now[k] += velocity + new Vector3(0, -9.81f * Time * Time, 0);
            }
            for (var p = 0; p < Passes; p++)
            {
                for (var k = 0; k < threads.Length; k++)
                {
                    ref readonly var thread = ref threads[k];
                    ref var a = ref now[thread.A];
                    ref var b = ref now[thread.B];
                    var d = b - a;
                    var l = MathF.Max(1e-6f, d.Length());
                    var move = d * (thread.Half * (l - thread.Length) / l);
                    a += move;
                    b -= move;
                }
                for (var k = 0; k < now.Length; k++)
                    Kept(ref now[k], ref before[k], centre);
            }
        }
    }

    /// <summary>Outside the ball and above the ground, where it is held by friction.</summary>
    private static void Kept(ref Vector3 now, ref Vector3 before, Vector3 centre)
    {
        var away = now - centre;
        var distance = away.Length();
        if (distance < Ball + Thickness && distance > 1e-6f)
        {
            now = centre + away * ((Ball + Thickness) / distance);
            before = Vector3.Lerp(before, now, 0.35f);
        }
        if (now.Y < Thickness)
        {
            now.Y = Thickness;
            before = Vector3.Lerp(before, now, 0.6f);
        }
    }

    /// <summary>Between the threads a bicubic surface (Catmull and Rom), with the normals of its slopes.</summary>
    private static Mesh Smooth(Vector3[] now)
    {
        Vector3 P(int i, int j) => now[At(Math.Clamp(i, 0, Threads), Math.Clamp(j, 0, Threads))];
        static Vector3 Cubic(Vector3 a, Vector3 b, Vector3 c, Vector3 d, float t) =>
            0.5f * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t * t * t);
        Vector3 Surface(float x, float y)
        {
            int i = Math.Min((int)x, Threads - 1),
                j = Math.Min((int)y, Threads - 1);
            Vector3 Row(int r) => Cubic(P(i - 1, r), P(i, r), P(i + 1, r), P(i + 2, r), x - i);
            return Cubic(Row(j - 1), Row(j), Row(j + 1), Row(j + 2), y - j);
        }
        var grid = new GridBuilder();
        const int cells = Threads * Finer;
        grid.Patch(cells, cells, (s, t) =>
        {
            float x = s * Threads,
                y = t * Threads;
            const float e = 0.15f;
            float x0 = MathF.Max(0, x - e),
                x1 = MathF.Min(Threads, x + e),
                y0 = MathF.Max(0, y - e),
                y1 = MathF.Min(Threads, y + e);
            var normal = Vector3.Normalize(Vector3.Cross(Surface(x1, y) - Surface(x0, y), Surface(x, y1) - Surface(x, y0)));
            return (Surface(x, y), normal, new(s * Side, t * Side));
        });
        return grid.Mesh("sheet", isSheet: true);
    }
}
