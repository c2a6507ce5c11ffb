using System.Collections.Immutable;
using System.Threading.Channels;
using Kiln.Analysis.Fit;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Server.Looks;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Store.Looks;

namespace Kiln.Server.Proofs;

/// <summary>Searches trims for a look in a dialect, and tells line by line how far it is.</summary>
public sealed class TrimFits(
    LookRepository looks,
    LookContextRepository contexts,
    LookCompilation compilation,
    MapTextures textures,
    RenderScheduler scheduler
)
{
    /// <summary>Enough for proofs of a hundred pixels.</summary>
    private const int Textures = 1024;

    /// <returns>Lines as they come; they end with the result or a sentence.</returns>
    public async Task<ChannelReader<FitLine>> BeginAsync(FitQuery query, string person, CancellationToken cancel)
    {
        var (id, dialect, from) = query;
        // What is found replaces the look's own trims; the dialect to be met has those of its studio.
        var around = await contexts.OfLookAsync(id);
        var (look, working) = ((await looks.GetAsync(id)).Look(), around.Space);
        Task Turn(Action piece, CancellationToken c) =>
            scheduler.RenderAsync(
                () =>
                {
                    piece();
                    return true;
                },
                c,
                person: person
            );
        var fit = new TrimFit(compilation.Profile(from), compilation.Profile(dialect), working, Turn);
        var lines = Channel.CreateUnbounded<FitLine>();
        _ = WorkAtHand.Apart(
            async () =>
            {
                try
                {
                    var result = await fit.RunAsync(
                        await LookSpread.OfAsync(look, textures, working, Textures, cancel),
                        await compilation.MaterialAsync(look.Under(around.Trims), from, working, Textures),
                        trims => compilation.MaterialAsync(With(look, dialect, trims), dialect, working, Textures),
                        p => lines.Writer.TryWrite(new(Progress: p)),
                        cancel
                    );
                    lines.Writer.TryWrite(new(Result: result));
                    lines.Writer.Complete();
                }
                catch (Exception e) when (ProblemSentences.SentenceOf(e) is { } sentence)
                {
                    lines.Writer.TryWrite(new(Trouble: sentence));
                    lines.Writer.Complete();
                }
                catch (Exception e)
                {
                    // Whoever reads the lines gets the fault.
                    lines.Writer.Complete(e);
                }
            },
            cancel
        );
        return lines.Reader;
    }

    private static Look With(Look look, string dialect, ImmutableArray<Trim> trims) =>
        look with
        {
            Trims = trims.IsEmpty ? look.Trims.Remove(dialect) : look.Trims.SetItem(dialect, trims),
        };
}
