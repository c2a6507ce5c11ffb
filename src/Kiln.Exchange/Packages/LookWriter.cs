using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.MaterialX;
using Kiln.Exchange.Usd;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Writing;

namespace Kiln.Exchange.Packages;

/// <summary>The files of one network: the document, its node definitions, its textures under textures/. A network with UDIM tiles is a document for each tile where the dialect knows no tiles.</summary>
/// <param name="decoder">Reads pictures that are written anew in tiles.</param>
public sealed class LookWriter(CarrierForm form, IContentFiles contents, IPictureDecoder decoder)
{
    public IReadOnlyList<WrittenFile> Files(Network network, DialectProfile profile)
    {
        if (profile.Textures.Udim is null && network.IsTiled)
            return [.. network.TilesToSplit().Whole.SelectMany(tile => Files(network.OnTile(tile), profile)).DistinctBy(f => f.Path)];
        if (profile.Document == "gltf")
            return [new(network.Material + ".glb", GlbWriter.Write(network, form, contents), null)];
        var textures = network.Textures.SelectMany(t => t.File.IsTiled
            ? t.File.Tiles!.Select(tile => Texture(MapTile.Named(t.Path, tile.Number), tile.Content, profile))
            : [Texture(t.Path, t.File.Content, profile)]).ToList();
        return [.. Documents(network, profile), .. textures];
    }

    /// <summary>The same for a package: a USD layer is there once more as one file with its textures.</summary>
    public IReadOnlyList<WrittenFile> PackageFiles(Network network, DialectProfile profile)
    {
        var files = Files(network, profile);
        return profile.Document == "usd" ? [.. files, new(network.Material + ".usdz", null, null, to => UsdzArchive.Write(to, files, contents))] : files;
    }

    private IEnumerable<WrittenFile> Documents(Network network, DialectProfile profile)
    {
        if (profile.Document == "usd")
        {
            yield return new(network.Material + ".usda", UsdaWriter.Write(network, profile, form), null);
            yield break;
        }
        var definitions = NodeDefinitions.Write(profile);
        var definitionsName = definitions is null ? null : network.Material + "_defs.mtlx";
        yield return new(network.Material + ".mtlx", MaterialXWriter.Write(network, profile, definitionsName), null);
        if (definitions is not null)
            yield return new(definitionsName!, definitions, null);
    }

    private void Tiled(Stream to, string content, bool isFloat)
    {
        var picture = decoder.DecodeAsync(contents.PathOf(content)).GetAwaiter().GetResult();
        if (isFloat)
            ExrWriter.WriteTiled(to, picture);
        else
            TiledTiffWriter.Write(to, picture);
    }

    private WrittenFile Texture(string path, string content, DialectProfile profile) => profile.Textures.Tiled
        ? new(path, null, null, to => Tiled(to, content, path.EndsWith(".exr", StringComparison.Ordinal)))
        : new(path, null, content);
}
