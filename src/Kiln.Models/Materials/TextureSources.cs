using System.Text.RegularExpressions;
using Kiln.Intake;
using Kiln.Intake.Naming;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Models.Binding;
using Kiln.Models.Files;

namespace Kiln.Models.Materials;

/// <summary>What came in together, as pictures are looked for in it.</summary>
/// <param name="IsOwn">The model came with it.</param>
public sealed record SourceDelivery(string Name, IntakeResult Result, bool IsOwn);

/// <summary>A picture that may be the one a material names.</summary>
/// <param name="File">With its tiles.</param>
/// <param name="Maps">As intake placed it, one a tile; empty where it is placed nowhere.</param>
/// <param name="Score">0..1; from <see cref="Sure"/> on it is the picture for all that can be known.</param>
/// <param name="From">What it came with, and the surface it belongs to there.</param>
public sealed record TextureSource(MapFile File, IReadOnlyList<PlacedMap> Maps, float Score, string Reason, string From)
{
    public const float Sure = 0.9f;

    /// <summary>Whether it is the same picture by its path or name; another one of the same surface may have its roles in other
    /// channels.</summary>
    public bool IsSame { get; init; }

    /// <summary>The picture for a texture: in the channel that the material says, where it is the same one.</summary>
    public NamedPicture For(ModelTexture texture) => new(IsSame ? texture : texture with { Channel = null }, File, Maps);
}

/// <summary>
/// Finds the pictures that a model's materials name: where the path says, by the name, and where no file has it, by the surface that the
/// name speaks of among surfaces that are known; these last are proposals. The scores are common practice, no source.
/// </summary>
public sealed partial class TextureSources
{
    private const float AtThePath = 1,
        BesideIt = 0.95f,
        SameName = 0.9f,
        OtherEnding = 0.8f,
        SameSurface = 0.75f,
        NearSurface = 0.65f;

    private const int Most = 8;

    private readonly NamingTables tables;
    private readonly string folder;
    private readonly List<Known> known = [];
    private readonly List<RejectedFile> rejected;
    private readonly ILookup<string, Known> byName,
        byStem;
    private readonly NameBinding surfaces;

    /// <param name="Paths">Of all its tiles.</param>
    private sealed record Known(
        MapFile File,
        IReadOnlyList<PlacedMap> Maps,
        string? Surface,
        SourceDelivery In,
        IReadOnlyList<string> Paths
    )
    {
        /// <summary>In small letters; of a picture in tiles that of all of them too.</summary>
        public IReadOnlyList<string> Keys { get; } =
        [
            .. Paths
                .Select(p => p.ToLowerInvariant())
                .Concat(Maps.Any(m => m.Udim is not null) ? Paths.Select(p => Tileless(p).ToLowerInvariant()) : [])
                .Distinct(),
        ];
    }

    /// <param name="deliveries">The likelier first.</param>
    /// <param name="modelPath">Of the model's file in its own delivery.</param>
    public TextureSources(IReadOnlyList<SourceDelivery> deliveries, string modelPath, NamingTables tables)
    {
        this.tables = tables;
        folder = modelPath.Contains('/') ? modelPath[..modelPath.LastIndexOf('/')] : "";
        foreach (var delivery in deliveries)
        {
            AddTiles(delivery);
            Add(delivery);
        }
        byName = known.SelectMany(k => k.Keys.Select(NameOf).Distinct().Select(n => (n, k))).ToLookup(p => p.n, p => p.k);
        byStem = known.SelectMany(k => k.Keys.Select(n => StemOf(NameOf(n))).Distinct().Select(n => (n, k))).ToLookup(p => p.n, p => p.k);
        rejected = [.. deliveries.Where(d => d.IsOwn).SelectMany(d => d.Result.Rejected)];
        surfaces = new(known.Select(k => k.Surface).OfType<string>());
    }

    /// <summary>Tiles that intake took for several surfaces, since their names say nothing of what they are: a path may mean all of
    /// them.</summary>
    private void AddTiles(SourceDelivery delivery)
    {
        var apart = delivery.Result.Sets.SelectMany(s => s.Maps.Select(m => (Set: s, Map: m))).Where(m => m.Map.Udim is not null);
        foreach (var same in apart.GroupBy(m => Tileless(m.Map.Path).ToLowerInvariant()))
        {
            if (same.Select(m => m.Set).Distinct().Count() < 2)
                continue;
            var maps = same.Select(m => m.Map).DistinctBy(m => m.Udim).OrderBy(m => m.Udim).ToList();
            if (maps.Count > 1)
                known.Add(new(InTiles(maps), maps, null, delivery, [.. maps.Select(m => m.Path)]));
        }
    }

    private static MapFile InTiles(List<PlacedMap> maps) =>
        maps[0].File with
        {
            Tiles = [.. maps.Select(m => new MapTile(m.Udim!.Value, m.File.Content, m.File.Name))],
        };

    private void Add(SourceDelivery delivery)
    {
        foreach (var set in delivery.Result.Sets)
        {
            foreach (var role in set.Maps.GroupBy(m => m.Role))
            {
                var maps = role.OrderBy(m => m.Udim).ToList();
                var file = maps.Count > 1 && maps.TrueForAll(m => m.Udim is not null) ? InTiles(maps) : maps[0].File;
                known.Add(new(file, maps, set.Name, delivery, [.. maps.Select(m => m.Path)]));
            }
            foreach (var other in set.Alternates)
                known.Add(new(other.Map.File, [other.Map], null, delivery, [other.Map.Path]));
        }
        foreach (var loose in delivery.Result.Unsorted.Concat(delivery.Result.SetAside))
            if (loose.File is { } file)
                known.Add(new(file, [], null, delivery, [loose.Path]));
    }

    /// <summary>The likeliest first, each picture once; empty where nothing is known that it could be.</summary>
    /// <param name="material">The name of the material that names it.</param>
    public IReadOnlyList<TextureSource> Of(ModelTexture texture, string material)
    {
        var written = WrittenPath.Plain(texture.Written);
        return
        [
            .. ByPath(written)
                .Concat(ByName(written))
                .Concat(BySurface(texture.Role, written, material))
                .Select((s, order) => (Source: s, order))
                .GroupBy(s => s.Source.File.Content)
                // A picture that holds several roles is known once for each.
                .Select(g =>
                    g.OrderByDescending(s => s.Source.Maps.Any(m => m.Role == texture.Role)).ThenByDescending(s => s.Source.Score).First()
                )
                .OrderByDescending(s => s.Source.Score)
                .ThenBy(s => s.order)
                .Select(s => s.Source)
                .Take(Most),
        ];
    }

    /// <summary>Why a picture that came with the model, where the path says or by the name, cannot be read; null for none such.</summary>
    public string? FaultOf(ModelTexture texture)
    {
        var written = WrittenPath.Plain(texture.Written);
        var path = WrittenPath.Within(folder, written);
        bool Is(string other) => string.Equals(other, path, StringComparison.OrdinalIgnoreCase) || NameOf(other) == NameOf(written);
        return rejected.FirstOrDefault(r => Is(r.Path))?.Error;
    }

    private IEnumerable<TextureSource> ByPath(string written)
    {
        if (WrittenPath.Within(folder, written) is not { } path)
            return [];
        var keys = KeysOf(path);
        return known.Where(k => k.In.IsOwn && k.Keys.Intersect(keys).Any()).Select(k => Source(k, AtThePath, "where the path says"));
    }

    private IEnumerable<TextureSource> ByName(string written)
    {
        var names = KeysOf(NameOf(written));
        if (StemOf(names[0]).Length == 0)
            return [];
        return names
            .SelectMany(n => byName[n])
            .Select(k =>
                Source(k, k.In.IsOwn ? BesideIt : SameName, k.In.IsOwn ? "the same name, elsewhere in the delivery" : "the same name")
            )
            .Concat(
                names
                    .SelectMany(n => byStem[StemOf(n)])
                    .Select(k => Source(k, OtherEnding, $"the same name in another format ({k.File.Format})"))
            );
    }

    /// <summary>By what the file's name, and that of the material, say of the surface: its map of the same role.</summary>
    private IEnumerable<TextureSource> BySurface(MapRole role, string written, string material)
    {
        var reading = NameReading.Of(written[(written.LastIndexOf('/') + 1)..], tables);
        var surface = reading.Candidates.Where(c => c.Claim.Role == role).MaxBy(c => c.Position)?.Surface
            ?? reading.Candidates.MaxBy(c => c.Position)?.Surface
            ?? reading.BareSurface;
        var names = new[] { surface, material }.Where(n => n.Length > 0).Distinct().ToList();
        foreach (var name in names)
        {
            var said = surfaces.Of([new ModelPart("/" + name.Replace('/', '_'), name, null, [], [], [], null)]);
            var whose = name == surface ? "the file's name" : "the material";
            foreach (var sure in said.Bindings)
            foreach (var k in known.Where(k => k.Surface == sure.Set && k.Maps.Any(m => m.Role == role)))
                yield return Source(k, SameSurface, $"{role.Label()} of “{sure.Set}”, which {whose} speaks of");
            foreach (var near in said.Questions.SelectMany(q => q.Candidates))
            foreach (var k in known.Where(k => k.Surface == near && k.Maps.Any(m => m.Role == role)))
                yield return Source(k, NearSurface, $"{role.Label()} of “{near}”, which {whose} may speak of");
        }
    }

    private static TextureSource Source(Known of, float score, string reason) =>
        new(of.File, of.Maps, score, reason, of.Surface is { } surface ? $"{of.In.Name}, {surface}" : of.In.Name)
        {
            IsSame = score >= OtherEnding,
        };

    /// <summary>By which a path or name is looked for: as it is, and as that of any tile; in small letters.</summary>
    private static string[] KeysOf(string path) => [path.ToLowerInvariant(), Tileless(path).ToLowerInvariant()];

    private static string NameOf(string path) => path[(path.LastIndexOf('/') + 1)..];

    private static string StemOf(string name) => name.LastIndexOf('.') is > 0 and var dot ? name[..dot] : name;

    /// <summary>Tiles of one picture are one: a path may hold the first one's number, or a mark for all.</summary>
    private static string Tileless(string path) => Tile().Replace(path, "#");

    [GeneratedRegex(@"<udim>|(?<![0-9])1[0-9]{3}(?=\.[^./]*$)", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Tile();
}
