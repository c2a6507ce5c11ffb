using Kiln.Analysis.Consistency;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Server.Looks;
using Kiln.Server.Platform.Security;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Store.Looks;

namespace Kiln.Server.Collecting;

/// <summary>Looks to be made alike in a quantity: to a value, or to the median of what they have.</summary>
public sealed record SamenessQuery(IReadOnlyList<LookId> Looks, string Quantity, double? Target = null);

/// <summary>
/// What would be done to a look, and what comes of it as measured. Edit: null where nothing has to be done or can be; then Refused says why
/// it cannot.
/// </summary>
public sealed record SamenessProposal(LookId Id, string Name, int Revision, double? Before, double? After, LookEdit? Edit, string? Refused);

public sealed record SamenessProposals(double Target, IReadOnlyList<SamenessProposal> Looks);

/// <summary>An edit of one look among several, made on the revision that was seen.</summary>
public sealed record OwnEdit(LookId Id, int Revision, LookEdit Edit);

/// <summary>
/// Sameness: looks brought to a common measure, proposed with numbers and pictures before anything is done; duplicates found.
/// </summary>
public static class SamenessRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/looks/alike/proposals", (SamenessQuery query, AlikeProposals alike, CancellationToken cancel) =>
                alike.OfAsync(query, cancel)
            )
            .WithName("proposeAlike");
        api.MapPost("/looks/alike", (IReadOnlyList<OwnEdit> edits, ManyLooks many, HttpContext http) =>
                many.OwnAsync(edits, http.User.PersonId())
            )
            .RequireAuthorization(Access.Works)
            .WithName("makeAlike");
        api.MapPost(
                "/looks/{id:guid}/picture-after",
                async ([AsParameters] LookRequest request, LookEdit edit, LookPictures pictures, int? size) =>
                {
                    var around = await request.Contexts.OfLookAsync(request.Id);
                    var after = edit.Apply(await request.LookAsync()).Look;
                    return Results.Bytes(
                        await pictures.OfAsync(
                            after.Under(around.Trims),
                            around.Space,
                            Math.Clamp(size ?? 96, 32, 512),
                            cancel: request.Cancel
                        ),
                        PictureFormat.Jpeg.MediaType()
                    );
                }
            )
            .WithName("pictureAfter");
        api.MapGet("/looks/duplicates", async (CollectionId? collection, LookListRepository list) =>
                Duplicates.Among(
                    (await list.DocumentsAsync(collection))
                        .Select(r => (r.Id, r.Readable().Look))
                        .Where(r => r.Look is not null)
                        .Select(r => (r.Id, r.Look!))
                )
            )
            .WithName("duplicateMaps");
    }
}

/// <summary>What would have to be done to bring looks to a common measure, tried on each.</summary>
public sealed class AlikeProposals(LookRepository looks, LookContextRepository contexts, MapTextures textures)
{
    private const int Textures = 512,
        Most = 200;

    public async Task<SamenessProposals> OfAsync(SamenessQuery query, CancellationToken cancel)
    {
        if (query.Looks.Count is 0 or > Most)
            throw new LookException($"Choose between 1 and {Most} looks.");
        var measured = new List<(LookRow Row, LookMeasures? Measures, string? Trouble)>();
        foreach (var id in query.Looks.Distinct())
            if (await looks.FindAsync(id) is { } row)
                measured.Add(row.Readable() is ({ } look, _) ? await MeasuredAsync(row, look) : (row, null, row.Readable().Fault));
        var known = measured
            .Select(m => m.Measures is { } of ? Sameness.Of(of, query.Quantity) : null)
            .OfType<double>()
            .Where(v => v > 0)
            .ToList();
        if (query.Target is null && known.Count == 0)
            throw new LookException("None of these looks has anything to be measured by.");
        var target = query.Target ?? RobustSpread.Of(known).Median;
        var proposals = new List<SamenessProposal>();
        foreach (var (row, measures, trouble) in measured)
        {
            var before = measures is null ? null : Sameness.Of(measures, query.Quantity);
            try
            {
                var edit = measures is null
                    ? throw new LookException(trouble!)
                    : Sameness.Towards(row.Look(), measures, query.Quantity, target);
                var after = edit is null ? measures : (await MeasuredAsync(row, edit.Apply(row.Look()).Look)).Measures;
                proposals.Add(
                    new(row.Id, row.Name, row.Revision, before, after is null ? null : Sameness.Of(after, query.Quantity), edit, null)
                );
            }
            catch (LookException e)
            {
                proposals.Add(new(row.Id, row.Name, row.Revision, before, before, null, e.Message));
            }
        }
        return new(target, proposals);

        async Task<(LookRow Row, LookMeasures? Measures, string? Trouble)> MeasuredAsync(LookRow row, Look look)
        {
            var around = await contexts.OfLookAsync(row.Id);
            try
            {
                return (row, await LookMeasures.OfAsync(look.Under(around.Trims), textures, around.Space, Textures, cancel), null);
            }
            catch (KilnException e)
            {
                return (row, null, e.Message);
            }
        }
    }
}
