using System.Globalization;
using System.Numerics;
using Kiln.Looks.Maps;

namespace Kiln.Intake.Relinking;

/// <summary>A file that may stand in for one that is gone.</summary>
/// <param name="Score">1 for the same content, less the weaker the likeness; 0..1.</param>
public sealed record RelinkCandidate(MapFile File, float Score, string Reason);

/// <summary>Finds files again that moved or were renamed: by content, then by name, then by how the picture looks.</summary>
public static class RelinkSearch
{
    /// <summary>Bits of 64 in which the brightness pictures of near-duplicates may differ.</summary>
    private const int NearBits = 6;

    /// <summary>The likeliest first, each file once; what has nothing to do with the missing file is not among them.</summary>
    public static IReadOnlyList<RelinkCandidate> Find(MapFile missing, IEnumerable<MapFile> known) =>
        [
            .. known
                .Select(f => Compare(missing, f))
                .OfType<RelinkCandidate>()
                .GroupBy(c => c.File.Content)
                .Select(g => g.MaxBy(c => c.Score)!)
                .OrderByDescending(c => c.Score)
                .ThenBy(c => c.File.Name, StringComparer.Ordinal),
        ];

    private static RelinkCandidate? Compare(MapFile missing, MapFile file)
    {
        if (file.Content == missing.Content)
            return new(file, 1, "the same content");
        var sameSize = (file.Width, file.Height) == (missing.Width, missing.Height);
        var distance = Distance(missing, file);
        var looksAlike = distance <= NearBits;
        var likeness =
            looksAlike ? $"; the pictures look alike ({64 - distance} of 64 signs)"
            : distance is null ? ""
            : "; the pictures differ";
        if (string.Equals(file.Name, missing.Name, StringComparison.OrdinalIgnoreCase))
            return new(
                file,
                looksAlike ? 0.95f
                    : sameSize && distance is null ? 0.8f
                    : 0.55f,
                "the same name" + (sameSize ? " and size" : $", but {file.Width} x {file.Height}") + likeness
            );
        if (Stem(file.Name) == Stem(missing.Name))
            return new(file, looksAlike ? 0.9f : 0.5f, $"the same name in another format ({file.Format})" + likeness);
        if (looksAlike && file.Channels.Count == missing.Channels.Count)
            return new(file, sameSize ? 0.8f : 0.65f, $"another name, but the picture looks alike ({64 - distance} of 64 signs)");
        return null;
    }

    private static int? Distance(MapFile a, MapFile b) => Bits(a) is { } x && Bits(b) is { } y ? BitOperations.PopCount(x ^ y) : null;

    private static ulong? Bits(MapFile file) =>
        ulong.TryParse(file.Likeness, NumberStyles.HexNumber, CultureInfo.InvariantCulture, out var bits) && bits != 0 ? bits : null;

    private static string Stem(string name) => System.IO.Path.GetFileNameWithoutExtension(name).ToLowerInvariant();
}
