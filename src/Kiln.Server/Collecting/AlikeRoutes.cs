using Kiln.Judge.Consistency;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Pixels;
using Kiln.Server.Looks;
using Kiln.Server.People;
using Kiln.Server.Proofs;
using Kiln.Store;

namespace Kiln.Server.Collecting;

/// <summary>Looks to be made alike in a quantity: to a value, or to the median of what they have.</summary>
public sealed record AlikeQuery(IReadOnlyList<Guid> Looks, string Quantity, double? Target = null);

/// <summary>What would be done to a look, and what comes of it as measured. Edit: null where nothing has to be done or can be; then Refused says why it cannot.</summary>
public sealed record AlikeProposal(Guid Id, string Name, int Revision, double? Before, double? After, LookEdit? Edit, string? Refused);

public sealed record AlikeProposals(double Target, IReadOnlyList<AlikeProposal> Looks);

/// <summary>An edit of one look among several, made on the revision that was seen.</summary>
public sealed record OwnEdit(Guid Id, int Revision, LookEdit Edit);

/// <summary>Sameness: looks brought to a common measure, proposed with numbers and pictures before anything is done; duplicates found.</summary>
public static class AlikeRoutes
{
    private const int Textures = 512,
        Most = 200;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/looks/alike/proposals", ProposeAsync).WithName("proposeAlike");
        api.MapPost("/looks/alike", (IReadOnlyList<OwnEdit> edits, ManyLooks many, HttpContext http) =>
                many.OwnAsync(edits, http.User.PersonId())
            )
            .RequireAuthorization("artist")
            .WithName("makeAlike");
        api.MapPost(
                "/looks/{id:guid}/picture-after",
                async (
                    Guid id,
                    LookEdit edit,
                    int? size,
                    LookStore looks,
                    LookPictures pictures,
                    LookSurroundings surroundings,
                    CancellationToken cancel
                ) =>
                {
                    var around = await surroundings.OfLookAsync(id);
                    var after = edit.Apply((await LookRoutes.RowAsync(looks, id)).Look()).Look;
                    return Results.Bytes(
                        await pictures.OfAsync(after.Under(around.Trims), around.Space, Math.Clamp(size ?? 96, 32, 512), cancel: cancel),
                        "image/jpeg"
                    );
                }
            )
            .WithName("pictureAfter");
        api.MapGet("/looks/duplicates", async (Guid? collection, LookList list) =>
                Duplicates.Among(
                    (await list.DocumentsAsync(collection))
                        .Select(r => (r.Id, r.Readable().Look))
                        .Where(r => r.Look is not null)
                        .Select(r => (r.Id, r.Look!))
                )
            )
            .WithName("duplicateMaps");
    }

    private static async Task<AlikeProposals> ProposeAsync(
        AlikeQuery query,
        LookStore looks,
        LookSurroundings surroundings,
        MapTextures textures,
        CancellationToken cancel
    )
    {
        if (query.Looks.Count is 0 or > Most)
            throw new LookException($"Choose between 1 and {Most} looks.");
        var measured = new List<(LookRow Row, LookMeasures? Measures, string? Trouble)>();
        foreach (var id in query.Looks.Distinct())
            if (await looks.FindAsync(id) is { } row)
                measured.Add(row.Readable() is ({ } look, _) ? await MeasuredAsync(row, look) : (row, null, row.Readable().Fault));
        var known = measured
            .Select(m => m.Measures is { } of ? Alike.Of(of, query.Quantity) : null)
            .OfType<double>()
            .Where(v => v > 0)
            .ToList();
        if (query.Target is null && known.Count == 0)
            throw new LookException("None of these looks has anything to be measured by.");
        var target = query.Target ?? RobustSpread.Of(known).Median;
        var proposals = new List<AlikeProposal>();
        foreach (var (row, measures, trouble) in measured)
        {
            var before = measures is null ? null : Alike.Of(measures, query.Quantity);
            try
            {
                var edit = measures is null
                    ? throw new LookException(trouble!)
                    : Alike.Towards(row.Look(), measures, query.Quantity, target);
                var after = edit is null ? measures : (await MeasuredAsync(row, edit.Apply(row.Look()).Look)).Measures;
                proposals.Add(
                    new(row.Id, row.Name, row.Revision, before, after is null ? null : Alike.Of(after, query.Quantity), edit, null)
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
            var around = await surroundings.OfLookAsync(row.Id);
            try
            {
                return (row, await LookMeasures.OfAsync(look.Under(around.Trims), textures, around.Space, Textures, cancel), null);
            }
            catch (Exception e) when (e is PictureException or FileNotFoundException)
            {
                return (row, null, e.Message);
            }
        }
    }
}
