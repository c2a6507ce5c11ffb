using Kiln.Pixels;

namespace Kiln.Dialects.Baking;

/// <summary>Where baked files go: kept by the SHA-256 of their content.</summary>
public interface IBakedFiles
{
    /// <summary>Stores the bytes under their hash.</summary>
    ContentHash Put(byte[] content);
}
