using System.Collections.Immutable;
using Kiln.Intake.Naming;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Intake.Sets;

/// <summary>Groups pictures into surfaces: names and content vote, what siblings share decides between ways of reading a name.</summary>
public sealed class SetGrouping(NamingTables tables, string deliveryName, IReadOnlyDictionary<string, ImageBuffer>? reliefCopies = null)
{
    private readonly UnlabelledPictures unlabelled = new(reliefCopies ?? ImmutableDictionary<string, ImageBuffer>.Empty);

    private sealed class Growing(string folder, string key, NamedPicture first)
    {
        public string Folder => folder;

        public string Key => key;

        public NamedPicture First => first;

        public List<NamedPicture> Pictures { get; } = [];

        public List<PlacedMap> Placed { get; } = [];

        public List<string> Previews { get; } = [];
    }

    public List<MapSet> Group(IReadOnlyList<DeliveredPicture> pictures, out List<LooseFile> unsorted, List<LooseFile> setAside)
    {
        unsorted = [];
        var names = new SurfaceNames(tables);
        var named = names.Read(pictures);
        var sets = new Dictionary<(string, string), Growing>();
        foreach (var picture in named.Where(n => n.Candidate is not null && !n.Picture.Name.IsPreview))
            SetOf(picture.Folder, picture.Key, picture).Pictures.Add(picture);
        Growing SetOf(string folder, string key, NamedPicture first)
        {
            if (!sets.TryGetValue((folder, key), out var set))
                sets[(folder, key)] = set = new(folder, key, first);
            return set;
        }
        var byFolder = sets.Values.ToLookup(s => s.Folder);
        foreach (var picture in named.Where(n => n.Picture.Name.IsPreview))
        {
            setAside.Add(new(picture.Picture.File.Path, "preview picture, kept as a reference to compare with", picture.Picture.Map));
            Nearest(byFolder, picture)?.Previews.Add(picture.Picture.File.Path);
        }
        foreach (var set in sets.Values)
        foreach (var picture in set.Pictures)
            set.Placed.AddRange(Placing.FromName(picture));
        Unnamed(named.Where(n => n.Candidate is null && !n.Picture.Name.IsPreview).ToList(), byFolder, sets, SetOf, unsorted, setAside);
        var finished = sets
            .Values.Where(s => s.Placed.Count > 0)
            .OrderBy(s => s.Folder, StringComparer.Ordinal)
            .ThenBy(s => s.Key, StringComparer.Ordinal)
            .Select(s =>
                (
                    Set: new MapSet(DisplayName(s.First), [.. s.Placed], [], [.. s.Previews])
                    {
                        Tags = SurfaceTags.Of(DisplayName(s.First), s.Folder, tables),
                    },
                    s.Folder,
                    s.Key,
                    Variant: s.First.Candidate?.Variant
                )
            )
            .ToList();
        return Distinct(SetVariants.Share(finished));
    }

    /// <summary>Names that claim nothing: previews beside a base colour, else whatever the pixels tell.</summary>
    private void Unnamed(
        List<NamedPicture> pictures,
        ILookup<string, Growing> byFolder,
        Dictionary<(string, string), Growing> sets,
        Func<string, string, NamedPicture, Growing> setOf,
        List<LooseFile> unsorted,
        List<LooseFile> setAside
    )
    {
        foreach (var folder in pictures.GroupBy(p => p.Folder))
        {
            var waiting = new Dictionary<Growing, List<NamedPicture>>();
            void Wait(Growing set, NamedPicture picture)
            {
                if (!waiting.TryGetValue(set, out var list))
                    waiting[set] = list = [];
                list.Add(picture);
            }
            var alone = new List<NamedPicture>();
            foreach (var picture in folder)
            {
                var near = Nearest(byFolder, picture);
                var content = picture.Picture.Evidence;
                if (IsPreview(picture, near, byFolder[folder.Key]))
                {
                    near?.Previews.Add(picture.Picture.File.Path);
                    setAside.Add(
                        new(
                            picture.Picture.File.Path,
                            "named like the surface itself beside a base colour map: taken as a preview picture, kept as a reference",
                            picture.Picture.Map
                        )
                    );
                }
                else if (content is null)
                    unsorted.Add(new(picture.Picture.File.Path, "the name says nothing", picture.Picture.Map));
                else if (near is not null)
                    Wait(near, picture);
                else
                    alone.Add(picture);
            }
            foreach (var (picture, key) in Kindred(alone, unsorted))
                Wait(setOf(folder.Key, key, picture), picture);
            foreach (var (set, list) in waiting)
            {
                foreach (var (picture, reason) in unlabelled.Place(list, set.Placed))
                    unsorted.Add(new(picture.Picture.File.Path, reason, picture.Picture.Map));
                unsorted.AddRange(LoneGuesses(set));
            }
        }
    }

    /// <summary>
    /// Pictures that belong to no named surface, each with what its own surface is called by. Of a heap of several surfaces, what each
    /// normal map and base colour is can be told; what lies with it cannot.
    /// </summary>
    private static IEnumerable<(NamedPicture Picture, string Key)> Kindred(List<NamedPicture> alone, List<LooseFile> unsorted)
    {
        foreach (var group in Together(alone))
        {
            var isHeap = group.Count(p => p.Picture.Evidence is { MayBeNormal: true }) > 1 || group.Count(IsColour) > 1;
            foreach (var picture in group)
                if (!isHeap)
                    yield return (picture, group.Key);
                else if (picture.Picture.Evidence is { MayBeNormal: true } || IsColour(picture))
                    yield return (picture, picture.Picture.File.Path);
                else
                    unsorted.Add(
                        new(
                            picture.Picture.File.Path,
                            "a name that says nothing, among pictures of several surfaces: please put it with its own",
                            picture.Picture.Map
                        )
                    );
        }
    }

    /// <summary>A single guess about a measurement is no surface: it waits on the tray, with what it looks like.</summary>
    private static List<LooseFile> LoneGuesses(Growing set)
    {
        if (set.Placed.Count == 0 || set.Pictures.Count > 0 || !set.Placed.All(m => m.Asks && m.Role.Kind() == ReadingKind.Scalar))
            return [];
        List<LooseFile> loose =
        [
            .. set
                .Placed.GroupBy(m => m.Path)
                .Select(g => new LooseFile(g.Key, string.Join("; ", g.SelectMany(m => m.Evidence).Distinct()), g.First().File)),
        ];
        set.Placed.Clear();
        return loose;
    }

    /// <summary>
    /// A colour picture named like a surface that has its base colour, or like the beginning of several: what downloads show the surface
    /// with.
    /// </summary>
    private static bool IsPreview(NamedPicture picture, Growing? near, IEnumerable<Growing> folder)
    {
        if (picture.Picture.Evidence is not (null or { IsGrey: false, IsNormal: false }))
            return false;
        if (near is null)
            return picture.Key.Length > 2 && folder.Any(s => s.Key.StartsWith(picture.Key, StringComparison.Ordinal));
        return (picture.Picture.Name.MayBePreview || picture.Key == near.Key) && near.Placed.Any(m => m.Role == MapRole.BaseColor);
    }

    private static bool IsColour(NamedPicture picture) =>
        picture.Picture.Evidence
            is { IsGrey: false, MayBeNormal: false, LooksPacked: false, IsConstant: false, IsObjectSpaceNormal: false };

    /// <summary>
    /// Pictures whose names differ in numbers only lie together; so do few pictures of a folder in which no name says anything.
    /// </summary>
    private static IEnumerable<IGrouping<string, NamedPicture>> Together(List<NamedPicture> alone)
    {
        var numbered = alone.GroupBy(p => string.Concat(p.Key.Where(c => !char.IsDigit(c) && c != '_'))).ToList();
        var oneSet =
            alone.Count <= 12
            && alone.Count(p => p.Picture.Evidence is { IsNormal: true }) <= 1
            && alone.Select(p => (p.Picture.Facts.Width, p.Picture.Facts.Height)).Distinct().Count() == 1
            && alone.Count(p => p.Picture.Evidence is { IsGrey: false, IsNormal: false, LooksPacked: false }) <= 1;
        return oneSet ? alone.GroupBy(_ => "") : numbered;
    }

    /// <summary>The set of the same folder whose key begins the picture's name (longest first), or the folder's only set.</summary>
    private static Growing? Nearest(ILookup<string, Growing> byFolder, NamedPicture picture)
    {
        // A previews folder was left out of the surface's folder already; one folder up is looked at too.
        var here = byFolder[picture.Folder].ToList();
        if (here.Count == 0 && picture.Folder.Contains('/'))
            here = [.. byFolder[picture.Folder[..picture.Folder.LastIndexOf('/')]]];
        return here.Where(s => s.Key.Length > 0 && picture.Key.StartsWith(s.Key, StringComparison.Ordinal))
            .OrderByDescending(s => s.Key.Length)
            .FirstOrDefault()
            ?? (here.Count == 1 ? here[0] : null);
    }

    private string DisplayName(NamedPicture picture)
    {
        if (picture.Surface is { Length: > 0 } surface)
            return surface;
        var folder = picture.Folder.Split('/')[^1];
        return
            string.Join('_', NameTokens.Split(folder.Length > 0 ? Path.GetFileNameWithoutExtension(folder) : deliveryName))
                is { Length: > 0 } name
            ? name
            : "surface";
    }

    /// <summary>Sets are told apart by name everywhere: two of one name get their folder, then a number.</summary>
    private static List<MapSet> Distinct(List<(MapSet Set, string Folder)> sets)
    {
        var taken = new HashSet<string>();
        var result = new List<MapSet>();
        foreach (var (set, folder) in sets)
        {
            var name = set.Name;
            if (taken.Contains(name) && folder.Length > 0)
                name = string.Join('_', NameTokens.Split(folder.Split('/')[^1])) + "_" + name;
            for (var n = 2; !taken.Add(name); n++)
                name = $"{set.Name}_{n}";
            result.Add(set with { Name = name });
        }
        return result;
    }
}
