using System.Numerics;
using System.Numerics.Tensors;
using System.Runtime.InteropServices;
using Kiln.Looks.Evaluation;

namespace Kiln.Viewport.Graphs;

/// <summary>A picture as a graphics processor takes it: top row first, one number a texel or four, of which the last is 1.</summary>
public static class MapTexels
{
    public static byte[] Floats(MapTexture picture, int width, int height) =>
        MemoryMarshal.AsBytes(Numbers(picture, width, height).AsSpan()).ToArray();

    public static byte[] Halves(MapTexture picture, int width, int height)
    {
        var numbers = Numbers(picture, width, height);
        var halves = new Half[numbers.Length];
        TensorPrimitives.ConvertToHalf(numbers, halves);
        return MemoryMarshal.AsBytes(halves.AsSpan()).ToArray();
    }

    /// <summary>Texel by texel where the sizes are the same, else what lies at the middle of each.</summary>
    private static float[] Numbers(MapTexture picture, int width, int height)
    {
        var components = picture.Components == 1 ? 1 : 4;
        var result = new float[width * height * components];
        var row = new float[picture.Width * picture.Components];
        var isWhole = (width, height) == (picture.Width, picture.Height);
        for (var y = 0; y < height; y++)
        {
            if (isWhole)
                picture.Read(y, 0, row);
            for (var x = 0; x < width; x++)
            {
                var value =
                    !isWhole ? picture.Sample(new((x + 0.5f) / width, 1 - (y + 0.5f) / height), 1f / Math.Max(width, height))
                    : components == 1 ? new(row[x])
                    : new Vector3(row.AsSpan(3 * x, 3));
                var to = result.AsSpan((y * width + x) * components, components);
                to[0] = value.X;
                if (components == 4)
                    (to[1], to[2], to[3]) = (value.Y, value.Z, 1);
            }
        }
        return result;
    }
}
