using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Looks.Maps;

/// <summary>A stored picture: its content by SHA-256 (64 hex digits), its name as it came, and what its header said.</summary>
public sealed partial record MapFile(
    ContentHash Content,
    string Name,
    int Width,
    int Height,
    int Bits,
    bool IsFloat,
    string Format,
    IReadOnlyList<string> Channels,
    string? EmbeddedColour
)
{
    /// <summary>Whether a file with three channels holds the same value in all of them, as measured when it came in.</summary>
    public bool EqualChannels { get; init; }

    /// <summary>Sixteen hex digits that near-duplicates have nearly in common; null where it was not measured.</summary>
    public string? Likeness { get; init; }

    /// <summary>
    /// The UDIM tiles that the picture came in, in order; null where it is one picture. The first one's content, name and facts are the
    /// file's own.
    /// </summary>
    [JsonConverter(typeof(MapTilesConverter))]
    public IReadOnlyList<MapTile>? Tiles { get; init; }

    /// <summary>Whether different places of UV have different pictures.</summary>
    [JsonIgnore]
    public bool IsTiled => Tiles is { Count: > 1 };

    /// <summary>Everything that has to be there for the map to be whole.</summary>
    [JsonIgnore]
    public IEnumerable<ContentHash> Contents => Tiles is null ? [Content] : Tiles.Select(t => t.Content);

    /// <summary>One tile as a file by itself; null where the map lacks it. What is no tiled map is the same everywhere.</summary>
    public MapFile? OnTile(int number) =>
        !IsTiled ? this
        : Tiles!.FirstOrDefault(t => t.Number == number) is { } tile ? this with { Content = tile.Content, Name = tile.Name, Tiles = null }
        : null;

    /// <summary>The name without its ending and without the number of its tile.</summary>
    [JsonIgnore]
    public string Stem =>
        !IsTiled ? Path.GetFileNameWithoutExtension(Name) : TileNumber().Replace(Path.GetFileNameWithoutExtension(Name), "", 1);

    public static MapFile Of(ContentHash content, string name, PictureFacts facts) =>
        new(
            content,
            name,
            facts.Width,
            facts.Height,
            facts.Bits,
            facts.IsFloat,
            facts.Format.ToString().ToLowerInvariant(),
            facts.Channels,
            facts.EmbeddedColour
        );

    /// <summary>What its header said, as far as it was kept.</summary>
    public PictureFacts Facts() =>
        new(Enum.Parse<PictureFormat>(Format, true), Width, Height, Channels, Bits, IsFloat, EmbeddedColour, false);

    /// <summary>Records compare lists by reference; two files are the same when their content, name and tiles are.</summary>
    public bool Equals(MapFile? other) =>
        other is not null && Content == other.Content && Name == other.Name && (Tiles ?? []).SequenceEqual(other.Tiles ?? []);

    public override int GetHashCode() => HashCode.Combine(Content, Name);

    [GeneratedRegex(@"[._-]?(1\d{3}|[uU]\d+_[vV]\d+)(?!.*(1\d{3}|[uU]\d+_[vV]\d+))")]
    private static partial Regex TileNumber();
}
