namespace Kiln.Dialects.Baking;

/// <summary>Where baked files go: kept by the SHA-256 of their content.</summary>
public interface IBakedFiles
{
    /// <summary>Stores the bytes and gives their SHA-256, 64 hex digits.</summary>
    string Put(byte[] content);
}
