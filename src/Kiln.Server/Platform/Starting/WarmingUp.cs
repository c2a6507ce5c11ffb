using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Pixels.Writing;
using Kiln.Proof.Rendering;
using Kiln.Scattering;
using Kiln.Server.Looks;
using Kiln.Server.Looks.Bench;

namespace Kiln.Server.Platform.Starting;

/// <summary>
/// Does once, unseen, what a person would otherwise be the first to wait for: the forms that take long, a proof, a chain tried while a
/// slider moves.
/// </summary>
public sealed class WarmingUp(LookCompilation compilation, MapTextures textures)
{
    private const int ProofSide = 64,
        ProofSamples = 32,
        PreviewSide = 176,
        Previews = 40;

    public async Task RunAsync(CancellationToken cancel)
    {
        ProofRequest.Prepare();
        var material = await compilation.MaterialAsync(new Look { Name = "first" }, null, WorkingSpace.AcesCg, null);
        new ProofRequest("vessel", "softbox", ProofSide, ProofSide).Start(material).Accumulate(ProofSamples, cancel, threads: 1);
        var chain = new Chain(
            new NoiseOrigin(new()),
            [
                new InvertStep { Id = "s1" },
                new RemapStep { Id = "s2" },
                new CurveStep([new(0, 0), new(0.5f, 0.6f), new(1, 1)]) { Id = "s3" },
            ]
        );
        var look = new Look { Name = "first" } with
        {
            Lanes = System.Collections.Immutable.ImmutableSortedDictionary<string, Lane>.Empty.Add("specular_roughness", new(Chain: chain)),
        };
        for (var i = 0; i < Previews && !cancel.IsCancellationRequested; i++)
        {
            var graph = new ShadeGraph();
            var node = new LaneGraphs(look, graph).Chain(chain);
            var program = await ShadeProgram.LoadAsync(graph, [node], textures, null, cancel);
            var shown = ShownPicture.Of(program.Picture(node, PreviewSide, PreviewSide, graph[node].Type), graph[node].Type, graph.Working);
            PictureWriter.Png(shown, 1);
            PictureWriter.Jpeg(shown, 90);
        }
    }
}
