using System.Numerics;

namespace Kiln.Colour.Views;

/// <summary>
/// A view as a table over stops, for displays that cannot run it: <see cref="Side"/> cubed colours of three bytes, red fastest, between
/// <see cref="LeastStops"/> and <see cref="MostStops"/> (powers of two of linear light; what is darker is shown as the least).
/// </summary>
public static class ViewTable
{
    public const int Side = 81;
    public const float LeastStops = -12,
        MostStops = 8;

    public static byte[] Of(View view)
    {
        var result = new byte[Side * Side * Side * 3];
        Parallel.For(0, Side, b =>
        {
            var row = new float[Side * 3];
            for (var g = 0; g < Side; g++)
            {
                for (var r = 0; r < Side; r++)
                    (row[3 * r], row[3 * r + 1], row[3 * r + 2]) = (Light(r), Light(g), Light(b));
                view.Apply(row);
                var at = (b * Side + g) * Side * 3;
                for (var i = 0; i < row.Length; i++)
                    result[at + i] = (byte)MathF.Round(Math.Clamp(row[i], 0, 1) * 255);
            }
        });
        return result;
    }

    /// <summary>Light at a place of the table; the first is black.</summary>
    private static float Light(int i) => i == 0 ? 0 : MathF.Pow(2, LeastStops + (MostStops - LeastStops) * i / (Side - 1));

    /// <summary>What a display shows for a colour that has the table alone, 0..1.</summary>
    public static Vector3 Shown(byte[] table, Vector3 light)
    {
        Vector3 At(int r, int g, int b)
        {
            var i = ((b * Side + g) * Side + r) * 3;
            return new Vector3(table[i], table[i + 1], table[i + 2]) / 255f;
        }
        var (r, fr) = Place(light.X);
        var (g, fg) = Place(light.Y);
        var (b, fb) = Place(light.Z);
        Vector3 Row(int g, int b) => Vector3.Lerp(At(r, g, b), At(r + 1, g, b), fr);
        return Vector3.Lerp(Vector3.Lerp(Row(g, b), Row(g + 1, b), fg), Vector3.Lerp(Row(g, b + 1), Row(g + 1, b + 1), fg), fb);
    }

    private static (int Lower, float Between) Place(float light)
    {
        var at = Math.Clamp((MathF.Log2(MathF.Max(light, 1e-9f)) - LeastStops) / (MostStops - LeastStops), 0, 1) * (Side - 1);
        var lower = Math.Min((int)at, Side - 2);
        return (lower, at - lower);
    }
}
