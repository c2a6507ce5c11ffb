using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Proof.Rendering;
using Kiln.Store;
using Kiln.Store.Contents;
using Kiln.Store.Looks;

namespace Kiln.Cli;

/// <summary>Looks of a server's database written as packages, one after another; none takes another's name.</summary>
internal sealed class CollectionWriting(
    Database database,
    ContentStore store,
    CliSession session,
    DialectProfiles profiles,
    ConfigNames? names
)
{
    private readonly VersionRepository versions = new(database);
    private readonly LookContextRepository contexts = new(database);
    private readonly MapTextures textures = new(session.Decoder, store);
    private readonly LookWriter writer = new(CliSession.TileCarrier(), store, session.Decoder);

    /// <summary>Two looks may be called alike; neither takes the other's place.</summary>
    private readonly HashSet<string> taken = new(StringComparer.OrdinalIgnoreCase);

    /// <param name="isDraft">The look as it is now; else its newest published version.</param>
    /// <returns>The version that was written, null for the draft; the file; the report.</returns>
    /// <exception cref="LookException">No version of it is published.</exception>
    public async Task<(int? Version, string File, ConversionReport Report)> WriteAsync(
        LookRow row,
        DialectProfile target,
        bool isDraft,
        string folder,
        CancellationToken cancel
    )
    {
        int? number = isDraft
            ? null
            : await versions.PublishedAsync(row.Id)
                ?? throw new LookException("no version of it is published; --drafts writes it as it is");
        var version = number is { } n ? await versions.FindAsync(row.Id, n) : null;
        var around = await contexts.OfLookAsync(row.Id);
        var look = version?.Rendered ?? row.Look().Under(around.Trims);
        var options = new CompileOptions(version is null ? around.Space.Id : version.Context.WorkingSpace, NameOf(version));
        Task<CompiledLook> As(string id, Look of) =>
            new DialectCompiler(Profile(version, id), new Bakery(textures, store), options).CompileAsync(of, cancel);
        var all = await CompiledVariant.AllAsync(look, l => As(target.Id, l), target.Beside is { } beside ? l => As(beside, l) : null);
        var compiled = all[0].Compiled;
        var stem = FreeNames.Of(compiled.Network.Material, n => taken.Contains(n.Replace(' ', '_'))).Replace(' ', '_');
        taken.Add(stem);
        var preview = await PreviewPicture.RenderAsync(
            compiled.Network,
            target,
            textures,
            name => names?.OursFor(name) ?? name,
            cancel: cancel
        );
        var name = $"{stem}_{target.Id}.zip";
        await using (var file = File.Create(Path.Combine(folder, name)))
            PackageWriter.Write(file, look, all, writer.PackageFiles(all, target), store, preview);
        return (number, name, compiled.Report);
    }

    /// <summary>A version is written by the profiles of its time.</summary>
    private DialectProfile Profile(LookVersion? version, string id) =>
        version is not null && version.Context.Profiles.TryGetValue(id, out var text) ? DialectProfile.Read(text, id) : profiles.Find(id);

    private Func<SpaceId, string>? NameOf(LookVersion? version) =>
        version is not null ? space => version.Context.SpaceNames.GetValueOrDefault(space.Text, space.Text)
        : names is null ? null
        : names.NameOf;
}
