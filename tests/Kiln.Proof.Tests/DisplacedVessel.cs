using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>
/// The vessel moved by a height, against the same shape given as geometry: a surface of revolution with the height in its formula, as a
/// grid of its own with normals by differences.
/// </summary>
public class DisplacedVessel
{
    private const float Height = 0.006f;

    private static float Metres(Vector2 uv) => Height * MathF.Sin(2 * MathF.PI * 3 * uv.X) * MathF.Sin(2 * MathF.PI * 4 * uv.Y);

    /// <summary>The profile as the vessel's mesh has it: radius, height, normal and v of every ring, taken where the turn is 0.</summary>
    private static List<(Vector2 At, Vector2 Normal, float V)> Profile(Mesh vessel)
    {
        var rings = new List<(Vector2, Vector2, float)>();
        for (var i = 0; i < vessel.Positions.Length; i++)
            if (vessel.Uvs[i].X == 0)
                rings.Add(
                    (new(vessel.Positions[i].X, vessel.Positions[i].Y), new(vessel.Normals[i].X, vessel.Normals[i].Y), vessel.Uvs[i].Y)
                );
        return [.. rings.OrderBy(r => r.Item3)];
    }

    private static Mesh Given(Mesh vessel)
    {
        const int columns = 96 * 6,
            finer = 5;
        var profile = Profile(vessel);
        Vector3 At(float turns, float place)
        {
            var i = Math.Clamp((int)place, 0, profile.Count - 2);
            var f = place - i;
            var at = Vector2.Lerp(profile[i].At, profile[i + 1].At, f);
            var normal = Vector2.Normalize(Vector2.Lerp(profile[i].Normal, profile[i + 1].Normal, f));
            var v = profile[i].V + (profile[i + 1].V - profile[i].V) * f;
            var p = at + normal * Metres(new(2 * turns, v));
            var (sin, cos) = MathF.SinCos(2 * MathF.PI * turns);
            return new(p.X * cos, p.Y, -p.X * sin);
        }
        int rows = (profile.Count - 1) * finer;
        var (positions, normals, uvs, indices) = (new List<Vector3>(), new List<Vector3>(), new List<Vector2>(), new List<int>());
        for (var r = 0; r <= rows; r++)
        for (var c = 0; c <= columns; c++)
        {
            float turns = c / (float)columns,
                place = r / (float)finer;
            positions.Add(At(turns, place));
            // At the poles, where rings are points, the vessel's own normal stands.
            var across = At(turns + 0.001f, place) - At(turns - 0.001f, place);
            var along = At(turns, MathF.Min(place + 0.1f, profile.Count - 1)) - At(turns, MathF.Max(place - 0.1f, 0));
            var n = Vector3.Cross(across, along);
            normals.Add(
                n.Length() > 1e-9f
                    ? Vector3.Normalize(n)
                    : new(0, profile[Math.Min((int)place, profile.Count - 1)].Normal.Y < 0 ? -1 : 1, 0)
            );
            uvs.Add(new(2 * turns, 0));
            if (r == rows || c == columns)
                continue;
            int a = r * (columns + 1) + c,
                b = a + 1,
                d = a + columns + 1,
                e = d + 1;
            indices.AddRange([a, b, e, a, e, d]);
        }
        return new Mesh
        {
            Positions = [.. positions],
            Normals = [.. normals],
            Uvs = [.. uvs],
            Indices = [.. indices],
            Parts = [("pot", 0, indices.Count / 3)],
        }.WithTangents();
    }

    [Fact]
    public async Task LooksLikeTheSameShapeGivenAsGeometry()
    {
        var vessel = Forms.Vessel();
        var moved = Displacing.Move(vessel, new((uv, _) => Metres(uv), 1e-4f, 2, "vessel by sines"));
        var material = await Plain.MaterialAsync(
            "openpbr",
            ("base_color", Plain.Tint(0.5f, 0.4f, 0.3f)),
            ("specular_roughness", LookValue.Of(0.35f))
        );
        float[] Render(Mesh form)
        {
            var tracer = new PathTracer(
                new ProofScene(form, material, LightRoom.Named("lowsun"), framing: vessel),
                96,
                96,
                OrbitCamera.For("vessel")
            );
            tracer.Accumulate(48);
            return tracer.Picture().Samples<float>().ToArray();
        }
        float[] one = Render(moved),
            other = Render(Given(vessel)),
            flat = Render(vessel);
        double Between(float[] a, float[] b) =>
            Math.Sqrt(a.Zip(b, (x, y) => Math.Pow(Math.Min(x, 4) - Math.Min(y, 4), 2)).Average()) / b.Average(v => Math.Min(v, 4));
        // What is left is noise that falls differently on other triangles; the height itself changes the picture many times as much.
        double same = Between(one, other),
            height = Between(flat, other);
        Assert.True(same * 4 < height, $"moved against given {same:0.0000}, without the height {height:0.0000}");
    }
}
