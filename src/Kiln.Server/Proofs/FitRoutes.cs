using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Analysis.Fit;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Server.Looks;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Store;
using Kiln.Store.Looks;

namespace Kiln.Server.Proofs;

/// <summary>One line of a fit as it goes: how far it is, or, last, what it found; or a sentence why it ended.</summary>
public sealed record FitLine(FitProgress? Progress = null, FitResult? Result = null, string? Trouble = null);

/// <summary>
/// Searches trims for a look in a dialect while the person watches. Nothing is changed by it: what it finds is taken over by an edit.
/// </summary>
public static class FitRoutes
{
    /// <summary>Enough for proofs of a hundred pixels.</summary>
    private const int Textures = 1024;

    private static readonly JsonSerializerOptions Lines = new(JsonSerializerDefaults.Web)
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    public static void Map(RouteGroupBuilder api) =>
        api.MapPost("/looks/{id:guid}/fit", FitAsync).Produces<FitLine>().RequireAuthorization("artist").WithName("fitTrims");

    /// <param name="from">The dialect to be met; null for the look as itself.</param>
    private static async Task FitAsync(
        Guid id,
        string dialect,
        string? from,
        LookRepository looks,
        LookCompilation compilation,
        MapTextures textures,
        LookContextRepository spaces,
        RenderScheduler scheduler,
        HttpContext http,
        CancellationToken cancel
    )
    {
        // What is found replaces the look's own trims; the dialect to be met has those of its studio.
        var around = await spaces.OfLookAsync(id);
        var (look, working) = ((await LookRoutes.RowAsync(looks, id)).Look(), around.Space);
        var (source, target) = (compilation.Profile(from), compilation.Profile(dialect));
        http.Response.ContentType = "application/x-ndjson";
        var lines = System.Threading.Channels.Channel.CreateUnbounded<FitLine>();
        var fit = Task.Run(
            async () =>
            {
                try
                {
                    var result = await new TrimFit(source, target, working, (piece, c) => scheduler.RenderAsync(
                            () =>
                            {
                                piece();
                                return true;
                            },
                            c,
                            person: http.User.Identity!.Name!
                        )).RunAsync(await LookSpread.OfAsync(look, textures, working, Textures, cancel), await compilation.MaterialAsync(look.Under(around.Trims), from, working, Textures), trims => compilation.MaterialAsync(With(look, dialect, trims), dialect, working, Textures), p => lines.Writer.TryWrite(new(Progress: p)), cancel);
                    lines.Writer.TryWrite(new(Result: result));
                }
                catch (Exception e) when (ProblemSentences.SentenceOf(e) is { } sentence)
                {
                    lines.Writer.TryWrite(new(Trouble: sentence));
                }
                finally
                {
                    lines.Writer.Complete();
                }
            },
            cancel
        );
        await foreach (var line in lines.Reader.ReadAllAsync(cancel))
        {
            await http.Response.WriteAsync(JsonSerializer.Serialize(line, Lines) + "\n", cancel);
            await http.Response.Body.FlushAsync(cancel);
        }
        await fit;
    }

    private static Look With(Look look, string dialect, ImmutableArray<Trim> trims) =>
        look with
        {
            Trims = trims.IsEmpty ? look.Trims.Remove(dialect) : look.Trims.SetItem(dialect, trims),
        };
}
