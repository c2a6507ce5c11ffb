namespace Kiln.Intake.Naming;

/// <summary>A picture with the way its name is read, chosen among its siblings.</summary>
/// <param name="Folder">The folder that belongs to the surface; parts that only say a size, a format or “textures” are left out.</param>
/// <param name="Candidate">Null where the name claims nothing.</param>
public sealed record NamedPicture(
    DeliveredPicture Picture,
    string Folder,
    NameCandidate? Candidate,
    float Confidence,
    IReadOnlyList<string> Evidence
)
{
    /// <summary>By which pictures are put together.</summary>
    public string Key => Candidate?.Key ?? Picture.Name.BareKey;

    public string Surface => Candidate?.Surface ?? Picture.Name.BareSurface;
}

/// <summary>
/// Decides between the ways of reading each name. A role word inside a surface's name is no role: position, and what siblings share,
/// decide.
/// </summary>
public sealed class SurfaceNames(NamingTables tables)
{
    /// <summary>Two readings closer than this are a doubt.</summary>
    private const float Doubt = 0.1f;

    public List<NamedPicture> Read(IReadOnlyList<DeliveredPicture> pictures)
    {
        var named = new List<NamedPicture>();
        foreach (var folder in pictures.GroupBy(p => SurfaceFolder(p.File.Path)))
        {
            var siblings = WithoutCommonEnding(WithoutFalseTiles([.. folder]));
            // Surfaces by the number of different claims made for them: first by every possible reading, then by the chosen ones.
            var possible = Claims(siblings.SelectMany(p => p.Name.Candidates));
            var chosen = siblings.Select(p => Best(p, possible)).ToList();
            var settled = Claims(chosen.OfType<NameCandidate>());
            named.AddRange(siblings.Select(p => Decide(p, folder.Key, settled)));
        }
        return named;
    }

    private static Dictionary<string, HashSet<string>> Claims(IEnumerable<NameCandidate> candidates)
    {
        var claims = new Dictionary<string, HashSet<string>>();
        foreach (var c in candidates)
        {
            if (!claims.TryGetValue(c.Key, out var set))
                claims[c.Key] = set = [];
            set.Add(c.Claim.Key);
        }
        return claims;
    }

    private static int Shares(NameCandidate c, Dictionary<string, HashSet<string>> claims) =>
        claims.TryGetValue(c.Key, out var set) ? set.Count - (set.Contains(c.Claim.Key) ? 1 : 0) : 0;

    private static float Score(NameCandidate c, Dictionary<string, HashSet<string>> claims) =>
        c.Claim.Strength * c.Position + Math.Min(0.4f, 0.1f * Shares(c, claims)) + 0.06f * c.Phrase.Count(ch => ch == ' ');

    private static NameCandidate? Best(DeliveredPicture picture, Dictionary<string, HashSet<string>> claims) =>
        picture.Name.Candidates.OrderByDescending(c => Score(c, claims)).ThenByDescending(c => c.Phrase.Length).FirstOrDefault();

    private static NamedPicture Decide(DeliveredPicture picture, string folder, Dictionary<string, HashSet<string>> claims)
    {
        if (Best(picture, claims) is not { } chosen)
            return new(picture, folder, null, 0, []);
        var shares = Shares(chosen, claims);
        var confidence = (chosen.Claim.Strength, chosen.Position) switch
        {
            (>= 1f, 1f) => 0.985f,
            (>= 0.94f, 1f) => 0.975f,
            (>= 0.94f, >= 0.95f) => 0.96f,
            (>= 0.85f, >= 0.95f) => 0.93f,
            (>= 0.85f, _) => shares >= 2 ? 0.93f : 0.84f,
            _ => shares >= 2 ? 0.92f : 0.75f,
        };
        var rival = picture
            .Name.Candidates.Where(c =>
                c.Claim.Key != chosen.Claim.Key && !chosen.Phrase.Contains(c.Phrase) && !c.Phrase.Contains(chosen.Phrase)
            )
            .FirstOrDefault(c => Score(c, claims) > Score(chosen, claims) - Doubt);
        var evidence = new List<string>
        {
            chosen.FromFolder ? $"the folder's name says {chosen.Claim.Meaning} (“{chosen.Phrase}”)"
            : chosen.Claim.IsStudioRule ? $"a studio rule says {chosen.Claim.Meaning} (“{chosen.Phrase}”)"
            : $"the name says {chosen.Claim.Meaning} (“{chosen.Phrase}”)",
        };
        if (shares > 0)
            evidence.Add($"{shares} other map{(shares == 1 ? "" : "s")} share the surface name “{chosen.Surface}”");
        if (rival is not null)
        {
            confidence = Math.Min(confidence - 0.1f, 0.85f);
            evidence.Add($"it could also be {rival.Claim.Meaning} (“{rival.Phrase}”)");
        }
        return new(picture, folder, chosen, confidence, evidence);
    }

    /// <summary>A role word with which all names of a folder end (“…_METALNESS” for the whole workflow) says nothing of one map.</summary>
    private List<DeliveredPicture> WithoutCommonEnding(List<DeliveredPicture> pictures)
    {
        if (pictures.Count < 3)
            return pictures;
        var endings = pictures
            .Select(p => p.Name.Candidates.FirstOrDefault(c => c.Position >= 1 && !c.Phrase.Contains(' '))?.Phrase)
            .ToList();
        if (
            endings.Distinct().Count() != 1
            || endings[0] is not { } common
            || pictures.Count(p => p.Name.Candidates.Any(c => c.Position < 1)) < pictures.Count - 1
        )
            return pictures;
        return [.. pictures.Select(p => p with { Name = NameReading.Of(p.File.Path, tables, commonTail: common) })];
    }

    /// <summary>
    /// Four digits in the middle of a name are a tile only where they vary between siblings; else they belong to the surface's name.
    /// </summary>
    private List<DeliveredPicture> WithoutFalseTiles(List<DeliveredPicture> pictures)
    {
        var inner = pictures
            .Select(p => (Picture: p, Strict: p.Name.Udim is null ? p.Name : NameReading.Of(p.File.Path, tables, udimInside: false)))
            .ToList();
        var doubtful = inner.Where(p => p.Picture.Name.Udim is not null && p.Strict.Udim is null).ToList();
        if (doubtful.Count == 0)
            return pictures;
        // Real tiles: the same surface and claim come again with another number.
        var real = doubtful
            .SelectMany(p => p.Picture.Name.Candidates.Select(c => (c.Key, Claim: c.Claim.Key, p.Picture.Name.Udim)))
            .GroupBy(c => (c.Key, c.Claim))
            .Where(g => g.Select(c => c.Udim).Distinct().Count() > 1 || g.Any(c => c.Udim == 1001))
            .Select(g => g.Key.Key)
            .ToHashSet();
        // Stand-alone numbers that begin above the first row without a tile 1001 are numbering, not tiles.
        var first = doubtful.Any(p => p.Picture.Name.Udim <= 1010) && pictures.Any(p => p.Name.Udim == 1001);
        return
        [
            .. inner.Select(p =>
                p.Picture.Name.Udim is not null
                && p.Strict.Udim is null
                && !(first && p.Picture.Name.Candidates.Any(c => real.Contains(c.Key)))
                    ? p.Picture with
                    {
                        Name = p.Strict,
                    }
                    : p.Picture
            ),
        ];
    }

    public string SurfaceFolder(string path)
    {
        var parts = path.Split('/')[..^1];
        return string.Join('/', parts.Where(p => !Technical(p) && NameReading.FolderClaim(p, tables) is null));
    }

    /// <summary>Whether a folder's name says only a size, a format, a level, or nothing.</summary>
    public bool Technical(string part)
    {
        var tokens = NameTokens.Split(part);
        for (var i = 0; i < tokens.Count; i++)
            if (
                NameTokens.Resolution(tokens, i, out _, out var used)
                || NameTokens.Bits(tokens, i, out _, out used)
                || NameTokens.Level(tokens, i, out _, out used)
            )
                i += used - 1;
            else if (!tables.FillerWords.Contains(tokens[i]) && !tables.Folders.Contains(tokens[i]))
                return false;
        return true;
    }
}
