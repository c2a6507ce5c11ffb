using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange;
using Kiln.Exchange.Documents;
using Kiln.Looks.Document;
using Kiln.Pixels.Decoding;

namespace Kiln.Cli;

/// <summary>Networks in files of this disk, with the textures beside them.</summary>
internal static class NetworkFiles
{
    /// <exception cref="ExchangeException">It cannot be read; the message is a sentence.</exception>
    public static Network Read(CliSession session, string path, DialectProfile profile)
    {
        if (!File.Exists(path))
            throw new ArgumentException($"There is no file '{path}'.");
        var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        return NetworkDocuments.Read(path, profile, p => Texture(session, folder, p), session.Put);
    }

    private static MapFile? Texture(CliSession session, string folder, string path)
    {
        var full = Path.GetFullPath(Path.Combine(folder, path));
        if (!full.StartsWith(folder + Path.DirectorySeparatorChar, StringComparison.Ordinal))
            throw new ExchangeException($"The texture path '{path}' leads out of the document's folder.");
        if (!File.Exists(full))
        {
            Console.Error.WriteLine($"kiln: the texture '{path}' is not there; what reads it stays without.");
            return null;
        }
        using var stream = File.OpenRead(full);
        var facts = HeaderReader.Read(stream, DecodeLimits.Default);
        stream.Position = 0;
        var content = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(stream));
        session.Add(content, full);
        return MapFile.Of(content, Path.GetFileName(full), facts);
    }
}
