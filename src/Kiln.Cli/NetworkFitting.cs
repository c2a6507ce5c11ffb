using Kiln.Analysis.Fit;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Proof.Materials;

namespace Kiln.Cli;

/// <summary>Searches trims that bring a network of one dialect, as another, closest to what it is in its own.</summary>
internal sealed class NetworkFitting(CliSession session, DialectProfile source, DialectProfile target, ConfigNames? names)
{
    /// <summary>Enough for proofs of a hundred pixels.</summary>
    private const int Textures = 1024;

    public async Task<(string Name, FitResult Result)> OfAsync(Network network, CancellationToken cancel)
    {
        var working = WorkingSpace.Find(network.WorkingSpace);
        var look = await NetworkReading.ReadAsync(source, network, Ours, new Bakery(session.Textures, session), cancel);
        var wanted = await ProofMaterial.OfNetworkAsync(network, source, session.Textures, Textures, Ours, cancel);
        var compiler = session.Compiler(target, working, names);
        var result = await new TrimFit(source, target, working).RunAsync(
            await LookSpread.OfAsync(look, session.Textures, working, Textures, cancel),
            wanted,
            async trims =>
            {
                var trimmed = look with { Trims = look.Trims.SetItem(target.Id, trims) };
                var written = (await compiler.CompileAsync(trimmed, cancel)).Network;
                return await ProofMaterial.OfNetworkAsync(written, target, session.Textures, Textures, Ours, cancel);
            },
            p => Console.Error.WriteLine($"{100 * p.Part:0} % {p.Sentence}"),
            cancel
        );
        return (look.Name, result);
    }

    private SpaceId Ours(string name) => names?.OursFor(name) ?? name;
}
