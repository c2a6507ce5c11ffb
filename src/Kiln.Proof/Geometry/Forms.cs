using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Proof.Geometry;

/// <summary>
/// The forms a look is proved on, with real sizes in metres and one unit of UV to a metre (tile, vessel) or to the form (sphere).
/// </summary>
public static class Forms
{
    public static readonly IReadOnlyList<string> Ids = ["vessel", "tile", "sphere", "cloth", "chart"];

    /// <exception cref="ArgumentException">There is no such form.</exception>
    public static Mesh Named(string id) =>
        id switch
        {
            "vessel" => Vessel(),
            "tile" => Tile(),
            "sphere" => Sphere(),
            "cloth" => ClothForm.Build(),
            "chart" => ChartForm.Build(),
            _ => throw new ArgumentException($"There is no form '{id}' here. Known: {string.Join(", ", Ids)}."),
        };

    /// <summary>The parts of a form that keep their own surface; none for most.</summary>
    public static IReadOnlyDictionary<string, FixedSurface> FixedSurfaces(string id, WorkingSpace working) =>
        id == "chart" ? ChartForm.Surfaces(working) : new Dictionary<string, FixedSurface>();

    /// <summary>Height of the slab's face above the ground, in metres.</summary>
    public const float TileTop = 0.09f;

    /// <summary>A slab 1 m square with rounded edges, lying on the ground; its face carries exactly the unit square of UV.</summary>
    public static Mesh Tile()
    {
        const float half = 0.5f,
            top = TileTop,
            round = 0.018f;
        const int steps = 6,
            face = 8;
        var grid = new GridBuilder();
        // Distance from the middle along one axis: flat face, then the quarter circle of the edge, then down the side.
        var profile = new List<(float Out, float Down, float NormalOut, float NormalUp)>();
        for (var i = 0; i <= steps; i++)
        {
            var (sin, cos) = MathF.SinCos(i * MathF.PI / 2 / steps);
            profile.Add((half - round + round * sin, round - round * cos, sin, cos));
        }
        profile.Add((half, top, 1, 0));
        // The face: a regular grid; UV = position.
        grid.Patch(face, face, (s, t) =>
        {
            float x = (s - 0.5f) * 2 * (half - round),
                z = (0.5f - t) * 2 * (half - round);
            return (new(x, top, z), Vector3.UnitY, new(x + 0.5f, 0.5f - z));
        });
        // Four edges and four corners as one band around the face, UV going on along the arc.
        const int around = 4 * (face + steps);
        grid.Patch(around, profile.Count - 1, (s, t) =>
        {
            var (corner, direction) = Rim(s, half - round, face, steps);
            var (outward, down, normalOut, normalUp) = profile[(int)MathF.Round(t * (profile.Count - 1))];
            var push = direction * (outward - (half - round));
            var position = new Vector3(corner.X + push.X, top - down, corner.Y + push.Y);
            var along =
                t * (profile.Count - 1) <= steps
                    ? round * t * (profile.Count - 1) / steps * MathF.PI / 2
                    : round * MathF.PI / 2 + (down - round);
            var uv = new Vector2(corner.X + direction.X * along + 0.5f, 0.5f - (corner.Y + direction.Y * along));
            return (position, Vector3.Normalize(new(direction.X * normalOut, normalUp, direction.Y * normalOut)), uv);
        });
        return grid.Mesh("slab");
    }

    private static (Vector2 Corner, Vector2 Direction) Rim(float s, float edge, int face, int steps)
    {
        var at = s * 4 * (face + steps);
        var side = Math.Min(3, (int)(at / (face + steps)));
        var local = at - side * (face + steps);
        var (sin, cos) = MathF.SinCos(side * MathF.PI / 2);
        Vector2 Turn(Vector2 v) => new(cos * v.X - sin * v.Y, sin * v.X + cos * v.Y);
        if (local <= face)
            return (Turn(new(edge, -edge + 2 * edge * local / face)), Turn(Vector2.UnitX));
        var (s2, c2) = MathF.SinCos((local - face) / steps * MathF.PI / 2);
        return (Turn(new(edge, edge)), Turn(new(c2, s2)));
    }

    /// <summary>A sphere of radius 0.4 m; u once around, v from pole to pole.</summary>
    public static Mesh Sphere()
    {
        var grid = new GridBuilder();
        grid.Patch(128, 64, (s, t) =>
        {
            var (sinTheta, cosTheta) = MathF.SinCos(MathF.PI * (1 - t));
            var (sinPhi, cosPhi) = MathF.SinCos(2 * MathF.PI * s);
            var n = new Vector3(sinTheta * cosPhi, cosTheta, -sinTheta * sinPhi);
            return (n * 0.4f + new Vector3(0, 0.4f, 0), n, new(2 * s, t));
        });
        return grid.Mesh("ball");
    }

    /// <summary>Radius over height, outer wall from the foot up, over the lip, and down inside; metres.</summary>
    private static readonly (float R, float H)[] Profile =
    [
        (0.0f, 0.012f),
        (0.15f, 0.012f),
        (0.165f, 0.0f),
        (0.182f, 0.006f),
        (0.19f, 0.03f),
        (0.178f, 0.052f),
        (0.205f, 0.09f),
        (0.268f, 0.17f),
        (0.316f, 0.27f),
        (0.332f, 0.37f),
        (0.318f, 0.47f),
        (0.268f, 0.56f),
        (0.205f, 0.62f),
        (0.176f, 0.66f),
        (0.172f, 0.69f),
        (0.186f, 0.72f),
        (0.212f, 0.745f),
        (0.224f, 0.762f),
        (0.221f, 0.776f),
        (0.209f, 0.78f),
        (0.196f, 0.771f),
        (0.172f, 0.735f),
        (0.156f, 0.69f),
        (0.158f, 0.65f),
        (0.185f, 0.61f),
        (0.25f, 0.54f),
        (0.296f, 0.46f),
        (0.308f, 0.37f),
        (0.29f, 0.27f),
        (0.23f, 0.15f),
        (0.12f, 0.08f),
        (0.0f, 0.07f),
    ];

    /// <summary>A turned pot 0.78 m high: foot, belly with thrown ridges, shoulder, neck and a rolled lip, and the wall inside.</summary>
    public static Mesh Vessel()
    {
        const int rows = 186,
            columns = 96;
        var curve = new Vector2[rows + 1];
        for (var i = 0; i <= rows; i++)
        {
            var at = i / (float)rows * (Profile.Length - 1);
            var p = CatmullRom(Profile, at);
            // Thrown ridges: the potter's fingers rise as the wheel turns; strongest on the belly.
            if (p.Y is > 0.09f and < 0.6f && at < 14)
                p.X += 0.0042f * MathF.Sin(p.Y * 150f) * MathF.Exp(-MathF.Pow((p.Y - 0.34f) / 0.16f, 2));
            curve[i] = new(MathF.Max(0, p.X), p.Y);
        }
        var length = new float[rows + 1];
        for (var i = 1; i <= rows; i++)
            length[i] = length[i - 1] + (curve[i] - curve[i - 1]).Length();
        var grid = new GridBuilder();
        grid.Patch(columns, rows, (s, t) =>
        {
            var i = (int)MathF.Round(t * rows);
            var (sin, cos) = MathF.SinCos(2 * MathF.PI * s);
            var tangent = curve[Math.Min(rows, i + 1)] - curve[Math.Max(0, i - 1)];
            var n = Vector2.Normalize(new(tangent.Y, -tangent.X));
            // Two metres of texture around the belly, so that u and v have the same scale there.
            return (
                new(curve[i].X * cos, curve[i].Y, -curve[i].X * sin),
                Vector3.Normalize(new(n.X * cos, n.Y, -n.X * sin)),
                new(2 * s, length[i])
            );
        });
        return grid.Mesh("pot");
    }

    /// <summary>The ground a form stands on: a disc of 6 m, for shadows; not part of the form.</summary>
    public static Mesh Floor()
    {
        var grid = new GridBuilder();
        grid.Patch(64, 6, (s, t) =>
        {
            var (sin, cos) = MathF.SinCos(2 * MathF.PI * s);
            var r = 6 * (1 - t);
            return (new(r * cos, 0, -r * sin), Vector3.UnitY, new(r * cos, -r * sin));
        });
        return grid.Mesh("ground");
    }

    private static Vector2 CatmullRom((float R, float H)[] p, float at)
    {
        var i = Math.Min((int)at, p.Length - 2);
        var t = at - i;
        Vector2 P(int k) => new(p[Math.Clamp(k, 0, p.Length - 1)].R, p[Math.Clamp(k, 0, p.Length - 1)].H);
        Vector2 a = P(i - 1),
            b = P(i),
            c = P(i + 1),
            d = P(i + 2);
        return 0.5f * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t * t * t);
    }
}

/// <summary>Builds meshes from parametric patches; s runs to the right and t up when seen from outside.</summary>
internal sealed class GridBuilder
{
    private readonly List<Vector3> positions = [];
    private readonly List<Vector3> normals = [];
    private readonly List<Vector2> uvs = [];
    private readonly List<int> indices = [];
    private readonly List<(string Name, int First)> parts = [];

    /// <summary>What comes from here on belongs to the named part.</summary>
    public void Part(string name) => parts.Add((name, indices.Count / 3));

    public void Patch(int columns, int rows, Func<float, float, (Vector3 Position, Vector3 Normal, Vector2 Uv)> point)
    {
        var first = positions.Count;
        for (var j = 0; j <= rows; j++)
        for (var i = 0; i <= columns; i++)
        {
            var (p, n, uv) = point(i / (float)columns, j / (float)rows);
            positions.Add(p);
            normals.Add(n);
            uvs.Add(uv);
        }
        for (var j = 0; j < rows; j++)
        for (var i = 0; i < columns; i++)
        {
            int a = first + j * (columns + 1) + i,
                b = a + 1,
                c = a + columns + 1,
                d = c + 1;
            Triangle(a, b, d);
            Triangle(a, d, c);
        }
    }

    private void Triangle(int a, int b, int c)
    {
        if (Vector3.Cross(positions[b] - positions[a], positions[c] - positions[a]).LengthSquared() < 1e-18f)
            return;
        indices.AddRange([a, b, c]);
    }

    public Mesh Mesh(string part, bool isSheet = false)
    {
        parts.Insert(0, (part, 0));
        return Mesh(isSheet);
    }

    public Mesh Mesh(bool isSheet = false) =>
        new Mesh
        {
            IsSheet = isSheet,
            Positions = [.. positions],
            Normals = [.. normals],
            Uvs = [.. uvs],
            Indices = [.. indices],
            Parts =
            [
                .. parts.Select((p, i) => (p.Name, p.First, (i + 1 < parts.Count ? parts[i + 1].First : indices.Count / 3) - p.First)),
            ],
        }.WithTangents();
}
