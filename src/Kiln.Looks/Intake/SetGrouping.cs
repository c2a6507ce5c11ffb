using Kiln.Looks.Readings;

namespace Kiln.Looks.Intake;

/// <summary>Groups pictures into surfaces: names and content vote, what siblings share decides between ways of reading a name.</summary>
public sealed class SetGrouping(NamingTables tables, string deliveryName)
{
    private sealed record Vote(DeliveredPicture Picture, string Folder, NameCandidate? Candidate, float Confidence, List<string> Evidence);

    public List<MapSet> Group(List<DeliveredPicture> pictures, out List<LooseFile> unsorted, List<LooseFile> setAside)
    {
        unsorted = [];
        var byFolder = pictures.GroupBy(p => SurfaceFolder(p.File.Path)).ToList();
        var votes = byFolder.SelectMany(folder => folder.Select(p => NameVote(p, folder.Key, [.. folder]))).ToList();
        var sets = new List<MapSet>();
        foreach (var group in votes.GroupBy(v => (v.Folder, Surface(v).ToLowerInvariant())).OrderBy(g => g.Key))
        {
            var placed = new List<PlacedMap>();
            var previews = new List<string>();
            var named = group.Where(v => v.Candidate is not null).ToList();
            foreach (var vote in group.OrderBy(v => v.Candidate is null))
                if (vote.Picture.Name.IsPreview)
                {
                    previews.Add(vote.Picture.File.Path);
                    setAside.Add(new(vote.Picture.File.Path, "preview picture, kept as a reference to compare with", vote.Picture.Map));
                }
                else if (vote.Candidate is not null)
                    placed.AddRange(FromName(vote));
                else if (FromContent(vote, placed) is { } map)
                    placed.Add(map);
                else if (named.Count > 0 && vote.Picture.Evidence is { IsGrey: false, IsNormal: false } && placed.Any(m => m.Role == MapRole.BaseColor))
                {
                    previews.Add(vote.Picture.File.Path);
                    setAside.Add(new(vote.Picture.File.Path, "named like the surface itself beside a base colour map: taken as a preview picture", vote.Picture.Map));
                }
                else
                    unsorted.Add(new(vote.Picture.File.Path, Unplaced(vote.Picture.Evidence), vote.Picture.Map));
            if (placed.Count > 0)
                sets.Add(new(DisplayName(group.First()), [.. placed], [], [.. previews]));
        }
        return sets;
    }

    private Vote NameVote(DeliveredPicture picture, string folder, List<DeliveredPicture> siblings)
    {
        var best = picture.Name.Candidates
            .Select(c => (Candidate: c, Shares: siblings.Count(s => s != picture && s.Name.Candidates.Any(o => o.Surface == c.Surface && o.Claim != c.Claim))))
            .OrderByDescending(c => c.Candidate.Claim.Strength * c.Candidate.Position + Math.Min(0.4f, 0.1f * c.Shares) + 0.06f * c.Candidate.Phrase.Count(ch => ch == ' '))
            .ThenByDescending(c => c.Candidate.Phrase.Length)
            .ToList();
        if (best.Count == 0)
            return new(picture, folder, null, 0, []);
        var (chosen, shares) = best[0];
        // A metal or gloss word inside the surface's name only competes where it would claim another role as well placed.
        var rival = best.Skip(1).FirstOrDefault(c => c.Candidate.Claim != chosen.Claim && c.Candidate.Position >= chosen.Position && c.Shares >= shares && !chosen.Phrase.Contains(c.Candidate.Phrase));
        var confidence = (chosen.Claim.Strength, chosen.Position) switch { ( >= 1f, 1f) => 0.98f, ( >= 0.9f, 1f) => 0.97f, ( >= 0.8f, _) => 0.93f, _ => 0.86f };
        confidence += shares >= 2 && confidence < 0.9f ? 0.06f : 0;
        if (rival.Candidate is not null)
            confidence -= 0.12f;
        var evidence = new List<string> { $"the name says {Words(chosen.Claim)} (“{chosen.Phrase}”)" };
        if (shares > 0)
            evidence.Add($"{shares} other file{(shares == 1 ? "" : "s")} share the surface name “{chosen.Surface}”");
        if (rival.Candidate is not null)
            evidence.Add($"it could also be {Words(rival.Candidate.Claim)} (“{rival.Candidate.Phrase}”)");
        return new(picture, folder, chosen, confidence, evidence);
    }

    private static IEnumerable<PlacedMap> FromName(Vote vote)
    {
        var (claim, content, facts) = (vote.Candidate!.Claim, vote.Picture.Evidence, vote.Picture.Facts);
        if (claim.Packed is { } packed)
        {
            foreach (var (channel, role) in packed)
            {
                if (channel == "a" && !facts.HasAlpha)
                    continue;
                var fits = content.IsGrey && !content.IsConstant && channel != "a"
                    ? (0.6f, "but all channels are the same, so it does not look packed")
                    : (vote.Confidence, channel == "rgb" ? "colour with data in alpha" : $"packed: {role.Words()} in channel {channel}");
                yield return Place(vote, role, channel, Math.Min(vote.Confidence, fits.Item1), [.. vote.Evidence, fits.Item2]);
            }
            yield break;
        }
        var stated = claim.Role!.Value;
        var (agreed, confidence, note) = Agree(stated, vote.Candidate.Phrase, vote.Confidence, content, facts.Channels.Count);
        yield return Place(vote, agreed, null, confidence, note is null ? vote.Evidence : [.. vote.Evidence, note]);
        if (agreed == MapRole.BaseColor && content.AlphaSpread > 0.02f)
            yield return Place(vote, MapRole.Opacity, "a", 0.9f, ["the alpha of the base colour file varies, so it carries opacity"]);
    }

    /// <summary>What the pixels say to a role that the name claims.</summary>
    private static (MapRole Role, float Confidence, string? Note) Agree(MapRole role, string phrase, float confidence, ContentEvidence content, int channels)
    {
        if (role == MapRole.SpecularColor && phrase is not ("specular color" or "specular colour" or "spec color"))
            return content.IsGrey
                ? (MapRole.SpecularLevel, Math.Min(confidence, 0.7f), $"“{phrase}” means different things in the trade and the picture is grey: specular level is proposed, please confirm")
                : (MapRole.SpecularColor, Math.Min(confidence, 0.93f), "it has colour, so it is specular colour in sRGB");
        if (role == MapRole.Normal && content.IsObjectSpaceNormal)
            return (role, 0.4f, "but its directions point every way: an object-space normal map, not tangent space");
        return role.Kind() switch
        {
            ReadingKind.Direction when !content.IsNormal && channels >= 3 => (role, Math.Min(confidence, content.IsConstant ? 0.9f : 0.5f), "but its pixels are no unit vectors"),
            ReadingKind.Direction => (role, confidence, "its pixels are unit vectors around straight out"),
            ReadingKind.Scalar when content.IsNormal && !content.IsConstant => (role, 0.45f, "but the picture looks like a normal map"),
            ReadingKind.Scalar when content.Chroma > 0.06f => (role, Math.Min(confidence, 0.6f), "but the picture has colour, which a measurement has not"),
            ReadingKind.Colour when content.IsNormal => (role, 0.45f, "but the picture looks like a normal map"),
            ReadingKind.Scalar => (role, confidence, "the picture is grey, as a measurement is"),
            _ => (role, confidence, content.IsGrey ? null : "the picture has colour"),
        };
    }

    private static PlacedMap? FromContent(Vote vote, List<PlacedMap> placed)
    {
        var content = vote.Picture.Evidence;
        if (content.IsNormal && !content.IsConstant && placed.All(m => m.Role != MapRole.Normal))
            return Place(vote, MapRole.Normal, null, 0.92f, ["the name says nothing; the pixels are unit vectors around straight out, as in a tangent-space normal map"]);
        if (!content.IsGrey && !content.IsNormal && !content.LooksPacked && placed.All(m => m.Role != MapRole.BaseColor))
            return Place(vote, MapRole.BaseColor, null, 0.75f, ["the name says nothing; the picture has colour, so it may be the base colour"]);
        return null;
    }

    private static string Unplaced(ContentEvidence content) => content switch
    {
        { IsConstant: true } => "one even value and a name that says nothing: please place it",
        { IsObjectSpaceNormal: true } => "an object-space normal map, which is never used as a tangent-space one",
        { LooksPacked: true } => "three unrelated channels, so probably packed data, and a name that does not say which",
        { IsGrey: true } => "a grey picture and a name that says nothing: it could be any measurement",
        _ => "a colour picture that fits nowhere: please place it",
    };

    private static PlacedMap Place(Vote vote, MapRole role, string? channel, float confidence, IEnumerable<string> evidence)
    {
        var (facts, name) = (vote.Picture.Facts, vote.Picture.Name);
        var normalY = role == MapRole.Normal ? name.NormalY : null;
        var reading = UsualReading.Of(role, facts, channel, normalY);
        return new(vote.Picture.File.Path, role, reading.Channel, reading, normalY, null, facts.Width, facts.Height, facts.Bits, facts.IsFloat, name.Udim, confidence, [.. evidence], vote.Picture.Map, name.Level);
    }

    private static string Words(NameClaim claim) => claim.Role is { } role ? role.Words() : "packed " + string.Join(", ", claim.Packed!.Values.Select(r => r.Words()));

    private static string Surface(Vote vote) => vote.Candidate?.Surface ?? vote.Picture.Name.BareSurface;

    /// <summary>The folder that belongs to the surface: parts that only say a size, a format or “textures” are left out.</summary>
    private string SurfaceFolder(string path)
    {
        var parts = path.Split('/')[..^1];
        return string.Join('/', parts.Where(p => !Technical(p)));
    }

    private bool Technical(string part)
    {
        var tokens = NameTokens.Split(part);
        for (var i = 0; i < tokens.Count; i++)
        {
            var next = i + 1 < tokens.Count ? tokens[i + 1] : "";
            if (NameTokens.Resolution(tokens[i], next, out _, out var used) || NameTokens.Bits(tokens[i], next, out _, out used))
                i += used - 1;
            else if (!tables.Words.Contains(tokens[i]) && tokens[i] is not ("maps" or "png" or "jpg" or "jpeg" or "exr" or "tif" or "tiff" or "images" or "files" or "previews" or "preview"))
                return false;
        }
        return true;
    }

    private string DisplayName(Vote vote)
    {
        if (Surface(vote) is { Length: > 0 } surface)
            return surface;
        var folder = vote.Folder.Split('/')[^1];
        return folder.Length > 0 ? string.Join('_', NameTokens.Split(Path.GetFileNameWithoutExtension(folder))) : string.Join('_', NameTokens.Split(deliveryName));
    }

}
