using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels;
using Kiln.Pixels.Writing;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Writing;

/// <summary>Where proofs are written: one file, numbered ones for a turn around the form, or one animated picture.</summary>
public sealed class ProofFiles
{
    private const int Milliseconds = 40;

    private readonly string target,
        extension;
    private readonly int frames;
    private readonly string[] layers;
    private readonly bool denoise;
    private readonly List<ImageBuffer> animated = [];

    /// <exception cref="ArgumentException">What is asked for cannot be written that way.</exception>
    public ProofFiles(string target, int frames, string[] layers, bool denoise)
    {
        (this.target, this.frames, this.layers, this.denoise) = (target, frames, layers, denoise);
        extension = Path.GetExtension(target);
        if (extension is not (".png" or ".exr") && !(extension == ".webp" && frames > 1))
            throw new ArgumentException($"A proof is written as .png or .exr, a turn as .webp too, not '{Path.GetFileName(target)}'.");
        if (layers.Length > 0 && extension != ".exr")
            throw new ArgumentException("Layers are written to .exr files only.");
        if (denoise && extension == ".exr")
            throw new ArgumentException("An .exr is for measuring: its noise is not taken out. Ask for a .png.");
    }

    /// <summary>Whether the proofs have to be traced with their layers.</summary>
    public bool NeedsLayers => denoise || layers.Length > 0;

    /// <summary>Where a frame goes: the target itself, or NAME.0001.EXT and so on.</summary>
    public string PathOf(int frame) => frames == 1 ? target : $"{target[..^extension.Length]}.{frame + 1:0000}{extension}";

    /// <summary>Writes a frame, or keeps it for the animated picture.</summary>
    public void Add(int frame, PathTracer tracer, WorkingSpace working, View view, float exposure)
    {
        var picture = tracer.Picture();
        if (extension == ".exr")
        {
            var whole = layers.Length > 0 ? tracer.Layers!.With(picture, layers) : picture;
            InAcesCg(whole, working);
            using var stream = File.Create(PathOf(frame));
            ExrWriter.Write(stream, whole, Primaries.Ap1.Chromaticities);
            return;
        }
        var shown = view.Apply(denoise ? tracer.WithoutNoise() : picture, exposure);
        if (extension == ".webp")
            animated.Add(shown);
        else
            File.WriteAllBytes(PathOf(frame), PictureWriter.Png(shown));
    }

    /// <summary>Writes what consists of all frames together.</summary>
    public void Finish()
    {
        if (animated.Count > 0)
            File.WriteAllBytes(target, PictureWriter.AnimatedWebp(animated, Milliseconds));
    }

    /// <summary>Everything but normals and depth is colour.</summary>
    private static void InAcesCg(ImageBuffer picture, WorkingSpace working)
    {
        if (working == WorkingSpace.AcesCg)
            return;
        var convert = ColourTransform.Between(working.Space, ColourSpace.AcesCg);
        var n = picture.ChannelCount;
        var samples = picture.Samples<float>();
        for (var c = 0; c + 2 < n; c++)
        {
            if (
                picture.Channels[c] is not "R"
                && !(picture.Channels[c].EndsWith(".R", StringComparison.Ordinal) && picture.Channels[c] != "normal.R")
            )
                continue;
            for (var i = c; i < samples.Length; i += n)
            {
                var v = convert.Apply(new System.Numerics.Vector3(samples[i], samples[i + 1], samples[i + 2]));
                (samples[i], samples[i + 1], samples[i + 2]) = (v.X, v.Y, v.Z);
            }
        }
    }
}
