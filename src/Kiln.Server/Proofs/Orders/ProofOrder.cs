using Kiln.Proof.Rendering;

namespace Kiln.Server.Proofs.Orders;

/// <summary>
/// A picture to be written to a file. Format: png (through the view), exr (scene-linear ACEScg, with layers), webp (a turn around the form,
/// through the
/// view). More than one frame is a turn: numbered files in a zip, or one animated webp.
/// </summary>
public sealed record ProofOrder(
    string? Dialect = null,
    string Form = "vessel",
    string Light = "softbox",
    float LightRotation = 0,
    float Exposure = 0,
    string View = "aces1-sdr",
    float? Yaw = null,
    float? Pitch = null,
    float Zoom = 1,
    int Width = 1024,
    int Height = 1024,
    int Samples = 256,
    string Format = "png",
    string[]? Layers = null,
    bool Background = true,
    bool Denoise = false,
    int Frames = 1
)
{
    private const int LongestSide = 4096,
        LongestWithLayers = 2048,
        MostFrames = 360,
        MostSamples = 16384;
    private const long MostWork = 400_000_000_000;

    /// <exception cref="ArgumentException">It cannot be made; the message says why.</exception>
    public ProofOrder Checked()
    {
        if (Format is not ("png" or "exr" or "webp"))
            throw new ArgumentException($"A picture is written as png, exr or webp, not '{Format}'.");
        var longest = NeedsLayers ? LongestWithLayers : LongestSide;
        if (Width < 16 || Height < 16 || Width > longest || Height > longest)
            throw new ArgumentException(
                $"A picture of {Width} x {Height} is not "
                    + $"possible{(NeedsLayers ? " with layers or with its noise taken out" : "")}; 16 to {longest} on a side are."
            );
        if (Samples is < 1 or > MostSamples || Frames is < 1 or > MostFrames)
            throw new ArgumentException($"A picture has 1 to {MostSamples} samples, a turn 1 to {MostFrames} frames.");
        if (Work > MostWork)
            throw new ArgumentException(
                "That is more than a week of rendering here; ask for a smaller picture, fewer samples or fewer frames."
            );
        if (Format == "webp" && Frames == 1)
            throw new ArgumentException("A webp is a turn of several frames; ask for a png.");
        if (Format != "exr" && Layers is { Length: > 0 })
            throw new ArgumentException("Layers are written to exr files only.");
        if (Format == "exr" && Denoise)
            throw new ArgumentException("An exr is for measuring: its noise is not taken out. Ask for a png.");
        if (Layers?.FirstOrDefault(l => !ProofLayers.Names.Contains(l)) is { } unknown)
            throw new ArgumentException($"A proof has no layer '{unknown}'. Known: {string.Join(", ", ProofLayers.Names)}.");
        return this;
    }

    private bool NeedsLayers => Denoise || Layers is { Length: > 0 };

    /// <summary>Samples of all pixels of all frames.</summary>
    private long Work => (long)Width * Height * Samples * Frames;

    /// <summary>What progress is counted in.</summary>
    public long Total => (long)Samples * Frames;

    /// <summary>Whether the files are put into one zip.</summary>
    public bool IsZip => Frames > 1 && Format != "webp";
}
