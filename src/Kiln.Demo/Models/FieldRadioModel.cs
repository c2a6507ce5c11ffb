using System.Numerics;

namespace Kiln.Demo.Models;

/// <summary>
/// The Fenn FR-2 as a model: a body in three UDIM tiles, speaker cloth, tuning window, knob and four feet of one shape, in metres, Y up:
/// as OBJ and as USD, whose materials name pictures that are nowhere, and complete as one file.
/// </summary>
internal static class FieldRadioModel
{
    private const int Corner = 10;

    /// <summary>Tiles of the body's front, side and back: 1001, 1002, 1011.</summary>
    private static readonly Vector2[] BodyTiles = [new(0, 0), new(1, 0), new(0, 1)];

    private static readonly Vector2[] OneTile = [default, default, default];

    private static readonly string[] Materials = ["anodisedBody", "cloth", "amber", "knurledSteel", "rubberFoot"];

    public static byte[] Obj() => ObjText.Obj("Fenn FR-2", "fr2.mtl", Parts(BodyTiles));

    public static byte[] Mtl() =>
        ObjText.Mtl(
            "Paths of a machine that is long gone.",
            Materials.Select(name => new DemoMaterial(
                name,
                [
                    ("baseColor", $"D:\\jobs\\fr2\\maps\\{name}_colour.png"),
                    ("roughness", $"D:\\jobs\\fr2\\maps\\{name}_roughness.png"),
                    ("normal", $"D:\\jobs\\fr2\\maps\\{name}_normal.png"),
                ]
            ))
        );

    /// <summary>As one file that is complete: its pictures are in it, the body's sides over each other on one.</summary>
    /// <param name="pictures">PNG by material and role: baseColor, packed (roughness in green, metalness in blue), normal.</param>
    public static byte[] Glb(Func<string, string, byte[]?> pictures) => GlbBytes.Of(Parts(OneTile), Materials, pictures);

    /// <summary>With what stands on its front as subsets of one mesh, each bound to its material; its pictures are nowhere.</summary>
    public static byte[] Usda()
    {
        var parts = Parts(BodyTiles);
        return UsdaText.Of(
            "fr2",
            [("body", [parts[0]]), ("front", [.. parts[1..4]]), .. parts[4..].Select(f => (f.Name, new[] { f }))],
            Materials.Select(name => new DemoMaterial(
                name,
                [("baseColor", $"./tex/fr2_{name}_diffuse.png"), ("roughness", $"./tex/fr2_{name}_rough.png")]
            ))
        );
    }

    private static List<DemoPart> Parts(Vector2[] body)
    {
        var parts = new List<DemoPart>
        {
            Slab("body", "anodisedBody", new(0, 0.095f, 0), new(0.24f, 0.15f, 0.07f), 0.022f, body),
            Slab("speakerCloth", "cloth", new(-0.055f, 0.095f, 0.0365f), new(0.1f, 0.1f, 0.003f), 0.05f, OneTile),
            Slab("tuning_window", "amber", new(0.06f, 0.13f, 0.0365f), new(0.085f, 0.028f, 0.003f), 0.006f, OneTile),
            Slab("knob", "knurledSteel", new(0.06f, 0.075f, 0.046f), new(0.05f, 0.05f, 0.022f), 0.025f, OneTile),
        };
        for (var foot = 0; foot < 4; foot++)
            parts.Add(
                Slab(
                    $"foot_{foot + 1}",
                    "rubberFoot",
                    new(foot % 2 == 0 ? -0.09f : 0.09f, 0.01f, foot < 2 ? -0.02f : 0.02f),
                    new(0.022f, 0.022f, 0.02f),
                    0.011f,
                    OneTile,
                    lies: true
                )
            );
        return parts;
    }

    /// <summary>A plate with round corners: front, rim and back.</summary>
    /// <param name="size">Of the front, and from front to back.</param>
    /// <param name="tiles">Where the UVs of front, rim and back begin.</param>
    /// <param name="lies">Its front looks upwards instead of forwards.</param>
    private static DemoPart Slab(
        string name,
        string material,
        Vector3 middle,
        Vector3 size,
        float radius,
        Vector2[] tiles,
        bool lies = false
    )
    {
        var part = DemoPart.Named(name, material);
        var outline = Outline(size.X, size.Y, radius);
        int Ring(float z) => part.Add(outline.Select(p => middle + (lies ? new Vector3(p.X, z, -p.Y) : new Vector3(p.X, p.Y, z))));
        var (front, back) = (Ring(size.Z / 2), Ring(-size.Z / 2));
        var frontPlaces = part.Add(outline.Select(p => tiles[0] + Inset(p.X / size.X + 0.5f, p.Y / size.Y + 0.5f)));
        var backPlaces = part.Add(outline.Select(p => tiles[2] + Inset(0.5f - p.X / size.X, p.Y / size.Y + 0.5f)));
        // Once around, the first corner again at the end of the picture.
        var around = Enumerable.Range(0, outline.Count + 1).Select(i => (float)i / outline.Count).ToList();
        var near = part.Add(around.Select(u => tiles[1] + Inset(u, 1)));
        var far = part.Add(around.Select(u => tiles[1] + Inset(u, 0)));
        part.Face(Enumerable.Range(0, outline.Count).Select(i => (front + i, frontPlaces + i)));
        part.Face(Enumerable.Range(0, outline.Count).Reverse().Select(i => (back + i, backPlaces + i)));
        for (var i = 0; i < outline.Count; i++)
        {
            var next = (i + 1) % outline.Count;
            part.Face([(front + i, near + i), (back + i, far + i), (back + next, far + i + 1), (front + next, near + i + 1)]);
        }
        return part;
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
