using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Analysis.Consistency;

/// <summary>What the looks of a collection are compared by.</summary>
/// <param name="BaseLuminance">Mean relative luminance of the base colour, 0..1.</param>
/// <param name="BaseSaturation">Chroma of the base colour in CIELAB over its lightness, averaged (the saturation that CIE 1976 defines for
/// CIELAB's sister space, here by CIELAB: C*/L*); 0 for greys.</param>
/// <param name="BaseLab">CIELAB (D65) of the mean base colour.</param>
/// <param name="Metalness">Mean, 0..1.</param>
/// <param name="RoughnessSpread">From the 5th to the 95th percentile.</param>
/// <param name="TexelDensity">Pixels to a metre of the coarsest map of colour, roughness or relief; null where no map has a size.</param>
/// <param name="LongestSide">Pixels of the largest map's longer side; 0 without maps.</param>
/// <param name="MapPixels">Of all maps together.</param>
public sealed record LookMeasures(
    float BaseLuminance,
    float BaseSaturation,
    float[] BaseLab,
    float Metalness,
    float RoughnessMean,
    float RoughnessSpread,
    float? TexelDensity,
    int LongestSide,
    long MapPixels,
    IReadOnlyList<string> Maps
)
{
    /// <summary>Points strewn over one repeat, and the side of the square that each stands for.</summary>
    private const int Points = 1024;
    private const float Footprint = 1f / 32;

    /// <summary>Whether the look counts as a metal for rules about base colours.</summary>
    public bool IsMetal => Metalness > 0.5f;

    /// <exception cref="PictureException">A map cannot be read.</exception>
    public static async Task<LookMeasures> OfAsync(
        Look look,
        MapTextures maps,
        WorkingSpace working,
        int? longest,
        CancellationToken cancel = default
    )
    {
        var graph = new ShadeGraph(working);
        var lanes = new LaneGraphs(look, graph, displaces: false);
        int[] nodes = [.. new[] { "base_color", "base_metalness", "specular_roughness" }.Select(name => lanes.Input(name)!.Value)];
        var program = await ShadeProgram.LoadAsync(graph, nodes, maps, longest, cancel);
        var registers = program.NewRegisters();
        var toXyz = ColourTransform.Between(working.Space, ColourSpace.CieXyzD65);
        var (luminance, saturation, metal) = (0.0, 0.0, 0.0);
        var mean = Vector3.Zero;
        var roughness = new float[Points];
        for (var i = 0; i < Points; i++)
        {
            program.Run(Strewn(i), Footprint, registers);
            var xyz = toXyz.Apply(Vector3.Max(registers[program.Register(nodes[0])], Vector3.Zero));
            var (l, a, b) = CieLab.Of(xyz);
            mean += xyz / Points;
            luminance += xyz.Y / Points;
            saturation += (l > 1 ? Math.Sqrt(a * a + b * b) / l : 0) / Points;
            metal += registers[program.Register(nodes[1])].X / Points;
            roughness[i] = registers[program.Register(nodes[2])].X;
        }
        Array.Sort(roughness);
        var lab = CieLab.Of(mean);
        var files = look.Slots.Values.Select(s => s.File).ToList();
        return new(
            (float)luminance,
            (float)saturation,
            [(float)lab.L, (float)lab.A, (float)lab.B],
            (float)metal,
            roughness.Average(),
            roughness[Points * 95 / 100] - roughness[Points * 5 / 100],
            Density(look),
            files.Count == 0 ? 0 : files.Max(f => Math.Max(f.Width, f.Height)),
            files.DistinctBy(f => f.Content).Sum(f => (long)f.Width * f.Height * (f.Tiles?.Count ?? 1)),
            [.. look.Slots.Values.Select(s => s.Role.Id())]
        );
    }

    /// <summary>
    /// Along u, with the repeats of the look's own placement; a tile of a tiled map spans one unit of UV as any picture does.
    /// </summary>
    private static float? Density(Look look)
    {
        var seen = look
            .Slots.Values.Where(s =>
                s.Role is MapRole.BaseColor or MapRole.Roughness or MapRole.Glossiness or MapRole.Normal or MapRole.Height
            )
            .ToList();
        return seen.Count == 0 ? null : seen.Min(s => s.File.Width * look.Placement.RepeatsU / look.SizeU);
    }

    /// <summary>Additive recurrence by the plastic number (Roberts 2018; from memory): even at every length.</summary>
    private static Vector2 Strewn(int i) => new((0.5f + 0.7548776662f * i) % 1f, (0.5f + 0.5698402910f * i) % 1f);
}
