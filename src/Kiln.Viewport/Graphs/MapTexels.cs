using System.Numerics.Tensors;
using System.Runtime.InteropServices;
using Kiln.Looks.Evaluation;

namespace Kiln.Viewport.Graphs;

/// <summary>A picture as a graphics processor takes it: top row first, one number a texel or four, of which the last is 1.</summary>
public static class MapTexels
{
    public static float[] Numbers(MapTexture picture)
    {
        if (picture.Components == 1)
        {
            var scalars = new float[picture.Width * picture.Height];
            for (var y = 0; y < picture.Height; y++)
                picture.Read(y, 0, scalars.AsSpan(y * picture.Width, picture.Width));
            return scalars;
        }
        var result = new float[picture.Width * picture.Height * 4];
        var row = new float[picture.Width * 3];
        for (var y = 0; y < picture.Height; y++)
        {
            picture.Read(y, 0, row);
            var to = result.AsSpan(y * picture.Width * 4);
            for (var x = 0; x < picture.Width; x++)
            {
                row.AsSpan(3 * x, 3).CopyTo(to[(4 * x)..]);
                to[4 * x + 3] = 1;
            }
        }
        return result;
    }

    public static byte[] Floats(MapTexture picture) => MemoryMarshal.AsBytes(Numbers(picture).AsSpan()).ToArray();

    public static byte[] Halves(MapTexture picture)
    {
        var numbers = Numbers(picture);
        var halves = new Half[numbers.Length];
        TensorPrimitives.ConvertToHalf(numbers, halves);
        return MemoryMarshal.AsBytes(halves.AsSpan()).ToArray();
    }
}
