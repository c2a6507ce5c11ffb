using Kiln.Intake.Content;
using Kiln.Intake.Naming;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Intake.Sets;

/// <summary>Finds the roles of pictures whose names say nothing, from their pixels and from the maps that lie beside them.</summary>
internal sealed class UnlabelledPictures(IReadOnlyDictionary<string, ImageBuffer> reliefCopies)
{
    /// <summary>
    /// Share of the normal map's slopes that a height explains: asked about above the first, placed unasked above the second where no other
    /// picture comes near.
    /// </summary>
    private const float MayBeHeight = 0.85f,
        IsHeight = 0.97f,
        Margin = 0.08f;

    /// <summary>Places what can be placed among <paramref name="placed"/>; the rest is returned with the reason why not.</summary>
    public List<(NamedPicture Picture, string Reason)> Place(IReadOnlyList<NamedPicture> pictures, List<PlacedMap> placed)
    {
        var left = new List<(NamedPicture, string)>();
        Dictionary<string, float>? heights = null;
        bool Has(MapRole role, int? tile) => placed.Any(m => m.Role == role && m.Udim == tile);
        // What is certain first: it helps to tell the rest.
        foreach (var picture in pictures.OrderBy(p => Order(p.Picture.Evidence!)).ThenBy(p => p.Picture.File.Path, StringComparer.Ordinal))
        {
            var content = picture.Picture.Evidence!;
            var tile = picture.Picture.Name.Udim;
            if (content is { MayBeNormal: true, IsConstant: false })
            {
                if (Has(MapRole.Normal, tile))
                    left.Add((picture, "looks like a normal map, but the set has one already"));
                else
                    placed.Add(
                        Placing.Place(
                            picture,
                            MapRole.Normal,
                            null,
                            !content.IsNormal ? 0.89f
                                : content.NormalLikeness > 0.95f || content.IsTwoChannelNormal ? 0.97f
                                : 0.93f,
                            [
                                content.IsTwoChannelNormal
                                    ? "the name says nothing; its two channels stay within the unit disc around the middle, as in "
                                        + "a normal map without blue"
                                    : "the name says nothing; the pixels are unit vectors around straight out, as in a "
                                        + "tangent-space normal map",
                            ]
                        )
                    );
            }
            else if (content.IsObjectSpaceNormal)
                left.Add((picture, "an object-space normal map, which is never used as a tangent-space one"));
            else if (content.IsConstant)
                left.Add((picture, "one even value and a name that says nothing: please place it"));
            else if (!content.IsGrey && !content.LooksPacked)
            {
                if (Has(MapRole.BaseColor, tile))
                    left.Add((picture, "a colour picture, but the set has a base colour already: please place it"));
                else
                    placed.Add(
                        Placing.Place(
                            picture,
                            MapRole.BaseColor,
                            null,
                            content.Chroma > 0.03f && content.Kind == ContentKind.Colour ? 0.96f : 0.89f,
                            ["the name says nothing; the picture has colour whose channels share their edges, so it is the base colour"]
                        )
                    );
            }
            else if (content.LooksPacked)
                placed.AddRange(Packed(picture));
            else if (Grey(picture, placed, heights ??= Explained(pictures, placed)) is { } guess && !Has(guess.Role, tile))
                placed.Add(Placing.Place(picture, guess.Role, null, guess.Confidence, [guess.Why]));
            else
                left.Add((picture, "a grey picture and a name that says nothing: it could be any measurement"));
        }
        return left;
    }

    private static int Order(ContentEvidence content) =>
        content switch
        {
            { IsNormal: true } => 0,
            { MayBeNormal: true } => 1,
            { IsGrey: false, LooksPacked: false } => 1,
            { LooksPacked: true } => 2,
            _ => 3,
        };

    /// <summary>How much of the slopes of its tile's normal map each grey picture explains as a height.</summary>
    private Dictionary<string, float> Explained(IReadOnlyList<NamedPicture> pictures, List<PlacedMap> placed)
    {
        var result = new Dictionary<string, float>();
        foreach (var picture in pictures.Where(p => p.Picture.Evidence is { IsGrey: true, IsConstant: false }))
            if (
                placed.FirstOrDefault(m => m.Role == MapRole.Normal && m.Udim == picture.Picture.Name.Udim) is { } normal
                && reliefCopies.TryGetValue(normal.Path, out var slopes)
                && reliefCopies.TryGetValue(picture.Picture.File.Path, out var height)
                && NormalDirection.ExplainedByHeight(slopes, height) is { } share
            )
                result[picture.Picture.File.Path] = share;
        return result;
    }

    private static (MapRole Role, float Confidence, string Why)? Grey(
        NamedPicture picture,
        List<PlacedMap> placed,
        Dictionary<string, float> heights
    )
    {
        var content = picture.Picture.Evidence!;
        var path = picture.Picture.File.Path;
        if (heights.TryGetValue(path, out var share) && share > MayBeHeight && share >= heights.Values.Max())
        {
            // Cavity, occlusion and roughness made from a height follow it too; only one that leaves nothing over, and alone does so, is
            // it.
            var others = heights.Where(h => h.Key != path).Select(h => h.Value).DefaultIfEmpty(0).Max();
            return share > IsHeight && others < share - Margin
                ? (
                    MapRole.Height,
                    0.96f,
                    $"its slopes explain {share:P0} of the normal map's, and no other picture comes near, so it is the height"
                )
                : (
                    MapRole.Height,
                    0.78f,
                    $"its slopes explain {share:P0} of the normal "
                        + $"map's{(others >= share - Margin ? $", another picture's {others:P0}" : "")}: a height, or a map made from "
                        + "it; please confirm"
                );
        }
        if (content.IsTwoValued(0))
            return (MapRole.Metalness, 0.55f, "nearly all black or white: metalness, opacity or a mask; please say which");
        if (content.Mean[0] > 0.8f && content.BrightShare[0] > 0.3f)
            return (MapRole.AmbientOcclusion, 0.55f, "bright with dark crevices, as occlusion is: please confirm");
        return content.Deviation[0] > 0.01f && placed.All(m => m.Role is not (MapRole.Roughness or MapRole.Glossiness))
            ? (MapRole.Roughness, 0.45f, "a grey picture; roughness is the measurement the set lacks: please confirm")
            : null;
    }

    /// <summary>Three unrelated channels: what each may be, by its values; always asked.</summary>
    private static IEnumerable<PlacedMap> Packed(NamedPicture picture)
    {
        var content = picture.Picture.Evidence!;
        var open = new List<MapRole> { MapRole.Metalness, MapRole.AmbientOcclusion, MapRole.Roughness };
        var order = Enumerable
            .Range(0, 3)
            .OrderByDescending(c => content.IsTwoValued(c) || content.Deviation[c] < 0.004f)
            .ThenByDescending(c => content.Mean[c])
            .ToList();
        var roles = new MapRole[3];
        roles[order[0]] =
            content.IsTwoValued(order[0]) || content.Deviation[order[0]] < 0.004f && content.Mean[order[0]] < 0.5f
                ? MapRole.Metalness
                : MapRole.AmbientOcclusion;
        open.Remove(roles[order[0]]);
        roles[order[1]] =
            content.Mean[order[1]] > 0.6f && open.Contains(MapRole.AmbientOcclusion) ? MapRole.AmbientOcclusion
            : open.Contains(MapRole.Roughness) ? MapRole.Roughness
            : open[0];
        open.Remove(roles[order[1]]);
        roles[order[2]] = open[^1];
        for (var c = 0; c < 3; c++)
            yield return Placing.Place(
                picture,
                roles[c],
                MapChannels.At(c),
                0.5f,
                [
                    $"three channels that have little to do with each other, so packed data; channel {"rgb"[c]} looks most like "
                        + $"{roles[c].Label()}: please confirm",
                ]
            );
    }
}
