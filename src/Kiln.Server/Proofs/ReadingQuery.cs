using Kiln.Colour.Spaces;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Proofs;

/// <summary>How a stored map is to be read.</summary>
public sealed record ReadingQuery(
    [FromQuery(Name = "kind")] string Kind,
    [FromQuery(Name = "space")] SpaceId Space,
    [FromQuery(Name = "channel")] string Channel,
    [FromQuery(Name = "normalY")] string? NormalY
)
{
    public Reading Reading() =>
        new(Enum.Parse<ReadingKind>(Kind, true), Space, ChannelOf(Channel), NormalY is null ? null : Enum.Parse<NormalY>(NormalY, true));

    /// <summary>By its word: a query's words are told apart by their case otherwise.</summary>
    private static MapChannel ChannelOf(string word) =>
        MapChannels.TryParse(word, out var channel)
            ? channel
            : throw new ArgumentException($"'{word}' is no channel; rgb, rg, r, g, b, a and luminance are.");
}

/// <summary>A place of a picture, and how its value is shown.</summary>
/// <param name="U">From the left, 0..1.</param>
/// <param name="V">From the top, 0..1.</param>
/// <param name="Patch">Side of the patch to average, in pixels.</param>
public sealed record PixelQuery(
    [FromQuery(Name = "u")] float U,
    [FromQuery(Name = "v")] float V,
    [FromQuery(Name = "patch")] int Patch = 1,
    [FromQuery(Name = "view")] string View = "plain",
    [FromQuery(Name = "working")] string Working = "acescg"
);

/// <summary>How a small picture of a map is made.</summary>
/// <param name="Lit">Of a direction: lit from the side instead of in its colours.</param>
/// <param name="Mark">What is striped; see <see cref="Analysis.Findings.PictureMarks"/>.</param>
/// <param name="Halved">Moved by half its width and height.</param>
/// <param name="Crop">So many pixels on a side from the middle, at full size.</param>
public sealed record ThumbnailQuery(
    [FromRoute(Name = "hash")] ContentHash Hash,
    [FromQuery(Name = "size")] int? Size,
    [FromQuery(Name = "lit")] bool? Lit,
    [FromQuery(Name = "mark")] string? Mark,
    [FromQuery(Name = "halved")] bool? Halved,
    [FromQuery(Name = "crop")] int? Crop
);
