namespace Kiln.Testing.Files;

/// <summary>A folder that is gone afterwards.</summary>
public sealed class TemporaryFolder : IDisposable
{
    public string Path { get; } = Directory.CreateTempSubdirectory("kiln-test-").FullName;

    /// <summary>A file in it; folders above it are made.</summary>
    public string Write(string name, byte[] content)
    {
        var path = System.IO.Path.Combine(Path, name);
        Directory.CreateDirectory(System.IO.Path.GetDirectoryName(path)!);
        File.WriteAllBytes(path, content);
        return path;
    }

    public void Dispose() => Directory.Delete(Path, recursive: true);
}
