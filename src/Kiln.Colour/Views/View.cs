using System.Numerics;
using System.Numerics.Tensors;
using System.Runtime.Intrinsics;
using Kiln.Colour.Configs;
using Kiln.Colour.Operations;
using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Colour.Views;

/// <summary>How scene light becomes display code values. A view is for looking: it is never baked into a map.</summary>
public sealed class View
{
    private static readonly StopTable Encoding = new(-9, 0, ColourEncoding.Srgb.Encode);

    private enum Kind
    {
        Aces,
        AcesCompressed,
        Plain,
        Stops,
        Config,
    }

    private readonly ColourTransform toScene;
    private readonly Kind kind;
    private readonly ColourChain chain = ColourChain.Identity;

    private View(string id, Kind kind, ColourSpace from)
    {
        Id = id;
        this.kind = kind;
        toScene = ColourTransform.Between(
            from,
            kind switch
            {
                Kind.Aces => ColourSpace.LinAp0,
                Kind.Plain => ColourSpace.LinRec709,
                _ => ColourSpace.AcesCg,
            }
        );
    }

    private View(string id, ColourSpace from, ColourSpace into, ColourChain chain)
    {
        (Id, kind, this.chain) = (id, Kind.Config, chain);
        toScene = ColourTransform.Between(from, into);
    }

    public string Id { get; }

    /// <summary>A view of a config's display: "DISPLAY / VIEW".</summary>
    /// <exception cref="ConfigException">The config has no such display or view, none of ours to come from, or cannot use them.</exception>
    public static View OfConfig(ConfigNames names, string display, string view, ColourSpace from)
    {
        var entry = new[] { ColourSpace.AcesCg, ColourSpace.LinAp0, ColourSpace.LinRec709 }
            .Select(s => (Space: s, Name: names.Matching.NameFor(names.Config, s.Id)))
            .FirstOrDefault(s => s.Name is not null);
        return entry.Name is { } name
            ? new($"{display} / {view}", from, entry.Space, names.Config.View(name, display, view))
            : throw new ConfigException(
                "The config has no space that is the same as ACEScg, ACES2065-1 or linear Rec.709, so its views cannot be fed."
            );
    }

    /// <summary>One of ours, or "DISPLAY / VIEW" of the config in force.</summary>
    /// <exception cref="ArgumentException">No view has this name.</exception>
    public static View Named(string id, ColourSpace from, ConfigNames? names) =>
        names is not null && id.IndexOf(" / ", StringComparison.Ordinal) is > 0 and var at
            ? OfConfig(names, id[..at], id[(at + 3)..], from)
            : Named(id, from);

    public static readonly IReadOnlyList<string> Ids = ["aces1-sdr", "aces1-sdr-compressed", "plain", "stops"];

    /// <param name="id">aces1-sdr; the same after the ACES 1.3 gamut compression; plain (the sRGB encoding only); stops (false colour
    /// around middle grey).</param>
    /// <exception cref="ArgumentException">No view has this name.</exception>
    public static View Named(string id, ColourSpace from) =>
        id switch
        {
            "aces1-sdr" => new(id, Kind.Aces, from),
            "aces1-sdr-compressed" => new(id, Kind.AcesCompressed, from),
            "plain" => new(id, Kind.Plain, from),
            "stops" => new(id, Kind.Stops, from),
            _ => throw new ArgumentException($"There is no view '{id}'. Known: {string.Join(", ", Ids)}."),
        };

    /// <summary>Display code values 0..1 on an sRGB display.</summary>
    public Vector3 Apply(Vector3 colour, float exposureStops = 0f)
    {
        var scene = toScene.Apply(colour) * MathF.Pow(2f, exposureStops);
        if (kind == Kind.Stops)
            return StopColours.Of(scene);
        if (kind == Kind.Config)
            return Vector3.Clamp(chain.Apply(scene), Vector3.Zero, Vector3.One);
        if (kind == Kind.AcesCompressed)
            scene = Compressed(scene);
        var display = Vector3.Clamp(kind == Kind.Plain ? scene : AcesOutput.Apply(scene), Vector3.Zero, Vector3.One);
        return new(ColourEncoding.Srgb.Encode(display.X), ColourEncoding.Srgb.Encode(display.Y), ColourEncoding.Srgb.Encode(display.Z));
    }

    /// <summary>ACEScg to compressed ACES2065-1.</summary>
    private static Vector3 Compressed(Vector3 ap1) => Ap1ToAp0.Apply(FixedFunctions.ReferenceGamutCompression.Apply(ap1));

    private static readonly Matrix3 Ap1ToAp0 = Primaries.Ap1.To(Primaries.Ap0);

    /// <summary>Display code values 0..1 of interleaved pixels of three samples, in place.</summary>
    public void Apply(Span<float> pixels, float exposureStops = 0f)
    {
        Show(pixels, exposureStops);
        Finish(pixels);
    }

    /// <summary>What the display is asked for, not yet limited to what it can do; false colour is finished as it is.</summary>
    private void Show(Span<float> pixels, float exposureStops)
    {
        toScene.Apply(pixels);
        if (exposureStops != 0)
            TensorPrimitives.Multiply(pixels, MathF.Pow(2f, exposureStops), pixels);
        if (kind is Kind.Stops or Kind.AcesCompressed)
            for (var i = 0; i + 2 < pixels.Length; i += 3)
            {
                var scene = new Vector3(pixels[i], pixels[i + 1], pixels[i + 2]);
                (kind == Kind.Stops ? StopColours.Of(scene) : Compressed(scene)).CopyTo(pixels[i..]);
            }
        if (kind == Kind.Config)
            chain.Apply(pixels);
        else if (kind is Kind.Aces or Kind.AcesCompressed)
            AcesOutput.Apply(pixels);
    }

    private void Finish(Span<float> pixels)
    {
        if (kind == Kind.Config)
        {
            TensorPrimitives.Min(pixels, 1f, pixels);
            TensorPrimitives.Max(pixels, 0f, pixels);
        }
        else if (kind != Kind.Stops)
            Encode(pixels);
    }

    /// <summary>Clamps to what a display shows and encodes for it.</summary>
    private static void Encode(Span<float> pixels)
    {
        var whole = VectorCurves.Whole(pixels, out var rest);
        foreach (ref var v in whole)
            v = Vector256.ConditionalSelect(
                Vector256.LessThanOrEqual(v, Vector256.Create(0.0031308f)),
                Vector256.MaxNative(v * 12.92f, Vector256<float>.Zero),
                Encoding.At(v)
            );
        foreach (ref var v in rest)
            v = ColourEncoding.Srgb.Encode(Math.Clamp(v, 0, 1));
    }

    /// <summary>A float RGB(A) picture as 8-bit display values; alpha is kept.</summary>
    /// <param name="clipping">Whether what the display cannot show is marked by stripes.</param>
    public ImageBuffer Apply(ImageBuffer picture, float exposureStops = 0f, bool clipping = false)
    {
        var result = new ImageBuffer(picture.Width, picture.Height, picture.Channels, SampleType.U8);
        var n = picture.ChannelCount;
        Parallel.For(0, picture.Height, y =>
        {
            var row = new float[picture.Width * n];
            var packed = n == 3 ? row : new float[picture.Width * 3];
            picture.ReadRow(y, row);
            if (n != 3)
                for (var x = 0; x < picture.Width; x++)
                    row.AsSpan(x * n, 3).CopyTo(packed.AsSpan(x * 3));
            Show(packed, exposureStops);
            var marks = clipping && kind != Kind.Stops ? Marks(packed) : null;
            Finish(packed);
            if (marks is not null)
                ClippingMarks.Draw(packed, marks, y);
            if (n != 3)
                for (var x = 0; x < picture.Width; x++)
                    packed.AsSpan(x * 3, 3).CopyTo(row.AsSpan(x * n));
            result.WriteRow(y, row);
        });
        return result;
    }

    /// <summary>One colour as displayed, and what of it the display cannot show.</summary>
    public (Vector3 Displayed, ClippingMarks.Beyond Beyond) Shown(Vector3 colour, float exposureStops = 0f)
    {
        Span<float> pixel = [colour.X, colour.Y, colour.Z];
        Show(pixel, exposureStops);
        var beyond = kind == Kind.Stops ? ClippingMarks.Beyond.Nothing : ClippingMarks.Of(pixel[0], pixel[1], pixel[2]);
        Finish(pixel);
        return (new(pixel), beyond);
    }

    private static ClippingMarks.Beyond[] Marks(ReadOnlySpan<float> pixels)
    {
        var marks = new ClippingMarks.Beyond[pixels.Length / 3];
        for (var x = 0; x < marks.Length; x++)
            marks[x] = ClippingMarks.Of(pixels[3 * x], pixels[3 * x + 1], pixels[3 * x + 2]);
        return marks;
    }
}
