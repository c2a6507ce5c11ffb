using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.MaterialX;
using Kiln.Exchange.Usd;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Maps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Exchange.Packages;

/// <summary>
/// The files of one network: the document, its node definitions, its textures under textures/. A network with UDIM tiles is a document for
/// each tile where the dialect knows no tiles.
/// </summary>
/// <param name="decoder">Reads pictures that are written anew in tiles.</param>
public sealed class LookWriter(CarrierForm form, IContentFiles contents, IPictureDecoder decoder)
{
    /// <param name="variants">In one document where the dialect has a word for them (glTF, USD), else as materials of their own.</param>
    public IReadOnlyList<WrittenFile> Files(Network network, DialectProfile profile, IReadOnlyList<NetworkVariant>? variants = null) =>
        Files(new NetworkVariant("", network), profile, variants ?? []);

    private IReadOnlyList<WrittenFile> Files(NetworkVariant look, DialectProfile profile, IReadOnlyList<NetworkVariant> variants)
    {
        var all = NetworkVariants.Apart(look, variants);
        if (profile.Textures.Udim is null && all.Any(v => v.Network.IsTiled))
            return
            [
                .. TilesOf([.. all.Select(v => v.Network)])
                    .SelectMany(tile => Written([.. all.Select(v => v with { Network = v.Network.OnTile(tile) })], profile))
                    .DistinctBy(f => f.Path),
            ];
        return [.. Written(all, profile).DistinctBy(f => f.Path)];
    }

    /// <summary>The same for a package: a USD layer is there once more as one file with its textures.</summary>
    /// <param name="all">The look as it is, then its variants.</param>
    public IReadOnlyList<WrittenFile> PackageFiles(IReadOnlyList<CompiledVariant> all, DialectProfile profile)
    {
        var files = Files(all[0].AsNetwork, profile, [.. all.Skip(1).Select(v => v.AsNetwork)]);
        return profile.Document == DocumentKind.Usd
            ? [.. files, new(all[0].Compiled.Network.Material + ".usdz", null, null, to => UsdzArchive.Write(to, files, contents))]
            : files;
    }

    /// <summary>The tiles that all of them have.</summary>
    private static IEnumerable<int> TilesOf(IReadOnlyList<Network> networks) =>
        networks.Where(n => n.IsTiled).Select(n => n.TilesToSplit().Whole.AsEnumerable()).Aggregate((a, b) => a.Intersect(b));

    private IEnumerable<WrittenFile> Written(IReadOnlyList<NetworkVariant> all, DialectProfile profile)
    {
        var network = all[0].Network;
        if (profile.Document == DocumentKind.Gltf)
            return [new(network.Material + ".glb", GlbWriter.Write(network, form, contents, [.. all.Skip(1)]), null)];
        var documents =
            profile.Document == DocumentKind.Usd
                ? [new(network.Material + ".usda", UsdaWriter.Write(all, profile, form), null)]
                : all.SelectMany(v => Documents(v.Network, profile));
        return
        [
            .. documents,
            .. all.SelectMany(v => v.Networks)
                .SelectMany(n => n.Textures)
                .DistinctBy(t => t.Path)
                .SelectMany(t =>
                    t.File.IsTiled
                        ? t.File.Tiles!.Select(tile => Texture(MapTile.Named(t.Path, tile.Number), tile.Content, profile))
                        : [Texture(t.Path, t.File.Content, profile)]
                ),
        ];
    }

    private static IEnumerable<WrittenFile> Documents(Network network, DialectProfile profile)
    {
        var definitions = NodeDefinitions.Write(profile);
        var definitionsName = definitions is null ? null : network.Material + "_defs.mtlx";
        yield return new(network.Material + ".mtlx", MaterialXWriter.Write(network, profile, definitionsName), null);
        if (definitions is not null)
            yield return new(definitionsName!, definitions, null);
    }

    private void Tiled(Stream to, ContentHash content, bool isFloat)
    {
        var picture = decoder.DecodeAsync(contents.PathOf(content)).GetAwaiter().GetResult();
        (isFloat ? PictureFormat.OpenExr : PictureFormat.Tiff).Write(to, picture, new(IsTiled: true));
    }

    private WrittenFile Texture(string path, ContentHash content, DialectProfile profile) =>
        profile.Textures.Tiled
            ? new(path, null, null, to => Tiled(to, content, path.EndsWith(".exr", StringComparison.Ordinal)))
            : new(path, null, content);
}
