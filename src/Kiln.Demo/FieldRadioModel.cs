using System.Globalization;
using System.Numerics;
using System.Text;

namespace Kiln.Demo;

/// <summary>
/// The Fenn FR-2 as a model: a body in three UDIM tiles, speaker cloth, tuning window, knob and four feet of one shape, in metres, Y up, as
/// OBJ. Its materials name pictures that are nowhere.
/// </summary>
internal static class FieldRadioModel
{
    private const int Corner = 10;

    /// <summary>Tiles of the body's front, side and back: 1001, 1002, 1011.</summary>
    private static readonly Vector2[] BodyTiles = [new(0, 0), new(1, 0), new(0, 1)];

    private static readonly Vector2[] OneTile = [default, default, default];

    public static byte[] Obj()
    {
        var writer = new Writer();
        writer.Text.Append("# Fenn FR-2. Made up for the demo.\nmtllib fr2.mtl\n");
        writer.Slab("body", "anodisedBody", new(0, 0.095f, 0), new(0.24f, 0.15f, 0.07f), 0.022f, BodyTiles);
        writer.Slab("speakerCloth", "cloth", new(-0.055f, 0.095f, 0.0365f), new(0.1f, 0.1f, 0.003f), 0.05f, OneTile);
        writer.Slab("tuning_window", "amber", new(0.06f, 0.13f, 0.0365f), new(0.085f, 0.028f, 0.003f), 0.006f, OneTile);
        writer.Slab("knob", "knurledSteel", new(0.06f, 0.075f, 0.046f), new(0.05f, 0.05f, 0.022f), 0.025f, OneTile);
        for (var foot = 0; foot < 4; foot++)
            writer.Slab(
                $"foot_{foot + 1}",
                "rubberFoot",
                new(foot % 2 == 0 ? -0.09f : 0.09f, 0.01f, foot < 2 ? -0.02f : 0.02f),
                new(0.022f, 0.022f, 0.02f),
                0.011f,
                OneTile,
                lies: true
            );
        return Encoding.ASCII.GetBytes(writer.Text.ToString());
    }

    public static byte[] Mtl()
    {
        var text = new StringBuilder("# Paths of a machine that is long gone.\n");
        foreach (var name in new[] { "anodisedBody", "cloth", "amber", "knurledSteel", "rubberFoot" })
            text.Append($"newmtl {name}\nKd 0.5 0.5 0.5\nmap_Kd D:\\jobs\\fr2\\maps\\{name}_colour.png\n");
        return Encoding.ASCII.GetBytes(text.ToString());
    }

    private sealed class Writer
    {
        public readonly StringBuilder Text = new();
        private int corners,
            places;

        /// <summary>A plate with round corners: front, rim and back.</summary>
        /// <param name="size">Of the front, and from front to back.</param>
        /// <param name="tiles">Where the UVs of front, rim and back begin.</param>
        /// <param name="lies">Its front looks upwards instead of forwards.</param>
        public void Slab(string name, string material, Vector3 middle, Vector3 size, float radius, Vector2[] tiles, bool lies = false)
        {
            Text.Append(CultureInfo.InvariantCulture, $"o {name}\nusemtl {material}\n");
            var outline = Outline(size.X, size.Y, radius);
            var (front, back) = (corners, corners + outline.Count);
            foreach (var z in new[] { size.Z / 2, -size.Z / 2 })
            foreach (var p in outline)
            {
                var v = middle + (lies ? new Vector3(p.X, z, -p.Y) : new Vector3(p.X, p.Y, z));
                Text.Append(CultureInfo.InvariantCulture, $"v {v.X:0.######} {v.Y:0.######} {v.Z:0.######}\n");
                corners++;
            }
            var frontPlaces = Places(outline.Select(p => tiles[0] + Inset(p.X / size.X + 0.5f, p.Y / size.Y + 0.5f)));
            var backPlaces = Places(outline.Select(p => tiles[2] + Inset(0.5f - p.X / size.X, p.Y / size.Y + 0.5f)));
            // Once around, the first corner again at the end of the picture.
            var around = Enumerable.Range(0, outline.Count + 1).Select(i => (float)i / outline.Count).ToList();
            var near = Places(around.Select(u => tiles[1] + Inset(u, 1)));
            var far = Places(around.Select(u => tiles[1] + Inset(u, 0)));
            Face(Enumerable.Range(0, outline.Count).Select(i => (front + i, frontPlaces + i)));
            Face(Enumerable.Range(0, outline.Count).Reverse().Select(i => (back + i, backPlaces + i)));
            for (var i = 0; i < outline.Count; i++)
            {
                var next = (i + 1) % outline.Count;
                Face([(front + i, near + i), (back + i, far + i), (back + next, far + i + 1), (front + next, near + i + 1)]);
            }
        }

        private int Places(IEnumerable<Vector2> uvs)
        {
            var first = places;
            foreach (var uv in uvs)
            {
                Text.Append(CultureInfo.InvariantCulture, $"vt {uv.X:0.#####} {uv.Y:0.#####}\n");
                places++;
            }
            return first;
        }

        private void Face(IEnumerable<(int Corner, int Place)> face)
        {
            Text.Append('f');
            foreach (var (corner, place) in face)
                Text.Append(CultureInfo.InvariantCulture, $" {corner + 1}/{place + 1}");
            Text.Append('\n');
        }
    }

    /// <summary>A hair within the tile, so that no corner counts to the next one.</summary>
    private static Vector2 Inset(float u, float v) => new(0.002f + 0.996f * u, 0.002f + 0.996f * v);

    /// <summary>Anticlockwise as seen from the front.</summary>
    private static List<Vector2> Outline(float width, float height, float radius)
    {
        var outline = new List<Vector2>();
        Vector2 inner = new(width / 2 - radius, height / 2 - radius);
        for (var corner = 0; corner < 4; corner++)
        {
            var centre = new Vector2(corner is 0 or 3 ? inner.X : -inner.X, corner < 2 ? inner.Y : -inner.Y);
            // Where two corners meet in one arc, their ends coincide and are said once.
            for (var i = 0; i <= Corner; i++)
            {
                var (sin, cos) = MathF.SinCos((corner + (float)i / Corner) * MathF.PI / 2);
                var p = centre + radius * new Vector2(cos, sin);
                if (outline.Count == 0 || Vector2.Distance(outline[^1], p) > 1e-5f && Vector2.Distance(outline[0], p) > 1e-5f)
                    outline.Add(p);
            }
        }
        return outline;
    }
}
