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
/// name speaks of among surfaces that are known. Nothing is taken unasked but what lies where the path says. The scores are common
/// practice, no source.
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
    private readonly ILookup<string, Known> byName,
        byStem;
    private readonly NameBinding surfaces;

    /// <param name="Names">Of all its tiles, with their paths.</param>
    private sealed record Known(
        MapFile File,
        IReadOnlyList<PlacedMap> Maps,
        string? Surface,
        SourceDelivery In,
        IReadOnlyList<string> Paths
    );

    /// <param name="deliveries">The likelier first.</param>
    /// <param name="modelPath">Of the model's file in its own delivery.</param>
    public TextureSources(IReadOnlyList<SourceDelivery> deliveries, string modelPath, NamingTables tables)
    {
        this.tables = tables;
        folder = modelPath.Contains('/') ? modelPath[..modelPath.LastIndexOf('/')] : "";
        foreach (var delivery in deliveries)
            Add(delivery);
        byName = known.SelectMany(k => k.Paths.Select(p => (Key: NameOf(p), k)).Distinct()).ToLookup(p => p.Key, p => p.k);
        byStem = known.SelectMany(k => k.Paths.Select(p => (Key: StemOf(NameOf(p)), k)).Distinct()).ToLookup(p => p.Key, p => p.k);
        surfaces = new(known.Select(k => k.Surface).OfType<string>());
    }

    private void Add(SourceDelivery delivery)
    {
        foreach (var set in delivery.Result.Sets)
        {
            foreach (var role in set.Maps.GroupBy(m => m.Role))
            {
                var maps = role.OrderBy(m => m.Udim).ToList();
                var tiles = maps.Where(m => m.Udim is not null)
                    .Select(m => new MapTile(m.Udim!.Value, m.File.Content, m.File.Name))
                    .ToList();
                var file = tiles.Count > 1 ? maps[0].File with { Tiles = tiles } : maps[0].File;
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

    private IEnumerable<TextureSource> ByPath(string written)
    {
        if (WrittenPath.Within(folder, written) is not { } path)
            return [];
        var key = Tileless(path);
        return known
            .Where(k => k.In.IsOwn && k.Paths.Any(p => string.Equals(Tileless(p), key, StringComparison.OrdinalIgnoreCase)))
            .Select(k => Source(k, AtThePath, "where the path says"));
    }

    private IEnumerable<TextureSource> ByName(string written)
    {
        var name = NameOf(written);
        if (StemOf(name).Length == 0)
            return [];
        return byName[name]
            .Select(k =>
                Source(k, k.In.IsOwn ? BesideIt : SameName, k.In.IsOwn ? "the same name, elsewhere in the delivery" : "the same name")
            )
            .Concat(byStem[StemOf(name)].Select(k => Source(k, OtherEnding, $"the same name in another format ({k.File.Format})")));
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

    /// <summary>A name by which files are compared: without folders, in small letters, and without the number of a tile.</summary>
    private static string NameOf(string path) => Tileless(path[(path.LastIndexOf('/') + 1)..]).ToLowerInvariant();

    private static string StemOf(string name) => name.LastIndexOf('.') is > 0 and var dot ? name[..dot] : name;

    /// <summary>Tiles of one picture are one: a path may hold the first one's number, or a mark for all.</summary>
    private static string Tileless(string path) => Tile().Replace(path, "#");

    [GeneratedRegex(@"<udim>|(?<![0-9])1[0-9]{3}(?=\.[^./]*$)", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Tile();
}
