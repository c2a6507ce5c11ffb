using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.MaterialX;
using Kiln.Exchange.Usd;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;

namespace Kiln.Exchange.Packages;

/// <summary>A file to be written: its relative path, and its bytes or the stored content they are copied from.</summary>
public sealed record WrittenFile(string Path, byte[]? Bytes, string? Content);

/// <summary>The files of one network: the document, its node definitions, its textures under textures/. A network with UDIM tiles is a document for each tile where the dialect knows no tiles.</summary>
public static class LookWriter
{
    public static IReadOnlyList<WrittenFile> Files(Network network, DialectProfile profile, CarrierForm form, IContentFiles files)
    {
        if (profile.Textures.Udim is null && network.IsTiled)
            return [.. network.TilesToSplit().Whole.SelectMany(tile => Files(network.OnTile(tile), profile, form, files)).DistinctBy(f => f.Path)];
        var result = new List<WrittenFile>();
        if (profile.Document == "gltf")
        {
            result.Add(new(network.Material + ".glb", GlbWriter.Write(network, form, files), null));
            return result;
        }
        if (profile.Document == "usd")
        {
            result.Add(new(network.Material + ".usda", UsdaWriter.Write(network, profile, form), null));
        }
        else
        {
            var definitions = NodeDefinitions.Write(profile);
            var definitionsName = definitions is null ? null : network.Material + "_defs.mtlx";
            result.Add(new(network.Material + ".mtlx", MaterialXWriter.Write(network, profile, definitionsName), null));
            if (definitions is not null)
                result.Add(new(definitionsName!, definitions, null));
        }
        result.AddRange(network.Textures.SelectMany(t => t.File.IsTiled
            ? t.File.Tiles!.Select(tile => new WrittenFile(MapTile.Named(t.Path, tile.Number), null, tile.Content))
            : [new WrittenFile(t.Path, null, t.File.Content)]));
        return result;
    }
}
