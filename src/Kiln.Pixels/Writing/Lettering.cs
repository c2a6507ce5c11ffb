using System.Net;
using NetVips;

namespace Kiln.Pixels.Writing;

/// <summary>Lines of text in pictures, in a typeface that comes along as a file.</summary>
/// <param name="fontFile">A TrueType font.</param>
/// <param name="family">Its family's name.</param>
public sealed class Lettering(string fontFile, string family)
{
    /// <summary>Draws a line in a grey over a picture of 8 bit RGB; what is wider than there is room for ends in an ellipsis.</summary>
    /// <param name="x">Left edge, pixels.</param>
    /// <param name="y">Top of the line, pixels.</param>
    /// <param name="size">Pixels to the em.</param>
    /// <param name="room">Widest, pixels.</param>
    public void Draw(ImageBuffer on, int x, int y, int size, int room, string text, byte grey = 0x26)
    {
        var shown = string.Join(' ', text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        if (shown.Length == 0)
            return;
        var line = Line(shown, size);
        for (var length = shown.Length; line.Width > room && length > 1; line = Line(shown[..length].TrimEnd() + "…", size))
        {
            length = Math.Min(length - 1, length * room / line.Width);
            line.Dispose();
        }
        using (line)
            Blend(on, line, x, y + line.Yoffset, grey);
    }

    private Image Line(string text, int size) =>
        Image.Text(WebUtility.HtmlEncode(text), font: $"{family} {size}", fontfile: fontFile, dpi: 72);

    private static void Blend(ImageBuffer on, Image line, int x, int y, byte grey)
    {
        var layer = line.WriteToMemory<byte>();
        for (var row = Math.Max(0, -y); row < line.Height && y + row < on.Height; row++)
        for (var column = Math.Max(0, -x); column < line.Width && x + column < on.Width; column++)
        {
            var share = layer[row * line.Width + column];
            var at = ((y + row) * on.Width + x + column) * on.ChannelCount;
            for (var c = 0; c < on.ChannelCount; c++)
                on.Data[at + c] = (byte)((on.Data[at + c] * (255 - share) + grey * share + 127) / 255);
        }
    }
}
