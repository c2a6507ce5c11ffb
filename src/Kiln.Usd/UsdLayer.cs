using System.Text;
using Kiln.Usd.Crate;

namespace Kiln.Usd;

/// <summary>A layer in either of its forms, told by its first bytes.</summary>
public static class UsdLayer
{
    public static bool IsBinary(ReadOnlySpan<byte> start) => start.StartsWith("PXR-USDC"u8);

    /// <returns>The layer: a prim without a name, whose metadata are the layer's.</returns>
    /// <exception cref="UsdException">It is no layer, damaged, or goes beyond the limits.</exception>
    public static UsdPrim Read(Stream stream, UsdLimits? limits = null)
    {
        limits ??= UsdLimits.Materials;
        if (stream.Length > Array.MaxLength)
            throw new UsdException("The layer is larger than 2 GB.");
        var bytes = new byte[stream.Length - stream.Position];
        stream.ReadExactly(bytes);
        return IsBinary(bytes) ? UsdCrate.Parse(bytes, limits) : UsdText.Parse(Text(bytes, limits), limits);
    }

    private static string Text(byte[] bytes, UsdLimits limits)
    {
        if (bytes.Length > limits.Length)
            throw new UsdException($"The layer is longer than {limits.Length / 1_000_000} MB.");
        return Encoding.UTF8.GetString(bytes.AsSpan().StartsWith("\uFEFF"u8) ? bytes.AsSpan(3) : bytes);
    }
}
