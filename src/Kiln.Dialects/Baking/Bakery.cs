using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Writing;

namespace Kiln.Dialects.Baking;

/// <summary>One channel group of a baked file: which node, and in which channels its value goes ("rgb" or one of r g b a).</summary>
public sealed record BakePart(string Channels, int Node);

/// <summary>A baked file and the placement under which it has to be read.</summary>
/// <param name="Width">Of the real thing; the file is smaller where it was made for a preview.</param>
public sealed record BakedMap(MapFile File, Placement Placement, int Width, int Height);

/// <summary>What a baked map is to be.</summary>
/// <param name="Space">The space colours are written in (encoded), raw for data and directions.</param>
/// <param name="Rule">What the dialect's files may be: size, bits, powers of two.</param>
/// <param name="KeepsPlacement">Whether the target can express the maps' common placement by itself.</param>
/// <param name="GreenDown">Whether directions are encoded with green pointing down.</param>
public sealed record BakeTarget(string Name, ColourSpace Space, TextureRule Rule, Func<Placement, bool> KeepsPlacement, bool GreenDown);

/// <summary>
/// Renders graph nodes into files. Maps that all lie under one placement are baked in the picture's own coordinates and keep the placement;
/// others are baked over the unit square of the surface.
/// </summary>
/// <param name="files">Null for one that bakes nothing new: who tries out many looks in passing does with what was baked before.</param>
/// <param name="before">Remembers what was baked; null for no memory.</param>
public sealed class Bakery(MapTextures maps, IBakedFiles? files, int? longest = null, BakedBefore? before = null)
{
    /// <exception cref="PictureException">A map cannot be read.</exception>
    /// <exception cref="LookException">It would have to be baked, and there is no place for it.</exception>
    public async Task<BakedMap> BakeAsync(ShadeGraph graph, IReadOnlyList<BakePart> parts, BakeTarget into, CancellationToken cancel)
    {
        var plan = Planned(graph, parts, into);
        var key = before is null ? "" : BakedBefore.Key(plan.Graph, plan.Parts, into, $"{plan.Width}x{plan.Height}");
        if (files is null)
            return before?.Find(key) is { } known
                ? known with
                {
                    Placement = plan.Placement,
                }
                : throw new LookException($"{into.Name} would have to be baked into a file.");
        var ready = await ShadeProgram.LoadAsync(plan.Graph, plan.Parts.Select(p => p.Node), maps, longest, cancel);
        var map = new BakedMap(Tiles(plan, ready, into), plan.Placement, plan.FullWidth, plan.FullHeight);
        before?.Put(key, map);
        return map;
    }

    /// <summary>What is rendered of which graph, how large, in how many bits.</summary>
    private sealed record Plan(
        ShadeGraph Graph,
        IReadOnlyList<BakePart> Parts,
        Placement Placement,
        int Width,
        int Height,
        int FullWidth,
        int FullHeight,
        SampleType Bits
    )
    {
        public bool IsLinear => Bits == SampleType.F16;

        public PictureFormat Format => IsLinear ? PictureFormat.OpenExr : PictureFormat.Png;

        public ImageBuffer Empty =>
            new(
                Width,
                Height,
                Parts.Any(p => p.Channels == "a") ? ImageBuffer.Rgba
                    : Parts is [{ Channels: "y" }] ? ImageBuffer.Grey
                    : ImageBuffer.Rgb,
                Bits
            );
    }

    private Plan Planned(ShadeGraph graph, IReadOnlyList<BakePart> parts, BakeTarget into)
    {
        var needed = graph.Needed(parts.Select(p => p.Node)).Select(n => graph[n]).ToList();
        var lookups = needed.Where(n => n.Image is not null).Select(n => n.Image!).ToList();
        var noises = needed.Where(n => n.Noise is not null).Select(n => n.Noise!).ToList();
        var common = lookups.Select(l => l.Placement).Concat(noises.Select(n => n.Placement)).Distinct().ToList();
        // A blur is as wide as it is on the surface, so it cannot be moved into the picture's own coordinates.
        var placement =
            common.Count == 1 && into.KeepsPlacement(common[0]) && needed.All(n => n.Op != ShadeOp.Blur) ? common[0] : Placement.Identity;
        var program = placement.IsIdentity ? null : new Replacement(graph);
        var placed = placement.IsIdentity && common.Any(p => !p.IsIdentity);
        var (width, height) = Size(lookups, noises, placed, into.Rule, longest);
        var (fullWidth, fullHeight) = Size(lookups, noises, placed, into.Rule, null);
        return new(
            program?.Graph ?? graph,
            [.. parts.Select(p => p with { Node = program?.Node(p.Node) ?? p.Node })],
            placement,
            width,
            height,
            fullWidth,
            fullHeight,
            Stored(graph[parts[0].Node].Type == ShadeType.Colour, into.Space, into.Rule, lookups)
        );
    }

    /// <summary>The file, or one for each UDIM tile.</summary>
    private MapFile Tiles(Plan plan, ShadeProgram ready, BakeTarget into)
    {
        var ending = plan.Format.Extension();
        if (ready.Tiles is not [_, _, ..])
            return Rendered(plan, ready, into, null, into.Name + ending);
        // A tile that one of the maps lacks is made all the same: what is missing there looks missing there.
        var made = ready
            .Tiles.Select(number => (Number: number, File: Rendered(plan, ready, into, number, $"{into.Name}.{number}{ending}")))
            .ToList();
        return made[0].File with { Tiles = [.. made.Select(m => new MapTile(m.Number, m.File.Content, m.File.Name))] };
    }

    private MapFile Rendered(Plan plan, ShadeProgram ready, BakeTarget into, int? tile, string fileName)
    {
        var picture = plan.Empty;
        Fill(picture, 1f);
        foreach (var part in plan.Parts)
        {
            var type = plan.Graph[part.Node].Type;
            Write(
                picture,
                ready.Picture(part.Node, plan.Width, plan.Height, type, tile: tile),
                type,
                part.Channels,
                plan.Graph.Working.Space,
                into.Space,
                into.GreenDown
            );
        }
        using var stream = new MemoryStream();
        var chromaticities = plan.IsLinear ? into.Space.Primaries!.Chromaticities : null;
        plan.Format.Write(stream, picture, new(longest is null ? Compression : PreviewCompression, Chromaticities: chromaticities));
        var bytes = stream.ToArray();
        stream.Position = 0;
        return MapFile.Of(files!.Put(bytes), fileName, HeaderReader.Read(stream, DecodeLimits.Default));
    }

    /// <summary>
    /// Colours in a linear space need more than integers hold; everything else keeps the bits it came with, as far as the dialect reads
    /// them.
    /// </summary>
    private static SampleType Stored(bool isColour, ColourSpace space, TextureRule rule, List<ImageLookup> lookups) =>
        isColour && space is { IsLinear: true, IsRaw: false } ? SampleType.F16
        : (isColour ? rule.ColourBits > 8 : rule.DataBits > 8 && (lookups.Count == 0 || lookups.Max(l => l.File.Bits) > 8)) ? SampleType.U16
        : SampleType.U8;

    /// <summary>
    /// Strength of PNG compression. 5 makes a map of 4K at most a twentieth larger than 6 (smooth ones; rough ones not at all) in two
    /// thirds of the time, and still no larger than oiiotool's; previews are written once, read once.
    /// </summary>
    private const int Compression = 5,
        PreviewCompression = 1;

    /// <summary>Texels for the finest cell of a noise.</summary>
    private const int TexelsPerCell = 8;

    private static (int Width, int Height) Size(
        List<ImageLookup> lookups,
        IEnumerable<PlacedNoise> noises,
        bool placed,
        TextureRule rule,
        int? longest
    )
    {
        var limit = Math.Min(rule.Largest, longest ?? rule.Largest);
        var wanted = lookups
            .Select(l => (Width: (float)l.File.Width, Height: (float)l.File.Height, l.Placement))
            .Concat(
                noises.Select(n => (Width: FinestCells(n.Field) * TexelsPerCell, Height: FinestCells(n.Field) * TexelsPerCell, n.Placement))
            )
            .ToList();
        if (wanted.Count == 0)
            return (4, 4);
        float width = wanted.Max(l => l.Width * (placed ? MathF.Max(1, l.Placement.RepeatsU) : 1)),
            height = wanted.Max(l => l.Height * (placed ? MathF.Max(1, l.Placement.RepeatsV) : 1));
        var scale = MathF.Min(1, limit / MathF.Max(width, height));
        return (Side(width * scale), Side(height * scale));

        // The nearest power that loses nothing and stays within the limit.
        int Side(float wantedSide)
        {
            var side = Math.Max(1, (int)wantedSide);
            return rule.PowerOfTwo
                ? Math.Min(
                    (int)System.Numerics.BitOperations.RoundUpToPowerOf2((uint)side),
                    1 << System.Numerics.BitOperations.Log2((uint)limit)
                )
                : side;
        }
    }

    private static float FinestCells(NoiseField noise) =>
        noise.Cells * (noise.Kind == NoiseKind.Fractal ? MathF.Pow(2, Math.Min(noise.Octaves, 6) - 1) : 1);

    private static void Fill(ImageBuffer picture, float value)
    {
        var row = Enumerable.Repeat(value, picture.Width * picture.ChannelCount).ToArray();
        for (var y = 0; y < picture.Height; y++)
            picture.WriteRow(y, row);
    }

    private static void Write(
        ImageBuffer picture,
        ImageBuffer values,
        ShadeType type,
        string channels,
        ColourSpace working,
        ColourSpace space,
        bool greenDown
    )
    {
        var encode = ColourTransform.Between(working, space);
        var n = picture.ChannelCount;
        Parallel.For(0, picture.Height, y =>
        {
            var source = new float[values.Width * values.ChannelCount];
            var target = new float[picture.Width * n];
            values.ReadRow(y, source);
            picture.ReadRow(y, target);
            for (var x = 0; x < picture.Width; x++)
            {
                if (type == ShadeType.Scalar)
                {
                    var at = channels == "y" ? 0 : "rgba".IndexOf(channels, StringComparison.Ordinal);
                    target[x * n + at] = source[x];
                    continue;
                }
                var v = new Vector3(source[3 * x], source[3 * x + 1], source[3 * x + 2]);
                v =
                    type == ShadeType.Colour
                        ? encode.Apply(space.IsLinear ? v : Vector3.Max(v, Vector3.Zero))
                        : (Vector3.Normalize(greenDown ? v with { Y = -v.Y } : v) + Vector3.One) * 0.5f;
                (target[x * n], target[x * n + 1], target[x * n + 2]) = (v.X, v.Y, v.Z);
            }
            picture.WriteRow(y, target);
        });
    }

    /// <summary>A copy of a graph in which every lookup lies unplaced.</summary>
    private sealed class Replacement
    {
        private readonly Dictionary<int, int> moved = [];

        public Replacement(ShadeGraph from)
        {
            Graph = new(from.Working);
            for (var i = 0; i < from.Nodes.Count; i++)
            {
                var node = from[i] with { Inputs = [.. from[i].Inputs.Select(k => moved[k])] };
                moved[i] = Graph.Add(
                    node switch
                    {
                        ImageNode image => new ImageNode(image.Lookup with { Placement = Placement.Identity }),
                        NoiseNode noise => new NoiseNode(noise.Placed with { Placement = Placement.Identity }),
                        _ => node,
                    }
                );
            }
        }

        public ShadeGraph Graph { get; }

        public int Node(int node) => moved[node];
    }
}
