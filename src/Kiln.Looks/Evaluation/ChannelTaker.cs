using Kiln.Colour.Spaces;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Looks.Evaluation;

/// <summary>Takes the channels a reading asks for out of a picture's rows, and converts colours to the working space.</summary>
public abstract class ChannelTaker
{
    /// <summary>One row of the picture (interleaved) to one row of the reading (1 or 3 components).</summary>
    public abstract void Row(ReadOnlySpan<float> picture, Span<float> taken);

    /// <exception cref="PictureException">The picture does not have the channel the reading asks for.</exception>
    public static ChannelTaker For(ImageBuffer picture, Reading reading, WorkingSpace working)
    {
        var n = picture.ChannelCount;
        var grey = picture.Channels.Count(c => c != "A") == 1;
        if (reading.Kind == ReadingKind.Scalar)
        {
            var decode = ColourSpace.Find(reading.Space) is { IsRaw: false } space ? space.Encoding : null;
            if (reading.Channel.Place() is not { } place)
                return grey ? new One(n, Index(picture, "Y", 0), decode) : new Luminance(n, decode);
            return new One(n, Index(picture, reading.Channel.ToString(), place), decode);
        }
        if (reading.Kind == ReadingKind.Direction && reading.Channel == MapChannel.Rg)
            return new TwoChannelNormal(n);
        var transform = reading.Kind == ReadingKind.Colour ? ColourTransform.Between(ColourSpace.Find(reading.Space), working.Space) : null;
        return new Three(n, grey || n < 3, transform, picture.Type);
    }

    private static int Index(ImageBuffer picture, string name, int fallback)
    {
        var at = picture.Channels.IndexOf(name);
        if (at < 0 && name == "A")
            throw new PictureException("The picture has no alpha channel, which the reading asks for.");
        if (at < 0)
            at = picture.ChannelCount == 1 || picture.Channels.Length == 2 && picture.Channels[1] == "A" ? 0 : fallback;
        return at >= 0 && at < picture.ChannelCount
            ? at
            : throw new PictureException($"The picture has no channel '{name}', which the reading asks for.");
    }

    private sealed class One(int n, int at, ColourEncoding? decode) : ChannelTaker
    {
        public override void Row(ReadOnlySpan<float> picture, Span<float> taken)
        {
            for (var x = 0; x < taken.Length; x++)
                taken[x] = decode is null ? picture[x * n + at] : decode.Decode(picture[x * n + at]);
        }
    }

    private sealed class Luminance(int n, ColourEncoding? decode) : ChannelTaker
    {
        public override void Row(ReadOnlySpan<float> picture, Span<float> taken)
        {
            for (var x = 0; x < taken.Length; x++)
            {
                float r = picture[x * n],
                    g = picture[x * n + 1],
                    b = picture[x * n + 2];
                // Three equal channels are that grey exactly; otherwise the weights of ITU-R BT.709.
                var y = r == g && g == b ? r : 0.2126f * r + 0.7152f * g + 0.0722f * b;
                taken[x] = decode is null ? y : decode.Decode(y);
            }
        }
    }

    private sealed class TwoChannelNormal(int n) : ChannelTaker
    {
        public override void Row(ReadOnlySpan<float> picture, Span<float> taken)
        {
            for (var x = 0; x < taken.Length / 3; x++)
            {
                float r = picture[x * n],
                    g = picture[x * n + 1],
                    nx = 2 * r - 1,
                    ny = 2 * g - 1;
                taken[3 * x] = r;
                taken[3 * x + 1] = g;
                taken[3 * x + 2] = 0.5f + 0.5f * MathF.Sqrt(MathF.Max(0, 1 - nx * nx - ny * ny));
            }
        }
    }

    private sealed class Three : ChannelTaker
    {
        private readonly int n;
        private readonly bool grey;
        private readonly float[]? table;
        private readonly int codes;
        private readonly ColourTransform? transform;

        public Three(int n, bool grey, ColourTransform? transform, SampleType type)
        {
            (this.n, this.grey, this.transform) = (n, grey, transform);
            if (transform is { IsIdentity: false } && type is SampleType.U8 or SampleType.U16 && !transform!.From.IsLinear)
            {
                // Integer files: the curve is a table, the matrix remains.
                codes = type == SampleType.U8 ? 255 : 65535;
                table = [.. Enumerable.Range(0, codes + 1).Select(i => transform.From.Encoding.Decode(i / (float)codes))];
                this.transform = ColourTransform.Between(transform.From.Linear, transform.To);
            }
        }

        public override void Row(ReadOnlySpan<float> picture, Span<float> taken)
        {
            for (int x = 0, from = 0; x < taken.Length; x += 3, from += n)
            {
                float r = picture[from],
                    g = grey ? r : picture[from + 1],
                    b = grey ? r : picture[from + 2];
                if (table is not null)
                    (r, g, b) = (table[(int)(r * codes + 0.5f)], table[(int)(g * codes + 0.5f)], table[(int)(b * codes + 0.5f)]);
                (taken[x], taken[x + 1], taken[x + 2]) = (r, g, b);
            }
            transform?.Apply(taken);
        }
    }
}
