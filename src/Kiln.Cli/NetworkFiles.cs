using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.MaterialX;
using Kiln.Exchange.Usd;
using Kiln.Looks.Document;
using Kiln.Pixels.Decoding;

namespace Kiln.Cli;

/// <summary>Networks in files: which reader takes one, and the textures beside it.</summary>
internal static class NetworkFiles
{
    public static bool IsNetwork(string path) => Path.GetExtension(path).ToLowerInvariant() is ".mtlx" or ".glb" or ".gltf" or ".usda" or ".usd" or ".usdz";

    /// <exception cref="ExchangeException">It cannot be read; the message is a sentence.</exception>
    public static Network Read(CliSession session, string path, DialectProfile profile)
    {
        if (!File.Exists(path))
            throw new ArgumentException($"There is no file '{path}'.");
        var extension = Path.GetExtension(path).ToLowerInvariant();
        var kind = extension switch { ".mtlx" => "materialx", ".glb" or ".gltf" => "gltf", ".usda" => "usd", _ => throw new LaterException($"networks in {extension} files are read in a later version; .mtlx, .glb, .gltf and .usda are read.") };
        if (kind != profile.Document)
            throw new ArgumentException($"'{Path.GetFileName(path)}' is no document of {profile.Title}.");
        var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        if (kind == "gltf")
            return GltfReader.Read(path, profile, session.Put);
        using var document = File.OpenRead(path);
        return kind == "usd" ? UsdaReader.Read(document, profile, p => Texture(session, folder, p)) : MaterialXReader.Read(document, profile.Id, p => Texture(session, folder, p));
    }

    private static MapFile Texture(CliSession session, string folder, string path)
    {
        var full = Path.GetFullPath(Path.Combine(folder, path));
        if (!full.StartsWith(folder + Path.DirectorySeparatorChar, StringComparison.Ordinal))
            throw new ExchangeException($"The texture path '{path}' leads out of the document's folder.");
        if (!File.Exists(full))
            throw new ExchangeException($"The texture '{path}' is not there.");
        using var stream = File.OpenRead(full);
        var facts = HeaderReader.Read(stream, DecodeLimits.Default);
        stream.Position = 0;
        var content = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(stream));
        session.Add(content, full);
        return MapFile.Of(content, Path.GetFileName(full), facts);
    }
}
