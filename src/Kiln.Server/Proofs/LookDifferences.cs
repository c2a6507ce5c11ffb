using System.Collections.Immutable;
using System.Text.Json;
using Kiln.Analysis.Difference;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Proof.Rendering;
using Kiln.Server.Configs;
using Kiln.Server.Looks;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Server.Proofs.Thumbnails;

namespace Kiln.Server.Proofs;

/// <summary>ΔE2000 over a picture.</summary>
public sealed record DifferenceFigures(float Mean, float Percentile95, float Greatest);

/// <summary>What two renderings of looks differ by, in figures.</summary>
public sealed class LookDifferences(LookViews views, RenderScheduler scheduler)
{
    public async Task<DifferenceFigures> BetweenDialectsAsync(LookId id, CompareQuery query, CancellationToken cancel)
    {
        var viewed = await views.OfAsync(id);
        return Figures(await RenderedAsync(viewed, query.First, query, cancel), await RenderedAsync(viewed, query.Second, query, cancel));
    }

    /// <summary>A version, under the trims of then, against what is on the bench now.</summary>
    public async Task<DifferenceFigures> ToNowAsync(LookId id, Look version, CancellationToken cancel)
    {
        var now = await views.OfAsync(id);
        var query = new CompareQuery(null, null);
        return Figures(await RenderedAsync(now.With(version), null, query, cancel), await RenderedAsync(now, null, query, cancel));
    }

    private static DifferenceFigures Figures(ImageBuffer first, ImageBuffer second)
    {
        var difference = DeltaE.Between(first, second);
        return new(difference.Mean, difference.Percentile95, difference.Greatest);
    }

    private async Task<ImageBuffer> RenderedAsync(ViewedLook viewed, string? dialect, CompareQuery query, CancellationToken cancel)
    {
        var side = Math.Clamp(query.Size, 32, 1024);
        var view = views.View(query.View, viewed.Working);
        var material = await views.MaterialAsync(viewed, dialect, cancel);
        var tracer = await views.StartAsync(new ProofRequest(query.Form, query.Light, side, side), material);
        for (var done = 0; done < Math.Clamp(query.Samples, 1, 512); done += 8)
            await scheduler.RenderAsync(
                hold =>
                {
                    tracer.Accumulate(8, cancel, hold: hold);
                    return true;
                },
                cancel
            );
        return view.Apply(tracer.Picture());
    }
}

/// <summary>What each approximated or lost line of a report costs; measured once for each document.</summary>
public sealed class ReportFigures(
    LookViews views,
    LookCompilation compilation,
    MapTextures textures,
    RenderScheduler scheduler,
    ThumbnailCache thumbnails,
    ConfigRegistry colour
)
{
    /// <summary>Longest side of maps where figures of lines are measured.</summary>
    private const int Textures = 512;

    public async Task<IReadOnlyList<LineFigure>> OfAsync(LookId id, string dialect, CancellationToken cancel)
    {
        var viewed = await views.OfAsync(id);
        // Without the trims: what the dialect cannot say, not what a person corrects.
        viewed = viewed.With(viewed.Look with { Trims = ImmutableSortedDictionary<string, ImmutableArray<Trim>>.Empty });
        var key =
            $"figures/{LookJson.Hash(viewed.Look)}/{compilation.Profile(dialect).Hash}/{viewed.Working.Id}/"
            + colour.Current.Names?.Config.Hash;
        var bytes = await thumbnails.GetAsync(key, () => MeasureAsync(viewed, dialect, cancel));
        return JsonSerializer.Deserialize<List<LineFigure>>(bytes)!;
    }

    private async Task<byte[]> MeasureAsync(ViewedLook viewed, string dialect, CancellationToken cancel)
    {
        using var alone = await scheduler.SmallPictureSlotAsync(cancel);
        Task Turn(Action piece) =>
            scheduler.RenderAsync(
                () =>
                {
                    piece();
                    return true;
                },
                cancel
            );
        var figures = new LineFigures(compilation.Profile(null), textures, viewed.Working, Turn);
        var compiled = await compilation.CompileAsync(viewed.Look, dialect, viewed.Working, Textures);
        SpaceId Ours(string name) => colour.Current.Names?.OursFor(name) ?? name;
        return JsonSerializer.SerializeToUtf8Bytes(
            await figures.MeasureAsync(viewed.Look, compiled, compilation.Profile(dialect), Ours, cancel)
        );
    }
}
