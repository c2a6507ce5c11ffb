using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Colour;

/// <summary>A colour constant with its space: nothing is assumed of a bare triple.</summary>
public readonly record struct ColourValue(float R, float G, float B, SpaceId Space)
{
    public Vector3 In(ColourSpace space) => ColourTransform.Between(ColourSpace.Find(Space), space).Apply(new(R, G, B));

    public static ColourValue Of(Vector3 v, ColourSpace space) => new(v.X, v.Y, v.Z, space.Id);

    /// <summary>A hex value as a person types it (#rrggbb), which is sRGB; stored linear with its primaries.</summary>
    /// <exception cref="FormatException">The text is not six hexadecimal digits.</exception>
    public static ColourValue FromHex(string hex)
    {
        var digits = hex.TrimStart('#');
        if (digits.Length != 6 || !int.TryParse(digits, System.Globalization.NumberStyles.HexNumber, null, out var code))
            throw new FormatException($"'{hex}' is no hex colour; six digits are expected, such as #c08040.");
        var srgb = new Vector3(code >> 16 & 255, code >> 8 & 255, code & 255) / 255f;
        return Of(ColourTransform.Between(ColourSpace.SrgbTexture, ColourSpace.LinRec709).Apply(srgb), ColourSpace.LinRec709);
    }
}
