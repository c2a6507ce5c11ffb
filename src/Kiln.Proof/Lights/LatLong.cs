using System.Numerics;

namespace Kiln.Proof.Lights;

/// <summary>A picture of everything around, twice as wide as high: its middle is −z, up is +y.</summary>
internal sealed record LatLong(int Width, Vector3[] Texels)
{
    private int Height => Width / 2;

    public static Vector3 Direction(int texel, int width)
    {
        var (sinPhi, cosPhi) = MathF.SinCos(((texel % width + 0.5f) / width - 0.5f) * 2 * MathF.PI);
        var (sinTheta, cosTheta) = MathF.SinCos((texel / width + 0.5f) / (width / 2) * MathF.PI);
        return new(sinTheta * sinPhi, cosTheta, -sinTheta * cosPhi);
    }

    /// <summary>In steradians.</summary>
    public float SolidAngle(int texel)
    {
        var row = texel / Width;
        return 2 * MathF.PI / Width * (MathF.Cos(MathF.PI * row / Height) - MathF.Cos(MathF.PI * (row + 1) / Height));
    }

    public IEnumerable<int> Beside(int texel)
    {
        int x = texel % Width,
            y = texel / Width;
        yield return y * Width + (x + 1) % Width;
        yield return y * Width + (x + Width - 1) % Width;
        if (y > 0)
            yield return texel - Width;
        if (y < Height - 1)
            yield return texel + Width;
    }

    /// <summary>Smoothly interpolated.</summary>
    public Vector3 At(Vector3 d)
    {
        float u = MathF.Atan2(d.X, -d.Z) / (2 * MathF.PI) + 0.5f,
            v = MathF.Acos(Math.Clamp(d.Y, -1, 1)) / MathF.PI;
        float fx = u * Width - 0.5f,
            fy = Math.Clamp(v * Height - 0.5f, 0, Height - 1);
        int x0 = (int)MathF.Floor(fx),
            y0 = (int)fy,
            y1 = Math.Min(Height - 1, y0 + 1);
        Vector3 Texel(int x, int y) => Texels[y * Width + (x + Width) % Width];
        return Vector3.Lerp(
            Vector3.Lerp(Texel(x0, y0), Texel(x0 + 1, y0), fx - x0),
            Vector3.Lerp(Texel(x0, y1), Texel(x0 + 1, y1), fx - x0),
            fy - y0
        );
    }

    /// <summary>Itself and copies of half the size each, down to eight texels across.</summary>
    public IReadOnlyList<LatLong> Copies()
    {
        var made = new List<LatLong> { this };
        while (made[^1].Width > 8)
            made.Add(made[^1].Halved());
        return made;
    }

    private LatLong Halved()
    {
        var half = new Vector3[Texels.Length / 4];
        for (var i = 0; i < half.Length; i++)
        {
            int x = i % (Width / 2) * 2,
                y = i / (Width / 2) * 2;
            half[i] =
                0.25f * (Texels[y * Width + x] + Texels[y * Width + x + 1] + Texels[(y + 1) * Width + x] + Texels[(y + 1) * Width + x + 1]);
        }
        return new(Width / 2, half);
    }

    /// <summary>The copy whose texels are about so many steradians, and the next, mixed.</summary>
    public static Vector3 Coarse(IReadOnlyList<LatLong> copies, Vector3 direction, float steradians)
    {
        var texel = 4 * MathF.PI / copies[0].Texels.Length;
        var level = Math.Clamp(0.5f * MathF.Log2(MathF.Max(1, steradians / texel)) + 0.5f, 0, copies.Count - 1);
        var lower = Math.Min((int)level, copies.Count - 2);
        return Vector3.Lerp(copies[lower].At(direction), copies[lower + 1].At(direction), level - lower);
    }
}
