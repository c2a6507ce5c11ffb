using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Server.Proofs;
using Kiln.Store.Looks;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Looks;

/// <summary>
/// One look as a request meets it: which it is, what it stands under, who asks, on which revision, and until when. Routes take it as one
/// parameter.
/// </summary>
public record LookRequest(
    [FromRoute(Name = "id")] LookId Id,
    HttpContext Http,
    LookRepository Looks,
    LookContextRepository Contexts,
    IHubContext<ProgressHub> Hub
)
{
    public PersonId Person => Http.User.PersonId();

    /// <summary>Ends with the request.</summary>
    public CancellationToken Cancel => Http.RequestAborted;

    /// <summary>The revision that the person saw; every change says which.</summary>
    /// <exception cref="ArgumentException">The request has no If-Match with a number.</exception>
    public int Revision => RevisionOf(Http);

    internal static int RevisionOf(HttpContext http) =>
        int.TryParse(http.Request.Headers.IfMatch.ToString().Trim('"'), out var revision)
            ? revision
            : throw new ArgumentException("Say in If-Match which revision of the look the change was made on.");

    /// <exception cref="Store.MissingException">It is not there any more.</exception>
    public Task<LookRow> RowAsync() => Looks.GetAsync(Id);

    /// <summary>The document as it is kept, without trims.</summary>
    public async Task<Look> LookAsync() => (await RowAsync()).Look();

    /// <summary>The look under the trims of its collections, and the space it is worked in.</summary>
    public async Task<ViewedLook> ViewedAsync()
    {
        var around = await Contexts.OfLookAsync(Id);
        return new((await LookAsync()).Under(around.Trims), around.Space);
    }

    /// <summary>Makes an edit on the revision that the person saw, and tells all who have the look open.</summary>
    public Task<LookInfo> EditAsync(LookEdit edit) => ChangedAsync(Looks.EditAsync(Id, Revision, edit, Person));

    /// <summary>The answer to a change: what the look is now; its revision is in the ETag.</summary>
    public async Task<LookInfo> ChangedAsync(Task<LookRow> change)
    {
        var row = await change;
        await Hub.Clients.All.SendAsync("look", new { row.Id, row.Revision });
        return await InfoAsync(row);
    }

    public async Task<LookInfo> InfoAsync(LookRow row)
    {
        var working = await Contexts.OfLookAsync(row.Id);
        Http.Response.Headers.ETag = $"\"{row.Revision}\"";
        return new(
            row.Id,
            row.Name,
            row.Revision,
            row.Changed,
            row.Look(),
            new(working.Space.Id, working.Space.Space.Label, working.Reason)
        );
    }
}

/// <summary>One version of a look as a request meets it.</summary>
public sealed record VersionRequest(
    [FromRoute(Name = "id")] LookId Id,
    [FromRoute(Name = "number")] int Number,
    HttpContext Http,
    LookRepository Looks,
    LookContextRepository Contexts,
    IHubContext<ProgressHub> Hub,
    VersionRepository Versions
) : LookRequest(Id, Http, Looks, Contexts, Hub)
{
    /// <summary>As this person may see it; null where it is not there for them.</summary>
    public Task<LookVersion?> SeenAsync() => Versions.SeenAsync(Http.User, Id, Number);

    /// <exception cref="LookException">It is not there for them.</exception>
    public Task<LookVersion> RequiredAsync() => RequiredAsync(Number);

    public async Task<LookVersion> RequiredAsync(int number) =>
        await Versions.SeenAsync(Http.User, Id, number) ?? throw new LookException($"That look has no version {number}.");
}
