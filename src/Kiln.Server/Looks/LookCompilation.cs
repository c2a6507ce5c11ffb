using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Proof.Materials;
using Kiln.Server.Configs;
using Kiln.Server.Platform;
using Kiln.Store.Contents;

namespace Kiln.Server.Looks;

/// <summary>Networks and render-ready surfaces of looks, kept by document hash, so that only what changed is made again.</summary>
public sealed class LookCompilation(
    DialectProfiles profiles,
    MapTextures textures,
    ContentStore store,
    ConfigRegistry colour,
    StudioCache cache
)
{
    /// <summary>The neutral look is rendered by the formulas of this profile: the neutral inputs are its inputs.</summary>
    private const string Neutral = "openpbr";
    private const int MegabytesOfSurface = 8;

    private readonly BakedBefore before = new();

    /// <summary>The profile by which a look is rendered, as a dialect or as itself.</summary>
    public DialectProfile Profile(string? dialect) => profiles.Find(dialect ?? Neutral);

    /// <summary>What is written depends on the config's names.</summary>
    private string Config => colour.Current.Names?.Config.Hash ?? "";

    /// <param name="longest">Limits baked files for previews; null for the real thing.</param>
    /// <param name="convertTextures">Whether colour maps are written converted to the working space rather than as they are and
    /// tagged.</param>
    public Task<CompiledLook> CompileAsync(
        Look look,
        string dialect,
        WorkingSpace working,
        int? longest = null,
        bool convertTextures = false
    ) =>
        cache.OnceAsync(
            "network",
            $"{LookJson.Hash(look)}/{profiles.Find(dialect).Hash}/{working.Id}/{longest}/{convertTextures}/{Config}",
            () =>
                new DialectCompiler(
                    profiles.Find(dialect),
                    new Bakery(textures, store, longest, before),
                    new CompileOptions(working.Id, colour.NameOf, convertTextures)
                ).CompileAsync(look)
        );

    /// <param name="dialect">Null for the look as itself.</param>
    public Task<ProofMaterial> MaterialAsync(Look look, string? dialect, WorkingSpace working, int? longest) =>
        cache.OnceAsync(
            "surface",
            $"{LookJson.Hash(look)}/{dialect}/{Profile(dialect).Hash}/{working.Id}/{longest}/{Config}",
            async () => await ProofMaterial.LoadAsync(await SurfaceAsync(look, dialect, working, longest), textures, longest),
            _ => MegabytesOfSurface
        );

    /// <summary>The surface before its maps are loaded.</summary>
    /// <param name="dialect">Null for the look as itself.</param>
    /// <param name="live">Of the look as itself: numbers that stay numbers of their own.</param>
    public async Task<SurfaceGraph> SurfaceAsync(Look look, string? dialect, WorkingSpace working, int? longest, LiveValues? live = null) =>
        dialect is null
            ? SurfaceGraph.OfLook(look, profiles.Find(Neutral), working, live)
            : OfNetwork(await CompileAsync(look, dialect, working, longest), dialect);

    /// <summary>The same of a look that is only tried out in passing: nothing is kept of it, and nothing baked.</summary>
    /// <exception cref="LookException">It cannot be without a baked file.</exception>
    /// <param name="longest">As the look itself was compiled with, whose baked files serve for parts that stay as they are.</param>
    public async Task<SurfaceGraph> TriedSurfaceAsync(Look look, string? dialect, WorkingSpace working, int? longest, LiveValues? live) =>
        dialect is null
            ? SurfaceGraph.OfLook(look, profiles.Find(Neutral), working, live)
            : OfNetwork(
                await new DialectCompiler(
                    profiles.Find(dialect),
                    new Bakery(textures, null, longest, before),
                    new CompileOptions(working.Id, colour.NameOf)
                ).CompileAsync(look),
                dialect
            );

    private SurfaceGraph OfNetwork(CompiledLook compiled, string dialect) =>
        SurfaceGraph.OfNetwork(compiled.Network, profiles.Find(dialect), name => colour.Current.Names?.OursFor(name) ?? name);

    /// <summary>A look by a profile that is only tried: nothing is kept of it.</summary>
    public async Task<(CompiledLook Compiled, ProofMaterial Material)> TryAsync(
        Look look,
        DialectProfile profile,
        WorkingSpace working,
        int longest,
        CancellationToken cancel
    )
    {
        var compiled = await new DialectCompiler(
            profile,
            new Bakery(textures, store, longest),
            new CompileOptions(working.Id, colour.NameOf)
        ).CompileAsync(look, cancel);
        return (
            compiled,
            await ProofMaterial.OfNetworkAsync(
                compiled.Network,
                profile,
                textures,
                longest,
                name => colour.Current.Names?.OursFor(name) ?? name,
                cancel
            )
        );
    }
}
