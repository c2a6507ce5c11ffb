using Kiln.Models.Files.Foreign;
using Kiln.Models.Files.Gltf;
using Kiln.Models.Files.Obj;
using Kiln.Models.Files.Usd;

namespace Kiln.Models;

/// <summary>Files of models, by their ending.</summary>
public static class ModelFiles
{
    public const long LargestFile = 2L << 30;

    public const int MostTriangles = 50_000_000;

    /// <summary>Endings of what is read.</summary>
    public static readonly IReadOnlyList<string> Endings =
    [
        ".obj",
        ".gltf",
        ".glb",
        ".usda",
        ".usdz",
        ".usd",
        ".usdc",
        .. ForeignReader.Endings,
    ];

    /// <param name="program">The assembly of a program of ours that reads in a child what is not read here (<see
    /// cref="ForeignWorker"/>).</param>
    /// <exception cref="ModelException">It is none that is read, is not there, too large, or has no faces.</exception>
    public static Model Read(string path, string program) => Read(path, foreign => ForeignWorker.Read(foreign, program));

    /// <param name="foreign">Reads what is not read here.</param>
    internal static Model Read(string path, Func<string, Model> foreign)
    {
        var name = Path.GetFileName(path);
        if (!File.Exists(path))
            throw new ModelException($"There is no file '{path}'.");
        if (!Endings.Contains(Path.GetExtension(path).ToLowerInvariant()))
            throw new ModelException($"'{name}' is no model that is read here; {string.Join(", ", Endings)} is.");
        if (new FileInfo(path).Length > LargestFile)
            throw new ModelException($"'{name}' is larger than 2 GB; split the model.");
        try
        {
            return Path.GetExtension(path).ToLowerInvariant() switch
            {
                ".obj" => ObjReader.Read(path),
                ".gltf" or ".glb" => GltfModelReader.Read(path),
                ".usda" or ".usdz" or ".usd" or ".usdc" => UsdModelReader.Read(path),
                _ => foreign(path),
            };
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new ModelException($"'{name}' cannot be read: {e.Message}", e);
        }
    }

    internal static ModelException TooMany(string path) =>
        new($"'{Path.GetFileName(path)}' has more than {MostTriangles / 1_000_000} million triangles; split the model.");
}
