using System.Collections.Concurrent;
using Kiln.Analysis.Consistency;
using Kiln.Dialects.Lowering;
using Kiln.Looks.Ids;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Store;
using Kiln.Store.Archives;
using Kiln.Store.Collections;
using Kiln.Store.People;

namespace Kiln.Server.Archives;

/// <summary>An archive that lies unpacked and verified, waiting to be brought in.</summary>
/// <param name="Token">Names it until then, or until the server is started anew.</param>
public sealed record WaitingArchive(Guid Token, ArchivePlan Plan);

/// <param name="AsCopies">Looks that are here with something else in them and come in as looks of their own.</param>
public sealed record ImportOptions(IReadOnlyList<LookId> AsCopies);

public sealed record ImportedArchive(string Collection, int Looks);

/// <summary>Collections as archives for another server: saved, opened and looked at, brought in.</summary>
public sealed class ArchiveRoutes(KilnSettings settings, ArchiveImport bringing)
{
    private sealed record Waiting(PersonId Person, OpenedArchive Archive);

    private readonly ConcurrentDictionary<Guid, Waiting> waiting = new();

    private string Root => Path.Combine(settings.Data, "archives");

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/collections/{id:guid}/archive", async (CollectionId id, CollectionRepository collections, ArchiveWriter writer) =>
            {
                var name = (await collections.ListAsync()).FirstOrDefault(c => c.Id == id)?.Name
                    ?? throw new MissingException("collection.missing", "There is no such collection.");
                return await Download.ZipAsync(async stream =>
                {
                    await writer.WriteAsync(stream, id);
                    return $"{DialectCompiler.MaterialName(name)}_archive.zip";
                });
            })
            .RequireAuthorization(Access.Works)
            .WithName("collectionArchive");
        api.MapPost("/archives", (ArchiveRoutes archives, HttpContext http, CancellationToken cancel) => archives.OpenAsync(http, cancel))
            .RequireAuthorization(Access.Leads)
            .WithName("openArchive")
            .TakesFiles();
        api.MapPost("/archives/{token:guid}", (Guid token, ImportOptions how, ArchiveRoutes archives, HttpContext http) =>
                archives.ImportAsync(token, how, http)
            )
            .RequireAuthorization(Access.Leads)
            .WithName("bringArchive");
        api.MapDelete("/archives/{token:guid}", (Guid token, ArchiveRoutes archives, HttpContext http) =>
                archives.Discard(token, http.User.PersonId()) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Leads)
            .WithName("discardArchive");
    }

    /// <summary>As the server starts: what nobody brought in is gone.</summary>
    public void Clear()
    {
        if (Directory.Exists(Root))
            Directory.Delete(Root, recursive: true);
    }

    private async Task<WaitingArchive> OpenAsync(HttpContext http, CancellationToken cancel)
    {
        var token = Guid.CreateVersion7();
        var folder = Directory.CreateDirectory(Path.Combine(Root, token.ToString("N"))).FullName;
        try
        {
            if (http.Features.Get<Microsoft.AspNetCore.Http.Features.IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } size)
                size.MaxRequestBodySize = null;
            var file = Path.Combine(folder, "archive.zip");
            await using (var to = File.Create(file))
                await http.Request.Body.CopyToAsync(to, cancel);
            var archive = ArchiveReader.Open(file, Directory.CreateDirectory(Path.Combine(folder, "files")).FullName);
            File.Delete(file);
            foreach (var rules in archive.Header.Collection.Rules)
                CollectionRules.Read(rules.Text);
            waiting[token] = new(http.User.PersonId(), archive);
            return new(token, await bringing.PlanAsync(archive));
        }
        catch
        {
            waiting.TryRemove(token, out _);
            Directory.Delete(folder, recursive: true);
            throw;
        }
    }

    private async Task<ImportedArchive> ImportAsync(Guid token, ImportOptions how, HttpContext http)
    {
        if (!waiting.TryGetValue(token, out var own) || own.Person != http.User.PersonId())
            throw new MissingException("archive.missing", "That archive does not wait any more; open it again.");
        var assigned = await bringing.ImportAsync(own.Archive, how.AsCopies, own.Person);
        Discard(token, own.Person);
        return new(own.Archive.Header.Collection.Name, assigned);
    }

    private bool Discard(Guid token, PersonId person)
    {
        if (!waiting.TryGetValue(token, out var own) || own.Person != person || !waiting.TryRemove(token, out _))
            return false;
        Directory.Delete(Path.Combine(Root, token.ToString("N")), recursive: true);
        return true;
    }
}
