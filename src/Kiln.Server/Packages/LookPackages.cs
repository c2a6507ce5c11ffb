using Kiln.Colour;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Proof.Geometry;
using Kiln.Server.Looks;
using Kiln.Store;

namespace Kiln.Server.Packages;

/// <summary>Writes a look's package in a dialect; downloads and batches have it from here.</summary>
public sealed class LookPackages(LookCompilation compilation, DialectProfiles profiles, ContentStore store)
{
    private static readonly CarrierForm Carrier = Tile();

    public async Task<CompiledLook> WriteAsync(Stream stream, Look look, string dialect, WorkingSpace working, bool convertTextures = false)
    {
        var compiled = await compilation.CompileAsync(look, dialect, working, convertTextures: convertTextures);
        PackageWriter.Write(stream, look, compiled, LookWriter.Files(compiled.Network, profiles.Find(dialect), Carrier, store), store);
        return compiled;
    }

    private static CarrierForm Tile()
    {
        var tile = Forms.Tile();
        return new("tile", tile.Positions, tile.Normals, tile.Tangents, tile.Uvs, tile.Indices);
    }
}
