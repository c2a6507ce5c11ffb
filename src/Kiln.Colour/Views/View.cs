using System.Numerics;
using Kiln.Pixels;

namespace Kiln.Colour.Views;

/// <summary>How scene light becomes display code values. A view is for looking: it is never baked into a map.</summary>
public sealed class View
{
    private readonly ColourTransform toScene;
    private readonly bool aces;

    private View(string id, bool aces, ColourSpace from)
    {
        Id = id;
        this.aces = aces;
        toScene = ColourTransform.Between(from, aces ? ColourSpace.LinAp0 : ColourSpace.LinRec709);
    }

    public string Id { get; }

    public static readonly IReadOnlyList<string> Ids = ["aces1-sdr", "plain"];

    /// <exception cref="ArgumentException">No view has this name.</exception>
    public static View Named(string id, ColourSpace from) => id switch
    {
        "aces1-sdr" => new(id, true, from),
        "plain" => new(id, false, from),
        _ => throw new ArgumentException($"There is no view '{id}'. Known: {string.Join(", ", Ids)}."),
    };

    /// <summary>Display code values 0..1 on an sRGB display.</summary>
    public Vector3 Apply(Vector3 colour, float exposureStops = 0f)
    {
        var scene = toScene.Apply(colour) * MathF.Pow(2f, exposureStops);
        var display = Vector3.Clamp(aces ? AcesOutput.Apply(scene) : scene, Vector3.Zero, Vector3.One);
        return new(ColourEncoding.Srgb.Encode(display.X), ColourEncoding.Srgb.Encode(display.Y), ColourEncoding.Srgb.Encode(display.Z));
    }

    /// <summary>A float RGB(A) picture as 8-bit display values; alpha is kept.</summary>
    public ImageBuffer Apply(ImageBuffer picture, float exposureStops = 0f)
    {
        var result = new ImageBuffer(picture.Width, picture.Height, picture.Channels, SampleType.U8);
        var n = picture.ChannelCount;
        Parallel.For(0, picture.Height, y =>
        {
            var row = new float[picture.Width * n];
            picture.ReadRow(y, row);
            for (var i = 0; i + 2 < row.Length; i += n)
            {
                var v = Apply(new Vector3(row[i], row[i + 1], row[i + 2]), exposureStops);
                (row[i], row[i + 1], row[i + 2]) = (v.X, v.Y, v.Z);
            }
            result.WriteRow(y, row);
        });
        return result;
    }
}
