using System.Security.Cryptography;
using System.Text.Json;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Pixels.Decoding;
using Kiln.Proof.Geometry;
using Kiln.Proof.Rendering;
using Kiln.Server.Configs;
using Kiln.Server.Looks;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Store.Contents;
using Kiln.Store.Looks;

namespace Kiln.Server.Packages;

/// <summary>Writes a look's package in a dialect; downloads and batches have it from here.</summary>
public sealed class LookPackages(
    LookCompilation compilation,
    DialectProfiles profiles,
    MapTextures textures,
    PackageContents contents,
    ThumbnailCache thumbnails,
    RenderScheduler scheduler,
    ConfigRegistry colour
)
{
    public async Task<CompiledLook> WriteAsync(Stream stream, Look look, string dialect, WorkingSpace working, bool convertTextures = false)
    {
        var profile = profiles.Find(dialect);
        Task<CompiledLook> As(string id, Look look) => compilation.CompileAsync(look, id, working, convertTextures: convertTextures);
        return await WriteAsync(stream, look, profile, As, name => colour.Current.Names?.OursFor(name) ?? name);
    }

    private async Task<CompiledLook> WriteAsync(
        Stream stream,
        Look look,
        DialectProfile profile,
        Func<string, Look, Task<CompiledLook>> compile,
        Func<string, SpaceId> spaceOf
    )
    {
        var all = await CompiledVariant.AllAsync(
            look,
            l => compile(profile.Id, l),
            profile.Beside is { } beside ? l => compile(beside, l) : null
        );
        var compiled = all[0].Compiled;
        PackageWriter.Write(
            stream,
            look,
            all,
            contents.Writer.PackageFiles(all, profile),
            contents.Store,
            await PreviewAsync(compiled.Network, profile, spaceOf)
        );
        return compiled;
    }

    private async Task<byte[]?> PreviewAsync(Network network, DialectProfile profile, Func<string, SpaceId> spaceOf)
    {
        var key = $"package/{profile.Hash}/{Convert.ToHexStringLower(SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(network)))}";
        return await thumbnails.GetAsync(key, async () =>
            {
                using var alone = await scheduler.SmallPictureSlotAsync(CancellationToken.None);
                Task Turn(Action work) =>
                    scheduler.RenderAsync(
                        () =>
                        {
                            work();
                            return true;
                        },
                        CancellationToken.None
                    );
                return await PreviewPicture.RenderAsync(network, profile, textures, spaceOf, Turn) ?? [];
            }) is { Length: > 0 } picture ? picture : null;
    }

    /// <summary>A version by the profiles, names and working space that it was made under: the same bytes for ever.</summary>
    /// <exception cref="ProfileException">The version knows no such dialect.</exception>
    public async Task<CompiledLook> WriteAsync(Stream stream, LookVersion version, string dialect)
    {
        var made = version.Context;
        // Versions of before this was kept are written by what is in force now.
        DialectProfile Profile(string id) =>
            made.Profiles.TryGetValue(id, out var text) ? DialectProfile.Read(text, id) : profiles.Find(id);
        var options = new CompileOptions(made.WorkingSpace, space => made.SpaceNames.GetValueOrDefault(space.Text, space.Text));
        Task<CompiledLook> As(string id, Look look) =>
            new DialectCompiler(Profile(id), new Bakery(textures, contents.Store), options).CompileAsync(look);
        var ours = made.SpaceNames.GroupBy(n => n.Value).ToDictionary(g => g.Key, g => g.First().Key);
        return await WriteAsync(stream, version.Rendered, Profile(dialect), As, name => ours.GetValueOrDefault(name, name));
    }
}

/// <summary>What goes into packages: stored maps, and the forms and documents written around them.</summary>
public sealed class PackageContents(ContentStore store, IPictureDecoder decoder)
{
    public ContentStore Store => store;

    public LookWriter Writer { get; } = new(Tile(), store, decoder);

    private static CarrierForm Tile()
    {
        var tile = Forms.Tile();
        return new("tile", tile.Positions, tile.Normals, tile.Tangents, tile.Uvs, tile.Indices);
    }
}
