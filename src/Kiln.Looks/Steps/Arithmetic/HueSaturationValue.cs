using System.Numerics;

namespace Kiln.Looks.Steps.Arithmetic;

/// <summary>
/// Hue, saturation and value of linear colours (Smith, "Color Gamut Transform Pairs", SIGGRAPH 1978), adjusted as MaterialX 1.39
/// <c>hsvadjust</c> says: hue plus, saturation and value times.
/// </summary>
public static class HueSaturationValue
{
    /// <param name="amount">Turns of hue to add, and the factors of saturation and value.</param>
    public static Vector3 Adjust(Vector3 rgb, Vector3 amount)
    {
        float most = MathF.Max(rgb.X, MathF.Max(rgb.Y, rgb.Z)),
            least = MathF.Min(rgb.X, MathF.Min(rgb.Y, rgb.Z)),
            spread = most - least;
        float hue = 0,
            saturation = most > 0 ? spread / most : 0;
        if (saturation > 0)
        {
            hue =
                rgb.X >= most ? (rgb.Y - rgb.Z) / spread
                : rgb.Y >= most ? 2 + (rgb.Z - rgb.X) / spread
                : 4 + (rgb.X - rgb.Y) / spread;
            hue /= 6;
            if (hue < 0)
                hue += 1;
        }
        return ToRgb(hue + amount.X, saturation * amount.Y, most * amount.Z);
    }

    private static Vector3 ToRgb(float hue, float saturation, float value)
    {
        if (saturation < 0.0001f)
            return new(value);
        hue = 6 * (hue - MathF.Floor(hue));
        var sector = Math.Min(5, (int)hue);
        float f = hue - sector,
            p = value * (1 - saturation),
            q = value * (1 - saturation * f),
            t = value * (1 - saturation * (1 - f));
        return sector switch
        {
            0 => new(value, t, p),
            1 => new(q, value, p),
            2 => new(p, value, t),
            3 => new(p, q, value),
            4 => new(t, p, value),
            _ => new(value, p, q),
        };
    }
}
