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
        return NetworkDocuments.Read(path, profile, p => Texture(session, folder, p), session.Put, p => Within(folder, p) is { } full && File.Exists(full) ? File.ReadAllBytes(full) : null);
    }

    /// <summary>Null for a path that leads out of the folder.</summary>
    private static string? Within(string folder, string path) =>
        Path.GetFullPath(Path.Combine(folder, path)) is var full && full.StartsWith(folder + Path.DirectorySeparatorChar, StringComparison.Ordinal) ? full : null;

    private static MapFile? Texture(CliSession session, string folder, string path)
    {
        var full = Within(folder, path) ?? throw new ExchangeException($"The texture path '{path}' leads out of the document's folder.");
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
