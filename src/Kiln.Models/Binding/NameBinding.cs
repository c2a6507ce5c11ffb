namespace Kiln.Models.Binding;

/// <summary>A part and the set of maps that its names point at.</summary>
/// <param name="Confidence">0.9 to 1.</param>
public sealed record PartBinding(string Part, string Set, float Confidence, IReadOnlyList<string> Evidence);

/// <summary>A part whose names could mean several sets, or only nearly mean one.</summary>
public sealed record BindingQuestion(string Part, IReadOnlyList<string> Candidates);

/// <summary>What names say of which set belongs to which part.</summary>
/// <param name="Bindings">Made unasked.</param>
/// <param name="Unbound">Paths of parts that no set fits.</param>
/// <param name="UnusedSets">Sets that no part fits, nor is asked about.</param>
public sealed record BoundParts(
    IReadOnlyList<PartBinding> Bindings,
    IReadOnlyList<string> Unbound,
    IReadOnlyList<string> UnusedSets,
    IReadOnlyList<BindingQuestion> Questions
);

/// <summary>
/// Binds sets of maps to parts by the names of parts, of what they stand in, and of their materials. What is not sure is asked about;
/// a part and its material that point at different sets are, too. The numbers are common practice, no source.
/// </summary>
public sealed class NameBinding
{
    /// <summary>From here on a binding is made unasked.</summary>
    public const float Sure = 0.9f;

    /// <summary>Below this a name does not point at a set.</summary>
    private const float Asked = 0.6f;

    /// <summary>How near two sets must be for the part to be asked about.</summary>
    private const float Tie = 0.015f;

    private readonly List<(string Name, BoundName Whole, BoundName Own)> sets;

    public NameBinding(IEnumerable<string> names)
    {
        var whole = names.Distinct().Select(n => (Name: n, Whole: BoundName.Of(n))).ToList();
        var common = BoundName.Common([.. whole.Select(s => s.Whole)]);
        sets = [.. whole.Select(s => (s.Name, s.Whole, s.Whole.Without(common)))];
    }

    public BoundParts Of(IReadOnlyList<ModelPart> parts)
    {
        var common = BoundName.Common([.. parts.Select(p => BoundName.Of(p.Name))]);
        var (bindings, unbound, questions) = (new List<PartBinding>(), new List<string>(), new List<BindingQuestion>());
        foreach (var part in parts)
        {
            var found = Candidates(part, common);
            if (found.Count == 0)
                unbound.Add(part.Path);
            else if (found is [var best, ..] && best.Score >= Sure && !found.Skip(1).Any(f => f.Score >= best.Score - Tie || f.Contradicts))
                bindings.Add(new(part.Path, best.Set, best.Score, best.Evidence));
            else
                questions.Add(new(part.Path, [.. found.Select(f => f.Set)]));
        }
        // One thing and one set belong together, but nobody said so.
        if (sets is [var only] && bindings.Count == 0 && questions.Count == 0 && parts.Count == 1)
            (unbound, questions) = ([], [new(parts[0].Path, [only.Name])]);
        var used = bindings.Select(b => b.Set).Concat(questions.SelectMany(q => q.Candidates)).ToHashSet();
        return new(bindings, unbound, [.. sets.Select(s => s.Name).Where(n => !used.Contains(n))], questions);
    }

    private sealed record Candidate(string Set, float Score, IReadOnlyList<string> Evidence, bool Contradicts);

    /// <summary>Sets that the part's names point at, the likeliest first.</summary>
    private List<Candidate> Candidates(ModelPart part, IReadOnlySet<string> common)
    {
        var name = BoundName.Of(part.Name);
        var above = part.Path.Split('/', StringSplitOptions.RemoveEmptyEntries).SkipLast(1).Select(BoundName.Of).LastOrDefault();
        var names = new List<BoundName> { name, name.Without(common) };
        if (above is not null)
            names.AddRange([BoundName.Joined(above, name), above]);
        var material = part.Material is { } m && BoundName.Of(m) is { SaysSomething: true } said ? said : null;
        var byName = sets.Select(s =>
                names.Where(n => n.SaysSomething).Select((n, i) => Points(n, s, isAbove: n == above)).DefaultIfEmpty().MaxBy(p => p.Score)
            )
            .ToList();
        var byMaterial = sets.Select(s => material is null ? default : Points(material, s, isAbove: false)).ToList();
        var (bestName, bestMaterial) = (byName.Max(p => p.Score), byMaterial.Max(p => p.Score));
        var found = new List<Candidate>();
        for (var i = 0; i < sets.Count; i++)
        {
            var (ofName, ofMaterial) = (byName[i], byMaterial[i]);
            if (Math.Max(ofName.Score, ofMaterial.Score) < Asked)
                continue;
            List<string> evidence = [];
            if (ofName.Score >= Asked)
                evidence.Add($"part {ofName.Why}");
            if (ofMaterial.Score >= Asked)
                evidence.Add($"material {ofMaterial.Why}");
            var score = Math.Max(ofName.Score, ofMaterial.Score) + (evidence.Count > 1 ? 0.02f : 0);
            // The one that only the part's name, or only its material points at, while the other points elsewhere as surely.
            var contradicts =
                ofName.Score >= Strong && ofName.Score >= bestName && bestMaterial >= Strong && ofMaterial.Score < bestMaterial
                || ofMaterial.Score >= Strong && ofMaterial.Score >= bestMaterial && bestName >= Strong && ofName.Score < bestName;
            found.Add(new(sets[i].Name, Math.Min(score, 0.99f), evidence, contradicts));
        }
        return [.. found.OrderByDescending(f => f.Score).ThenBy(f => f.Set, StringComparer.Ordinal)];
    }

    /// <summary>As sure as a name must be to contradict another.</summary>
    private const float Strong = 0.8f;

    /// <summary>How surely a name points at a set, and why.</summary>
    private static (float Score, string Why) Points(BoundName name, (string Name, BoundName Whole, BoundName Own) set, bool isAbove)
    {
        var best = (Score: 0f, Why: "");
        foreach (var of in (BoundName[])[set.Whole, set.Own])
        {
            var found = Likeness(name, of);
            // What the set's names have in common tells no one from another.
            if (of != set.Whole)
                found.Score -= 0.01f;
            if (isAbove)
                found.Score -= 0.04f;
            if (found.Score > best.Score)
                best = found;
        }
        return (best.Score, $"“{name.Written}” {best.Why} set {set.Name}");
    }

    private static (float Score, string Why) Likeness(BoundName name, BoundName set)
    {
        if (name.Key == set.Key)
            return (0.97f, "has the name of");
        if (name.Words.Order().SequenceEqual(set.Words.Order()))
            return (0.95f, "has in another order the words of");
        if (name.KeyOfOne == set.KeyOfOne)
            return (0.94f, "has, one or many, the name of");
        if (name.KeyOfCopies is { } copies && copies == set.Key)
            return (0.93f, "is by its number a copy of what has the name of");
        // Numbers that differ tell things apart, however alike the rest is.
        var (ours, theirs) = (Numbers(name), Numbers(set));
        if (!ours.SetEquals(theirs) && ours.Count > 0 && theirs.Count > 0)
            return (0, "");
        var (longer, shorter) = name.Words.Count >= set.Words.Count ? (name.Words, set.Words) : (set.Words, name.Words);
        if (shorter.All(longer.Contains) && shorter.Any(w => w.Length > 2 && !w.All(char.IsDigit)))
            return (0.6f + 0.25f * shorter.Sum(w => w.Length) / longer.Sum(w => w.Length), "has words of");
        if (!ours.SetEquals(theirs))
            return (0, "");
        var (a, b) = (name.Key, set.Key);
        var apart = Distance(a, b);
        return Math.Min(a.Length, b.Length) switch
        {
            >= 5 when apart == 1 => (0.8f, "is but for a letter the name of"),
            >= 9 when apart == 2 => (0.7f, "is but for two letters the name of"),
            _ => (0, ""),
        };
    }

    private static HashSet<string> Numbers(BoundName name) => [.. name.Words.Where(w => w.All(char.IsDigit))];

    /// <summary>Letters to be changed, put in or taken out, or neighbours to be exchanged (Damerau 1964, restricted).</summary>
    private static int Distance(string a, string b)
    {
        if (Math.Abs(a.Length - b.Length) > 2)
            return 3;
        var d = new int[a.Length + 1, b.Length + 1];
        for (var i = 0; i <= a.Length; i++)
            d[i, 0] = i;
        for (var j = 0; j <= b.Length; j++)
            d[0, j] = j;
        for (var i = 1; i <= a.Length; i++)
        for (var j = 1; j <= b.Length; j++)
        {
            var cost = a[i - 1] == b[j - 1] ? 0 : 1;
            d[i, j] = Math.Min(Math.Min(d[i - 1, j] + 1, d[i, j - 1] + 1), d[i - 1, j - 1] + cost);
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                d[i, j] = Math.Min(d[i, j], d[i - 2, j - 2] + 1);
        }
        return d[a.Length, b.Length];
    }
}
