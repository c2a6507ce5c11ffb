using System.CommandLine;
using System.Security.Cryptography;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange;
using Kiln.Exchange.Documents;
using Kiln.Looks.Maps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;

namespace Kiln.Cli;

/// <summary>Networks in files of this disk, with the textures beside them or below the roots that a person names.</summary>
/// <param name="roots">Folders in which textures may lie beside the document's own.</param>
internal sealed class NetworkFiles(CliSession session, IReadOnlyList<string> roots)
{
    /// <summary>The option by which a verb is told the roots.</summary>
    public static Option<string[]> Roots() =>
        new("--texture-root") { Description = "a folder in which textures may lie beside the document's own; may be given several times" };

    /// <summary>What could not be read beside the documents, as sentences.</summary>
    public List<string> Remarks { get; } = [];

    /// <param name="material">The one material wanted; null for all.</param>
    /// <exception cref="ExchangeException">It cannot be read; the message is a sentence.</exception>
    public IReadOnlyList<Network> Read(string path, DialectProfile profile, string? material = null)
    {
        if (!File.Exists(path))
            throw new ArgumentException($"There is no file '{path}'.");
        RegularFiles.Check(path);
        var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        var networks = NetworkDocuments.Read(
            path,
            profile,
            p => Texture(folder, p),
            session.Put,
            p => Found(folder, p) is { } full ? File.ReadAllBytes(full) : null
        );
        Missing(folder, networks);
        if (material is null)
            return networks;
        return networks.Where(n => n.Material == material).ToList() is { Count: > 0 } wanted
            ? wanted
            : throw new ArgumentException(
                $"'{Path.GetFileName(path)}' has no material '{material}' of {profile.Title}; it has "
                    + $"{string.Join(", ", networks.Select(n => $"'{n.Material}'").Take(20))}."
            );
    }

    /// <summary>The file behind a path as written: below the document's folder, or below a root; null where none is there.</summary>
    private string? Found(string folder, string path)
    {
        var bases = roots.Select(Path.GetFullPath).Prepend(folder).ToList();
        foreach (var from in bases)
        {
            var full = Path.GetFullPath(Path.Combine(from, path.Replace('\\', '/')));
            if (bases.Any(b => full.StartsWith(b.TrimEnd('/') + "/", StringComparison.Ordinal)) && RegularFiles.Is(full))
                return full;
        }
        return null;
    }

    private MapFile? Texture(string folder, string path)
    {
        if (Found(folder, path) is not { } full)
            return null;
        try
        {
            using var stream = File.OpenRead(full);
            var facts = HeaderReader.Read(stream, DecodeLimits.Default);
            stream.Position = 0;
            var content = ContentHash.Of(stream);
            session.Add(content, full);
            return MapFile.Of(content, Path.GetFileName(full), facts);
        }
        catch (PictureException e)
        {
            Say($"The texture '{path}' cannot be read: {e.Message}");
            return null;
        }
    }

    private void Missing(string folder, IEnumerable<Network> networks)
    {
        foreach (var texture in networks.SelectMany(n => n.Textures).Where(t => t.File.Content == NetworkDocuments.Gone(t.Path).Content))
            Say(
                Path.GetFullPath(Path.Combine(folder, texture.Path)).StartsWith(folder.TrimEnd('/') + "/", StringComparison.Ordinal)
                    ? $"The texture '{texture.Path}' is not there."
                    : throw new ExchangeException(
                        $"The texture path '{texture.Path}' leads out of the document's folder; name the folder that it may lead "
                            + "to with --texture-root."
                    )
            );
    }

    private void Say(string sentence)
    {
        if (Remarks.Contains(sentence))
            return;
        Remarks.Add(sentence);
        Console.Error.WriteLine("kiln: " + sentence);
    }
}
