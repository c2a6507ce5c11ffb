using System.Globalization;
using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Colour;

/// <summary>
/// Colours as people type them: <c>#c08040</c> (sRGB), <c>acescg 0.2 0.3 0.4</c> (any space's identifier), <c>lab 50 20 -10</c> (CIELAB,
/// white D65). Separated by blanks, commas or brackets.
/// </summary>
public static class ColourText
{
    private const string Lab = "lab";
    private static readonly char[] Separators = [' ', ',', ';', '(', ')', '\t'];

    /// <exception cref="FormatException">It is no colour; the message is a sentence that says what is expected.</exception>
    public static ColourValue Read(string text)
    {
        if (text.TrimStart().StartsWith('#'))
            return ColourValue.FromHex(text.Trim());
        var parts = text.Split(Separators, StringSplitOptions.RemoveEmptyEntries);
        var numbers = parts
            .Skip(1)
            .Select(p =>
                float.TryParse(p, NumberStyles.Float, CultureInfo.InvariantCulture, out var n) && float.IsFinite(n) ? n : (float?)null
            )
            .OfType<float>()
            .ToArray();
        var space = parts.Length > 0 ? parts[0].ToLowerInvariant() : "";
        if (parts.Length != 4 || numbers.Length != 3)
            throw new FormatException(
                $"'{text.Trim()}' is no colour. Write #c08040 (sRGB), or a space and three numbers: acescg 0.2 0.3 0.4, lab 50 20 -10."
            );
        if (space == Lab)
            return numbers[0] is >= 0 and <= 100
                ? ColourValue.Of(CieLab.ToXyz(numbers[0], numbers[1], numbers[2]), ColourSpace.CieXyzD65)
                : throw new FormatException($"The lightness of '{text.Trim()}' is not between 0 and 100.");
        if (!ColourSpace.Exists(space) || space == ColourSpace.Raw.Id)
            throw new FormatException(
                $"'{parts[0]}' is no space that a colour can be in. Known: lab, "
                    + $"{string.Join(", ", ColourSpace.All.Where(s => !s.IsRaw).Select(s => s.Id))}."
            );
        return new(numbers[0], numbers[1], numbers[2], space);
    }

    /// <summary>Hex where the colour is what that hex gives, else its space and numbers; read again it is the same to the bit.</summary>
    public static string Write(ColourValue colour) =>
        HexOf(colour) is { } hex && ColourValue.FromHex(hex) == colour
            ? hex
            : string.Create(CultureInfo.InvariantCulture, $"{colour.Space} {colour.R:R} {colour.G:R} {colour.B:R}");

    /// <summary>As sRGB shows it; null where sRGB cannot.</summary>
    public static string? HexOf(ColourValue colour)
    {
        const float rounding = 0.5f / 255;
        var srgb = colour.In(ColourSpace.SrgbTexture);
        if (MathF.Min(srgb.X, MathF.Min(srgb.Y, srgb.Z)) < -rounding || MathF.Max(srgb.X, MathF.Max(srgb.Y, srgb.Z)) > 1 + rounding)
            return null;
        var code = Vector3.Clamp(srgb, Vector3.Zero, Vector3.One) * 255;
        return $"#{(int)MathF.Round(code.X):x2}{(int)MathF.Round(code.Y):x2}{(int)MathF.Round(code.Z):x2}";
    }
}
