using Kiln.Pixels;

namespace Kiln.Looks.Document;

/// <summary>A stored picture: its content by SHA-256 (64 hex digits), its name as it came, and what its header said.</summary>
public sealed record MapFile(string Content, string Name, int Width, int Height, int Bits, bool IsFloat, string Format, IReadOnlyList<string> Channels, string? EmbeddedColour)
{
    /// <summary>Whether a file with three channels holds the same value in all of them, as measured when it came in.</summary>
    public bool EqualChannels { get; init; }

    /// <summary>Sixteen hex digits that near-duplicates have nearly in common; null where it was not measured.</summary>
    public string? Likeness { get; init; }

    /// <summary>The UDIM tiles (1001 and up) that the picture came in, in order; null where it is one picture.</summary>
    public IReadOnlyList<int>? Tiles { get; init; }

    public static MapFile Of(string content, string name, PictureFacts facts) =>
        new(content, name, facts.Width, facts.Height, facts.Bits, facts.IsFloat, facts.Format.ToString().ToLowerInvariant(), facts.Channels, facts.EmbeddedColour);

    /// <summary>Records compare lists by reference; two files are the same when their content, name and tiles are.</summary>
    public bool Equals(MapFile? other) => other is not null && Content == other.Content && Name == other.Name && (Tiles ?? []).SequenceEqual(other.Tiles ?? []);

    public override int GetHashCode() => HashCode.Combine(Content, Name);
}
