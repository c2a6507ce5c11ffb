namespace Kiln.Testing;

/// <summary>The checkout that the tests run in.</summary>
public static class Repository
{
    /// <summary>Absolute path of the repository's root.</summary>
    public static string Root { get; } = Find();

    /// <summary>Absolute path of a file or folder in the repository, given from its root.</summary>
    /// <exception cref="FileNotFoundException">It is not there; the message says so.</exception>
    public static string Path(params string[] parts)
    {
        var path = System.IO.Path.Combine([Root, .. parts]);
        return File.Exists(path) || Directory.Exists(path)
            ? path
            : throw new FileNotFoundException($"'{path}' is not there; run ./test, which makes what the tests need.");
    }

    private static string Find()
    {
        for (var folder = AppContext.BaseDirectory; folder is not null; folder = System.IO.Path.GetDirectoryName(folder))
            if (File.Exists(System.IO.Path.Combine(folder, "Kiln.slnx")))
                return folder;
        throw new DirectoryNotFoundException("The tests do not run inside a checkout of the repository.");
    }
}
