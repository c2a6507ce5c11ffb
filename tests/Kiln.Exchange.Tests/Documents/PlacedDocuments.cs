using System.Collections.Immutable;
using System.Globalization;
using System.Numerics;
using System.Text;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Networks;
using Kiln.Exchange.Tests.Conversion;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Usd;
using SharpGLTF.Schema2;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// Where a map lies, in documents as they are written: a textured square in every dialect under seven placements, worked out by the
/// standard's own definitions and defaults
/// (or the formula that a dialect's documentation states) and held, pixel by pixel, against the look's placement.
/// </summary>
public sealed class PlacedDocuments(Workshop shop) : IClassFixture<Workshop>
{
    private const int Size = 64,
        Points = 32;

    private static readonly (string Name, Placement Placement)[] Placements =
    [
        ("repeats", new(3, 3)),
        ("turn", new(RotationDegrees: 30)),
        ("unequal repeats", new(4, 1.5f)),
        ("offset", new(OffsetU: 0.13f, OffsetV: 0.27f)),
        ("mirror", new(2, 2, MirrorU: true)),
        ("all at once", new(2, 3, 30, 0.1f, 0.05f, MirrorU: true)),
        ("pivot", new(2, 2, 40, PivotU: 0.25f, PivotV: 0.75f)),
        ("scaled, then turned", new(4, 1.5f, PictureRotationDegrees: 25)),
    ];

    public static TheoryData<string> All => [.. Workshop.Dialects];

    /// <summary>Smooth, repeating, and symmetric in nothing, so that turns, flips and swaps all show.</summary>
    private static Vector3 Stored(float u, float v) =>
        new(
            0.5f + 0.3f * MathF.Sin(MathF.Tau * u),
            0.45f + 0.3f * MathF.Cos(MathF.Tau * (u + v)),
            0.4f + 0.25f * MathF.Sin(MathF.Tau * 2 * v)
        );

    private Look Look(Placement placement)
    {
        var picture = new ImageBuffer(Size, Size, ImageBuffer.Rgb, SampleType.U8);
        for (var y = 0; y < Size; y++)
        for (var x = 0; x < Size; x++)
        {
            var c = Stored((x + 0.5f) / Size, 1 - (y + 0.5f) / Size);
            (picture[x, y, 0], picture[x, y, 1], picture[x, y, 2]) = (c.X, c.Y, c.Z);
        }
        var file = shop.Store("square_basecolor.png", picture);
        return new Look
        {
            Name = "square",
            Placement = placement,
            Slots = ImmutableSortedDictionary<string, Slot>.Empty.Add("colour", new(MapRole.BaseColor, file, [file])),
            Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add(
                "base_color",
                new(Chain: new(new SlotOrigin("colour", new Reading(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb)), []))
            ),
        };
    }

    /// <summary>
    /// Where a point of the surface lies in the picture, v up: the placement's definition, written out anew. Rotation about the pivot,
    /// repeats, mirroring, then the picture's own rotation.
    /// </summary>
    private static Vector2 Defined(Placement p, Vector2 uv)
    {
        static Vector2 Back(Vector2 v, float degrees) =>
            MathF.SinCos(degrees * MathF.PI / 180) is var (sin, cos) ? new(cos * v.X + sin * v.Y, -sin * v.X + cos * v.Y) : default;
        var pivot = new Vector2(p.PivotU, p.PivotV);
        var at = (Back(uv - new Vector2(p.OffsetU, p.OffsetV) - pivot, p.RotationDegrees) + pivot) * new Vector2(p.RepeatsU, p.RepeatsV);
        return Back(new(p.MirrorU ? 1 - at.X : at.X, p.MirrorV ? 1 - at.Y : at.Y), p.PictureRotationDegrees);
    }

    /// <summary>Between the four texels around a point, repeating; coordinates with v up.</summary>
    private static Vector3 Bilinear(ImageBuffer picture, Vector2 uv)
    {
        float x = uv.X * picture.Width - 0.5f,
            y = (1 - uv.Y) * picture.Height - 0.5f;
        int x0 = (int)MathF.Floor(x),
            y0 = (int)MathF.Floor(y);
        Vector3 At(int i, int j) => new(Channel(i, j, 0), Channel(i, j, 1), Channel(i, j, 2));
        float Channel(int i, int j, int c) =>
            picture[((i % picture.Width) + picture.Width) % picture.Width, ((j % picture.Height) + picture.Height) % picture.Height, c];
        return Vector3.Lerp(
            Vector3.Lerp(At(x0, y0), At(x0 + 1, y0), x - x0),
            Vector3.Lerp(At(x0, y0 + 1), At(x0 + 1, y0 + 1), x - x0),
            y - y0
        );
    }

    /// <summary>In linear Rec.709: stored by sRGB's curve (IEC 61966-2-1), or by an exponent.</summary>
    private static Vector3 Linear(Vector3 stored, float? exponent)
    {
        float One(float v) =>
            exponent is { } e ? MathF.Pow(v, e)
            : v <= 0.04045f ? v / 12.92f
            : MathF.Pow((v + 0.055f) / 1.055f, 2.4f);
        return new(One(stored.X), One(stored.Y), One(stored.Z));
    }

    /// <summary>Where a written document reads its picture, by its own words, and the picture's file and coding.</summary>
    private sealed record Written(ImageBuffer Picture, float? Exponent, Func<Vector2, Vector2> At, bool IsAcesCg = false)
    {
        private static readonly ColourTransform FromAcesCg = ColourTransform.Between(ColourSpace.AcesCg, ColourSpace.LinRec709);

        public Vector3 Colour(Vector2 uv) =>
            IsAcesCg ? FromAcesCg.Apply(Bilinear(Picture, At(uv))) : Linear(Bilinear(Picture, At(uv)), Exponent);
    }

    private static ImageBuffer Decoded(string path) => DecodeWorker.InProcess(path, null, DecodeLimits.Default);

    private static Vector2 Pair(string? text, float missing) =>
        text?.Split(',').Select(v => float.Parse(v, CultureInfo.InvariantCulture)).ToArray() is [var u, var v] ? new(u, v) : new(missing);

    private static Vector2 Turned(Vector2 v, double radians) =>
        Math.SinCos(radians) is var (sin, cos) ? new((float)(cos * v.X - sin * v.Y), (float)(sin * v.X + cos * v.Y)) : default;

    private static Written OfDocument(string path, string dialect)
    {
        var folder = Path.GetDirectoryName(path)!;
        return dialect switch
        {
            "gltf" => OfGltf(path),
            "usd_preview" => OfUsd(path, folder),
            _ => OfStandIn(XDocument.Load(path).Root!, folder, dialect),
        };
    }

    /// <summary>
    /// KHR_texture_transform: T·R·S on coordinates with v down, R = (cos, sin; −sin, cos) (the extension's text; checked in a browser
    /// against another library by GltfInThree).
    /// </summary>
    private static Written OfGltf(string path)
    {
        var channel = ModelRoot.Load(path).LogicalMaterials[0].FindChannel("BaseColor")!.Value;
        var file = path + ".png";
        File.WriteAllBytes(file, channel.Texture.PrimaryImage.Content.Content.ToArray());
        var t = channel.TextureTransform;
        var (scale, rotation, offset) = t is null ? (Vector2.One, 0, Vector2.Zero) : (t.Scale, t.Rotation, t.Offset);
        return new(Decoded(file), null, uv =>
        {
            var q = Turned(new Vector2(uv.X, 1 - uv.Y) * scale, -rotation) + offset;
            return new(q.X, 1 - q.Y);
        });
    }

    /// <summary>
    /// UsdTransform2d of the USD preview surface specification: in · scale, rotated counter-clockwise by degrees, plus translation; its
    /// input and a texture's st are (0, 0) unless connected.
    /// </summary>
    private static Written OfUsd(string path, string folder)
    {
        var prims = UsdText.Parse(File.ReadAllText(path)).All.ToList();
        UsdPrim Behind(UsdProperty connected) =>
            prims.Single(p => p.Path == connected.Connection![..connected.Connection!.LastIndexOf('.')]);
        var texture = Behind(prims.Single(p => p.Find("info:id")?.Text == "UsdPreviewSurface").Find("inputs:diffuseColor")!);
        Vector2 Two(UsdPrim prim, string name, float missing) =>
            prim.Find("inputs:" + name)?.Numbers is [var x, var y] ? new((float)x, (float)y) : new(missing);
        Func<Vector2, Vector2> Coordinates(UsdProperty? port)
        {
            if (port?.Connection is null)
                return _ => Vector2.Zero;
            var prim = Behind(port);
            if (prim.Find("info:id")!.Text == "UsdPrimvarReader_float2")
                return prim.Find("inputs:varname")?.Text == "st" ? uv => uv : _ => Vector2.Zero;
            var inner = Coordinates(prim.Find("inputs:in"));
            var (scale, shift, degrees) = (
                Two(prim, "scale", 1),
                Two(prim, "translation", 0),
                prim.Find("inputs:rotation")?.Numbers?[0] ?? 0
            );
            return uv => Turned(inner(uv) * scale, degrees * Math.PI / 180) + shift;
        }
        Assert.Equal("sRGB", texture.Find("inputs:sourceColorSpace")!.Text);
        return new(Decoded(Path.Combine(folder, texture.Find("inputs:file")!.Text!)), null, Coordinates(texture.Find("inputs:st")));
    }

    /// <summary>The formulas that the stand-ins' table states (docs/dialect-profiles.md, "Where a map lies"), written out anew.</summary>
    private static Written OfStandIn(XElement document, string folder, string dialect)
    {
        var picture = document
            .Elements()
            .Single(e => e.Elements("input").Any(i => i.Attribute("type")!.Value == "filename" && i.Attribute("value") is not null));
        string? Of(XElement node, string name) =>
            node.Elements("input").FirstOrDefault(i => i.Attribute("name")!.Value == name)?.Attribute("value")?.Value;
        XElement? Placing(string port) =>
            picture.Elements("input").FirstOrDefault(i => i.Attribute("name")!.Value == port)?.Attribute("nodename")?.Value is { } name
                ? document.Elements().Single(e => e.Attribute("name")?.Value == name)
                : null;
        double Angle(XElement? node, string name) =>
            node is null || Of(node, name) is not { } text ? 0 : double.Parse(text, CultureInfo.InvariantCulture);
        var decoded = Decoded(
            Path.Combine(folder, picture.Elements("input").First(i => i.Attribute("type")!.Value == "filename").Attribute("value")!.Value)
        );
        Vector2 Down(Vector2 uv) => new(uv.X, 1 - uv.Y);
        switch (dialect)
        {
            case "bisque":
                var lay = Placing("where");
                var (count, slide, swing) = lay is null
                    ? (Vector2.One, Vector2.Zero, 0)
                    : (Pair(Of(lay, "count"), 1), Pair(Of(lay, "slide"), 0), Angle(lay, "swing") * Math.PI / 180);
                return new(decoded, null, uv => Down(Turned(Down(uv), swing) * count + slide), Of(picture, "read_as") == "acescg");
            case "celadon":
                var (span, nudge, swivel) = (Pair(Of(picture, "span"), 1), Pair(Of(picture, "nudge"), 0), Angle(picture, "swivel"));
                return new(decoded, float.Parse(Of(picture, "exponent")!, CultureInfo.InvariantCulture), uv =>
                    Turned(uv / span, swivel) + nudge
                );
            case "tenmoku":
                var set = Placing("spot");
                var (repeat, move, spin) = set is null
                    ? (Vector2.One, Vector2.Zero, 0)
                    : (Pair(Of(set, "repeat"), 1), Pair(Of(set, "move"), 0), Angle(set, "spin") * Math.PI / 180);
                return new(decoded, null, uv => Turned(uv - new Vector2(0.5f), -spin) * repeat + new Vector2(0.5f) + move);
            default:
                var (tiles, slip, turn) = (
                    Pair(Of(picture, "tiles"), 1),
                    Pair(Of(picture, "slip"), 0),
                    Angle(picture, "turn") * Math.PI / 180
                );
                return new(decoded, null, uv => Down(Turned(Down(uv), -turn) * tiles + slip));
        }
    }

    /// <summary>The largest difference of a channel over a grid of pixels, linear Rec.709.</summary>
    private async Task<(float Worst, bool Baked)> DifferenceAsync(string dialect, string name, Placement placement)
    {
        var compiled = await shop.CompileAsync(Look(placement), dialect);
        var document = Assert.Single(shop.Write(compiled.Network, $"placed {dialect} {name}"));
        var square = Decoded(shop.PathOf(Look(placement).Slots["colour"].File.Content));
        Func<Vector2, Vector3> written;
        if (dialect is "openpbr" or "standard_surface")
        {
            var folder = Path.GetDirectoryName(document)!;
            var standard = new StandardDocument(document, (path, space, at) =>
            {
                Assert.Equal("srgb_texture", space);
                var c = Linear(Bilinear(Decoded(Path.Combine(folder, path)), at), null);
                return [c.X, c.Y, c.Z];
            });
            written = uv =>
                standard.Surface(dialect == "openpbr" ? "open_pbr_surface" : "standard_surface", "base_color", uv) is var c
                    ? new((float)c[0], (float)c[1], (float)c[2])
                    : default;
        }
        else
        {
            written = OfDocument(document, dialect).Colour;
        }
        var worst = 0f;
        for (var i = 0; i < Points * Points; i++)
        {
            var uv = new Vector2((i % Points + 0.37f) / Points, (i / Points + 0.61f) / Points);
            var difference = Vector3.Abs(Linear(Bilinear(square, Defined(placement, uv)), null) - written(uv));
            worst = MathF.Max(worst, MathF.Max(difference.X, MathF.Max(difference.Y, difference.Z)));
        }
        return (worst, compiled.Report.Baked.Length > 0);
    }

    /// <summary>What the baked picture's own texels and bits may cost; a map that lies wrong differs by 0.3 and more.</summary>
    private const float Exact = 2e-4f,
        OfBaked = 0.045f;

    [Fact]
    public async Task EveryDocumentShowsEachPixelWhereTheLookDoes()
    {
        var table = new StringBuilder(
            $"| | {string.Join(" | ", Placements.Select(p => p.Name))} |\n|---|{string.Concat(Placements.Select(_ => "---|"))}\n"
        );
        var wrong = new List<string>();
        foreach (var dialect in Workshop.Dialects)
        {
            table.Append($"| {shop.Profiles.Find(dialect).Title} |");
            foreach (var (name, placement) in Placements)
            {
                var (worst, baked) = await DifferenceAsync(dialect, name, placement);
                table.Append(
                    worst < Exact / 2 && !baked
                        ? " 0 |"
                        : $" {worst.ToString("0.000", CultureInfo.InvariantCulture)}{(baked ? " baked" : "")} |"
                );
                if (worst > (baked ? OfBaked : Exact))
                    wrong.Add($"{dialect}, {name}: {worst}{(baked ? ", baked" : "")}");
            }
            table.Append('\n');
        }
        Assert.True(wrong.Count == 0, string.Join("\n", wrong) + "\n" + table);
        DocumentedTable.Holds(shop, "conversion.md", "placements", table.ToString());
    }

    /// <summary>The evaluator sees what it is for: a placement without coordinates is one colour all over.</summary>
    [Fact]
    public async Task APlacementWithoutCoordinatesIsOnePointByTheStandard()
    {
        var document = shop.Write((await shop.CompileAsync(Look(new(3, 3)), "openpbr")).Network, "without coordinates")[0];
        var text = Regex.Replace(
            File.ReadAllText(document),
            "<input name=\"texcoord\" type=\"vector2\" nodename=\"[^\"]*coordinates[^\"]*\" />",
            ""
        );
        File.WriteAllText(document, text);
        var standard = new StandardDocument(document, (path, _, at) => [at.X, at.Y]);
        Assert.Equal(
            standard.Surface("open_pbr_surface", "base_color", new(0.1f, 0.2f)),
            standard.Surface("open_pbr_surface", "base_color", new(0.8f, 0.7f))
        );
        // Ours reads it so too, and says it.
        var network = shop.Read(document, "openpbr");
        var back = await Dialects.Folding.NetworkReading.ReadAsync(shop.Profiles.Find("openpbr"), network);
        Assert.Contains(back.Remarks, r => r.Contains("one point", StringComparison.Ordinal));
        Assert.True(back.Placement.IsPoint || back.Lanes["base_color"].Chain!.Steps.OfType<PlaceStep>().Single().Placement.IsPoint);
    }

    /// <summary>
    /// Documents of others that scale before they turn come in as they are: the picture lies where the document's own formula puts it.
    /// </summary>
    [Theory]
    [MemberData(nameof(All))]
    public async Task ThereAndBackEveryPointLiesWhereItLay(string dialect)
    {
        foreach (var (name, placement) in Placements)
        {
            var compiled = await shop.CompileAsync(Look(placement), dialect);
            if (compiled.Report.Baked.Length > 0)
                continue;
            var back = await Dialects.Folding.NetworkReading.ReadAsync(
                shop.Profiles.Find(dialect),
                shop.Read(shop.Write(compiled.Network, $"and back {dialect} {name}")[0], dialect)
            );
            var again =
                back.Placement.IsIdentity && back.Lanes["base_color"].Chain!.Steps.FirstOrDefault() is PlaceStep place
                    ? place.Placement
                    : back.Placement;
            for (var i = 0; i < 40; i++)
            {
                var uv = new Vector2(i * 0.618034f % 1, i * 0.754878f % 1);
                var (a, b) = (Defined(placement, uv), Defined(again, uv));
                // Whole repeats do not matter to a repeating picture.
                Assert.True(
                    MathF.Abs(MathF.IEEERemainder(a.X - b.X, 1)) + MathF.Abs(MathF.IEEERemainder(a.Y - b.Y, 1)) < 1e-4f,
                    $"{dialect}, {name}, {uv}: {a} came back as {b}"
                );
            }
        }
    }
}
