using Kiln.Looks.Ids;
using Kiln.Proof.Rendering;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Proofs;

/// <summary>
/// A proof as the bench asks for it. Viewer: one per panel, its newest request wins. Lane and steps: solo of one tile. UntilNoise: refined
/// no further once the noise is below it,
/// or after Samples. Tile: one UDIM tile everywhere. Part: left, top, right, bottom in shares of the picture, refined alone once the whole
/// has been seen.
/// Variant: the look as one of its variants.
/// </summary>
public sealed record ProofQuery(
    string Viewer,
    string? Dialect,
    string Form = "vessel",
    string Light = "softbox",
    int Width = 480,
    int Height = 480,
    int Samples = 256,
    float? Yaw = null,
    float? Pitch = null,
    float Zoom = 1,
    float LightRotation = 0,
    float Exposure = 0,
    string View = "aces1-sdr",
    bool Background = true,
    string? SoloLane = null,
    int? SoloSteps = null,
    bool Moving = false,
    bool Clipping = false,
    string? Layer = null,
    bool Denoise = false,
    bool BlurredBackground = false,
    float UntilNoise = 0,
    float[]? Part = null,
    int? Tile = null,
    string? Variant = null
)
{
    internal bool NeedsLayers => Layer is not null || Denoise;

    internal PictureRegion? Region =>
        Part is [var left, var top, var right, var bottom] ? new PictureRegion(left, top, right, bottom) : null;

    internal ProofRequest Request() =>
        new(
            Form,
            Light,
            Width,
            Height,
            Camera(),
            LightRotation,
            Background: Background,
            WithLayers: NeedsLayers,
            BlurredBackground: BlurredBackground,
            Tile: Tile
        );

    /// <summary>What only changes how the same light is shown, or how far it is refined, is left out: it goes on with a picture that is
    /// there.</summary>
    internal ProofQuery OfLight() =>
        this with
        {
            Viewer = "",
            Samples = 0,
            Exposure = 0,
            View = "",
            Clipping = false,
            Layer = null,
            Denoise = NeedsLayers,
            UntilNoise = 0,
            Part = null,
        };

    private OrbitCamera Camera()
    {
        var usual = OrbitCamera.For(Form);
        return new(Yaw ?? usual.YawDegrees, Pitch ?? usual.PitchDegrees, usual.Zoom * Zoom);
    }
}

public sealed record CompareQuery(
    string? First,
    string? Second,
    string Form = "vessel",
    string Light = "softbox",
    int Size = 160,
    int Samples = 24,
    string View = "aces1-sdr"
);

/// <summary>Which picture of a look is asked for.</summary>
/// <param name="Size">Side in pixels, 32 to 512.</param>
/// <param name="At">A number of the history.</param>
/// <param name="Without">A lane whose chain is left out, to see what it does.</param>
public sealed record LookPictureQuery(
    [FromRoute(Name = "id")] LookId Id,
    [FromQuery(Name = "size")] int? Size,
    [FromQuery(Name = "at")] int? At,
    [FromQuery(Name = "without")] string? Without,
    [FromQuery(Name = "form")] string? Form,
    [FromQuery(Name = "light")] string? Light,
    [FromQuery(Name = "dialect")] string? Dialect,
    [FromQuery(Name = "version")] int? Version,
    [FromQuery(Name = "variant")] string? Variant
);
