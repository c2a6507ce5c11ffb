using Kiln.Colour.Spaces;
using Kiln.Looks.Ids;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Viewport;

/// <summary>Which look the viewport draws, and as what.</summary>
/// <param name="Dialect">Null for the look as itself.</param>
/// <param name="SoloLane">One lane alone, up to so many of its steps.</param>
/// <param name="Live">Lanes, or steps in them, whose numbers are about to be changed.</param>
/// <param name="Have">The structure whose text the asker has.</param>
/// <param name="At">After that edit of its history; null for as it is now.</param>
public sealed record ViewportQuery(
    [FromRoute(Name = "id")] LookId Id,
    [FromQuery(Name = "dialect")] string? Dialect,
    [FromQuery(Name = "variant")] string? Variant,
    [FromQuery(Name = "soloLane")] string? SoloLane,
    [FromQuery(Name = "soloSteps")] int? SoloSteps,
    [FromQuery(Name = "have")] string? Have,
    [FromQuery(Name = "live")] string[]? Live,
    [FromQuery(Name = "at")] int? At = null
);

/// <summary>A form, and the look that moves its surface.</summary>
/// <param name="Moved">The same for the same movement; null for the form as it is.</param>
public sealed record FormQuery(
    [FromRoute(Name = "id")] LookId Id,
    [FromRoute(Name = "form")] string Form,
    [FromQuery(Name = "dialect")] string? Dialect,
    [FromQuery(Name = "variant")] string? Variant,
    [FromQuery(Name = "moved")] string? Moved,
    [FromQuery(Name = "at")] int? At = null
)
{
    internal ViewportQuery Look => new(Id, Dialect, Variant, null, null, null, null, At);
}

/// <summary>One map, read in a way, for the working space of its look.</summary>
/// <param name="Width">Of the file, as its header says.</param>
/// <param name="Side">Longest side; a small one stands in until the whole is there.</param>
/// <param name="Precise">Floats rather than halves.</param>
public sealed record LayerQuery(
    [FromRoute(Name = "hash")] ContentHash Content,
    [FromQuery(Name = "kind")] string Kind,
    [FromQuery(Name = "space")] SpaceId Space,
    [FromQuery(Name = "channel")] string Channel,
    [FromQuery(Name = "width")] int Width,
    [FromQuery(Name = "height")] int Height,
    [FromQuery(Name = "working")] string Working = "acescg",
    [FromQuery(Name = "precise")] bool Precise = false,
    [FromQuery(Name = "name")] string? Name = null,
    [FromQuery(Name = "side")] int? Side = null
)
{
    internal Reading Reading() => new(Enum.Parse<ReadingKind>(Kind, true), Space, MapChannels.Parse(Channel));
}

/// <summary>Linear light in a working space, shown by a view.</summary>
/// <param name="Exposure">In stops.</param>
public sealed record LightQuery(
    [FromQuery(Name = "r")] float R,
    [FromQuery(Name = "g")] float G,
    [FromQuery(Name = "b")] float B,
    [FromQuery(Name = "working")] string Working,
    [FromQuery(Name = "view")] string View,
    [FromQuery(Name = "exposure")] float Exposure = 0
)
{
    internal SeenLight Light => new(R, G, B, Working, View, Exposure);
}

/// <summary>Linear light of a place that a viewport drew, in a working space, and what it is shown by.</summary>
/// <param name="Exposure">In stops.</param>
public sealed record SeenLight(float R, float G, float B, string Working, string View, float Exposure = 0);

/// <summary>The same place of two pictures.</summary>
public sealed record TwoLights(SeenLight First, SeenLight? Second = null);
