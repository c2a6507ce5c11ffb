using System.Text.Json.Serialization;

namespace Kiln.Looks.Readings;

/// <summary>What is read of a pixel: all three, the first two (a normal map without blue), one, or the three as one number.</summary>
[JsonConverter(typeof(CamelCaseEnum<MapChannel>))]
public enum MapChannel
{
    Rgb,
    Rg,
    R,
    G,
    B,
    A,

    /// <summary>The grey of a grey file; of three different channels the weights of ITU-R BT.709.</summary>
    Luminance,
}

public static class MapChannels
{
    /// <summary>As documents and networks name it: rgb, rg, r, g, b, a, luminance.</summary>
    public static string Word(this MapChannel channel) => channel.ToString().ToLowerInvariant();

    /// <summary>Its place in a pixel, where it is a single one; luminance and more than one have none.</summary>
    public static int? Place(this MapChannel channel) => channel is >= MapChannel.R and <= MapChannel.A ? channel - MapChannel.R : null;

    /// <param name="place">0 to 3: r, g, b or a.</param>
    public static MapChannel At(int place) =>
        place is >= 0 and < 4
            ? MapChannel.R + place
            : throw new ArgumentOutOfRangeException(nameof(place), place, "A pixel has four places.");

    /// <summary>By its word.</summary>
    public static bool TryParse(string word, out MapChannel channel) =>
        Enum.TryParse(word, ignoreCase: true, out channel) && channel.Word() == word;

    /// <exception cref="FormatException">No channel has that word.</exception>
    public static MapChannel Parse(string word) =>
        TryParse(word, out var channel)
            ? channel
            : throw new FormatException($"'{word}' is no channel; rgb, rg, r, g, b, a and luminance are.");
}
