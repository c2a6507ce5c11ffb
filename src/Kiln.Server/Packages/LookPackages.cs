using Kiln.Colour;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Proof.Geometry;
using Kiln.Server.Looks;
using Kiln.Store;

namespace Kiln.Server.Packages;

/// <summary>Writes a look's package in a dialect; downloads and batches have it from here.</summary>
public sealed class LookPackages(LookCompilation compilation, DialectProfiles profiles, MapTextures textures, ContentStore store)
{
    private static readonly CarrierForm Carrier = Tile();

    public async Task<CompiledLook> WriteAsync(Stream stream, Look look, string dialect, WorkingSpace working, bool convertTextures = false)
    {
        var compiled = await compilation.CompileAsync(look, dialect, working, convertTextures: convertTextures);
        PackageWriter.Write(stream, look, compiled, LookWriter.Files(compiled.Network, profiles.Find(dialect), Carrier, store), store);
        return compiled;
    }

    /// <summary>A version by the profiles, names and working space that it was made under: the same bytes for ever.</summary>
    /// <exception cref="ProfileException">The version knows no such dialect.</exception>
    public async Task<CompiledLook> WriteAsync(Stream stream, LookVersion version, string dialect)
    {
        var made = version.Surroundings;
        // Versions of before this was kept are written by what is in force now.
        var profile = made.Profiles.TryGetValue(dialect, out var text) ? DialectProfile.Read(text, dialect) : profiles.Find(dialect);
        var options = new CompileOptions(made.WorkingSpace, name => made.SpaceNames.GetValueOrDefault(name, name));
        var compiled = await new DialectCompiler(profile, new Bakery(textures, store), options).CompileAsync(version.Look);
        PackageWriter.Write(stream, version.Look, compiled, LookWriter.Files(compiled.Network, profile, Carrier, store), store);
        return compiled;
    }

    private static CarrierForm Tile()
    {
        var tile = Forms.Tile();
        return new("tile", tile.Positions, tile.Normals, tile.Tangents, tile.Uvs, tile.Indices);
    }
}
