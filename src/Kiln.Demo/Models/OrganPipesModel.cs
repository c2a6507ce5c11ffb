using System.Numerics;

namespace Kiln.Demo.Models;

/// <summary>
/// A row of organ pipes on a beam, in metres, Y up: three of one shape at places of their own, one of them with its islands mirrored, and a
/// beam without UVs; and a taller pipe in a file of its own whose numbers are centimetres. Their materials name pictures that are nowhere.
/// </summary>
internal static class OrganPipesModel
{
    private const int Around = 48;

    /// <summary>Radius and height of the pipe's outline, from the tip of its foot to the rim.</summary>
    private static readonly Vector2[] Outline =
    [
        new(0.012f, 0),
        new(0.06f, 0.26f),
        new(0.064f, 0.275f),
        new(0.064f, 0.3f),
        new(0.06f, 0.31f),
        new(0.06f, 1.56f),
        new(0.064f, 1.565f),
        new(0.064f, 1.6f),
    ];

    public static byte[] Row()
    {
        var pipe = Pipe(1, isMirrored: false);
        return ObjText.Obj(
            "A row of organ pipes",
            "organ_pipes.mtl",
            [
                pipe.At("pipe_1", p => p + new Vector3(-0.28f, 0.18f, 0)),
                pipe.At("pipe_2", p => p with { Y = 0.86f * p.Y } + new Vector3(0, 0.18f, 0)),
                Pipe(1, isMirrored: true).At("pipe_3", p => p with { Y = 0.74f * p.Y } + new Vector3(0.28f, 0.18f, 0)),
                Beam(),
            ]
        );
    }

    /// <summary>In centimetres, of which the format has no word.</summary>
    public static byte[] Tall() =>
        ObjText.Obj("A tall organ pipe", "organ_pipes.mtl", [Pipe(150, isMirrored: false).At("pipe_tall", p => p)]);

    public static byte[] Mtl() =>
        ObjText.Mtl(
            "Paths of a machine that is long gone.",
            new[] { ("verdigrisCopperPipe", "verdigris_copper_pipe"), ("saltWornBeam", "salt_worn_beam") }.Select(m => new DemoMaterial(
                m.Item1,
                [
                    ("baseColor", $"/mnt/breakwater/organ/tex/{m.Item2}_basecolor_1k.png"),
                    ("roughness", $"/mnt/breakwater/organ/tex/{m.Item2}_roughness_1k.png"),
                    ("normal", $"/mnt/breakwater/organ/tex/{m.Item2}_normal_1k.png"),
                ]
            ))
        );

    private static DemoPart Pipe(float scale, bool isMirrored)
    {
        var part = DemoPart.Named("pipe", "verdigrisCopperPipe");
        // As wide as its picture is high: once around is one picture.
        const float picture = 2 * MathF.PI * 0.06f;
        float along = 0;
        for (var ring = 0; ring < Outline.Length; ring++)
        {
            if (ring > 0)
                along += Vector2.Distance(Outline[ring - 1], Outline[ring]);
            var (r, y, v) = (Outline[ring].X, Outline[ring].Y, along / picture);
            var corners = part.Add(
                Enumerable
                    .Range(0, Around)
                    .Select(i => MathF.SinCos(2 * MathF.PI * i / Around))
                    .Select(a => scale * new Vector3(r * a.Cos, y, -r * a.Sin))
            );
            var places = part.Add(
                Enumerable.Range(0, Around + 1).Select(i => (float)i / Around).Select(u => new Vector2(isMirrored ? 1 - u : u, v))
            );
            if (ring == 0)
                continue;
            for (var i = 0; i < Around; i++)
            {
                var next = (i + 1) % Around;
                part.Face([
                    (corners - Around + i, places - Around - 1 + i),
                    (corners - Around + next, places - Around + i),
                    (corners + next, places + i + 1),
                    (corners + i, places + i),
                ]);
            }
        }
        return part;
    }

    private static DemoPart Beam()
    {
        var part = DemoPart.Named("beam", "saltWornBeam");
        var (x, y, z) = (0.5f, 0.18f, 0.09f);
        part.Positions.AddRange([
            new(-x, 0, z),
            new(x, 0, z),
            new(x, y, z),
            new(-x, y, z),
            new(-x, 0, -z),
            new(x, 0, -z),
            new(x, y, -z),
            new(-x, y, -z),
        ]);
        foreach (
            var face in (int[][])
                [
                    [0, 1, 2, 3],
                    [5, 4, 7, 6],
                    [4, 0, 3, 7],
                    [1, 5, 6, 2],
                    [3, 2, 6, 7],
                    [4, 5, 1, 0],
                ]
        )
            part.Face(face.Select(c => (c, 0)));
        return part;
    }
}
