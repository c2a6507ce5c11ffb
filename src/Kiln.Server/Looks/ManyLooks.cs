using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Looks.Steps;
using Kiln.Pixels;
using Kiln.Server.Collecting;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Store.Contents;
using Kiln.Store.Looks;
using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Looks;

/// <summary>The same edit for several looks.</summary>
public sealed record EditForMany(IReadOnlyList<LookId> Looks, LookEdit Edit);

/// <summary>Lanes of one look for others; or one step of its first lane.</summary>
/// <param name="OwnMaps">Whether the others read their own maps of the same role where they have them; otherwise the files come
/// along.</param>
public sealed record LanesForMany(
    LookId From,
    IReadOnlyList<LaneAddress> Lanes,
    string? Step,
    IReadOnlyList<LookId> Looks,
    bool OwnMaps = true
);

/// <summary>What became of it in one look; a sentence where it did not fit.</summary>
public sealed record EditedLook(LookId Id, string Name, int Revision, string? Refused);

/// <summary>A look at the revision that an edit for many left it at.</summary>
public sealed record LookAtRevision(LookId Id, int Revision);

/// <summary>Edits of several looks in one gesture, and their undo in one gesture.</summary>
public sealed class ManyLooks(LookRepository looks, ContentStore store, IHubContext<ProgressHub> hub)
{
    private const int Most = 500;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/looks/edits", (EditForMany request, ManyLooks many, HttpContext http) =>
                many.EachAsync(request.Looks, _ => request.Edit, http.User.PersonId())
            )
            .RequireAuthorization(Access.Works)
            .WithName("editManyLooks")
            .TakesDocuments();
        api.MapPost("/looks/lanes", async (LanesForMany request, ManyLooks many, LookRepository looks, HttpContext http) =>
            {
                var from = (await looks.GetAsync(request.From)).Look();
                return await many.EachAsync(
                    [.. request.Looks.Where(l => l != request.From)],
                    into =>
                        request.Step is { } step
                            ? LaneCopying.Step(into, from, request.Lanes[0], step, request.OwnMaps)
                            : LaneCopying.Lanes(into, from, request.Lanes, request.OwnMaps),
                    http.User.PersonId()
                );
            })
            .RequireAuthorization(Access.Works)
            .WithName("copyLanes")
            .TakesDocuments();
        api.MapPost("/looks/undo", (IReadOnlyList<LookAtRevision> request, ManyLooks many, HttpContext http) =>
                many.UndoAsync(request, http.User.PersonId())
            )
            .RequireAuthorization(Access.Works)
            .WithName("undoManyLooks");
    }

    public Task<IReadOnlyList<EditedLook>> EachAsync(IReadOnlyList<LookId> ids, Func<Look, LookEdit> edit, PersonId person) =>
        ForAsync(ids.Distinct().Select(id => (id, (int?)null)).ToList(), row =>
            looks.EditAsync(row.Id, row.Revision, edit(row.Look()), person)
        );

    /// <summary>A stored file in the place of another.</summary>
    public Task<IReadOnlyList<EditedLook>> ReplacedAsync(ContentHash content, Replacement by, PersonId person)
    {
        var file = MapUseRoutes.FileOf(by, store);
        return EachAsync(by.Looks, look => FileReplacing.In(look, content, file), person);
    }

    /// <summary>Each look its own edit, where nobody has gone on since it was seen.</summary>
    public Task<IReadOnlyList<EditedLook>> OwnAsync(IReadOnlyList<OwnEdit> edits, PersonId person)
    {
        var by = edits.DistinctBy(e => e.Id).ToDictionary(e => e.Id);
        return ForAsync([.. by.Values.Select(e => (e.Id, (int?)e.Revision))], row =>
            looks.EditAsync(row.Id, row.Revision, by[row.Id].Edit, person)
        );
    }

    /// <summary>Takes the newest edit of each back, where nobody has gone on since.</summary>
    public Task<IReadOnlyList<EditedLook>> UndoAsync(IReadOnlyList<LookAtRevision> at, PersonId person) =>
        ForAsync(at.DistinctBy(a => a.Id).Select(a => (a.Id, (int?)a.Revision)).ToList(), row =>
            looks.UndoAsync(row.Id, row.Revision, person)
        );

    private async Task<IReadOnlyList<EditedLook>> ForAsync(
        IReadOnlyList<(LookId Id, int? Revision)> which,
        Func<LookRow, Task<LookRow>> change
    )
    {
        if (which.Count > Most)
            throw new LookException($"At most {Most} looks are edited at once.");
        var result = new List<EditedLook>();
        foreach (var (id, revision) in which)
        {
            if (await looks.FindAsync(id) is not { } row)
                continue;
            try
            {
                if (revision is { } seen && seen != row.Revision)
                    throw new LookException("Somebody went on with this look in the meantime.");
                var changed = await change(row);
                await hub.Clients.All.SendAsync("look", new { changed.Id, changed.Revision });
                result.Add(new(id, changed.Name, changed.Revision, null));
            }
            catch (KilnException e)
            {
                result.Add(new(id, row.Name, row.Revision, e.Message));
            }
        }
        return result;
    }
}
