using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Looks.Maps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Server.Platform.Security;
using Kiln.Store.Contents;
using Kiln.Store.Looks;

namespace Kiln.Server.Looks;

/// <summary>A stored file to stand where another is used.</summary>
/// <param name="Looks">Those in which it is replaced; each has to use it.</param>
public sealed record Replacement(ContentHash Content, string Name, IReadOnlyList<LookId> Looks);

/// <summary>What replacing would do to a look.</summary>
public sealed record ReplacementTrial(LookId Id, string Name, int Revision, LookEdit? Edit, string? Refused);

/// <summary>Where a map is used, and another in its place everywhere.</summary>
public static class MapUseRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/contents/{hash}/users", (ContentHash hash, MapUseRepository users) => users.OfAsync(hash)).WithName("mapUsers");
        api.MapPost("/maps", (DroppedMaps dropped, HttpContext http, CancellationToken cancel) => dropped.KeepOneAsync(http, cancel))
            .RequireAuthorization(Access.Works)
            .WithName("keepMap")
            .DisableAntiforgery();
        api.MapPost(
                "/contents/{hash}/replacement/trial",
                async (ContentHash hash, Replacement by, LookRepository looks, ContentStore store) =>
                {
                    var file = FileOf(by, store);
                    var result = new List<ReplacementTrial>();
                    foreach (var id in by.Looks.Distinct())
                        if (await looks.FindAsync(id) is { } row)
                            result.Add(Tried(row, hash, file));
                    return result;
                }
            )
            .WithName("tryReplacement");
        api.MapPost("/contents/{hash}/replacement", (ContentHash hash, Replacement by, ManyLooks many, HttpContext http) =>
                many.ReplacedAsync(hash, by, http.User.PersonId())
            )
            .RequireAuthorization(Access.Works)
            .WithName("replaceMap");
    }

    private static ReplacementTrial Tried(LookRow row, ContentHash hash, MapFile file)
    {
        try
        {
            return new(row.Id, row.Name, row.Revision, FileReplacing.In(row.Look(), hash, file), null);
        }
        catch (LookException e)
        {
            return new(row.Id, row.Name, row.Revision, null, e.Message);
        }
    }

    /// <summary>What its own header says of it; nothing is believed that was sent along.</summary>
    internal static MapFile FileOf(Replacement by, ContentStore store)
    {
        if (!store.Has(by.Content))
            throw new LookException("That file is not here; bring it first.");
        using var stream = File.OpenRead(store.PathOf(by.Content));
        return MapFile.Of(by.Content, Path.GetFileName(by.Name), HeaderReader.Read(stream, DecodeLimits.Default));
    }
}
