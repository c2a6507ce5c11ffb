using System.IO.Compression;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Server.Intake;
using Kiln.Server.Looks;
using Kiln.Server.People;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Store;
using Kiln.Store.Contents;
using Kiln.Store.Looks;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Packages;

/// <summary>A look that came in, and what could not be understood of it.</summary>
public sealed record ImportedLook(Guid Id, string Name, IReadOnlyList<string> Remarks, int MissingMaps);

/// <summary>A package comes in again as the look it was made from, and networks as the looks they say; whole or not at all.</summary>
public static class PackageRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/looks/packages", ImportAsync).RequireAuthorization("artist").WithName("bringPackage").TakesFiles();
        api.MapPost("/looks/packages/materials", MaterialsAsync).RequireAuthorization("artist").WithName("listMaterials").TakesFiles();
    }

    /// <summary>What a package or network would bring in; nothing is kept.</summary>
    private static async Task<IReadOnlyList<FoundMaterial>> MaterialsAsync(
        string name,
        Uploads uploads,
        NetworkImport networks,
        HttpContext http,
        CancellationToken cancel
    )
    {
        var place = Guid.CreateVersion7();
        try
        {
            var file = await ReceivedAsync(place, name, uploads, http, cancel);
            var staging = Directory.CreateDirectory(uploads.StagingOf(place)).FullName;
            if (!IsPackage(file))
                return networks.Materials(file, staging, cancel);
            await using var stream = File.OpenRead(file);
            var look = PackageReader.Read(stream, staging).Look;
            return [new(look.Name, null, look.Slots.Count)];
        }
        finally
        {
            uploads.Discard(place);
        }
    }

    private static async Task<string> ReceivedAsync(Guid place, string name, Uploads uploads, HttpContext http, CancellationToken cancel)
    {
        var file = uploads.PathFor(place, Path.GetFileName(name));
        await using var target = File.Create(file);
        await http.Request.Body.CopyToAsync(target, cancel);
        return file;
    }

    /// <param name="name">The file's name: its ending says what it is.</param>
    /// <param name="only">Numbers of materials, counted from 0 in the order in which they are listed; all of them without.</param>
    private static async Task<IReadOnlyList<ImportedLook>> ImportAsync(
        string name,
        [FromQuery] int[]? only,
        Uploads uploads,
        ContentStore store,
        ContentRepository contents,
        LookRepository looks,
        NetworkImport networks,
        HttpContext http,
        CancellationToken cancel
    )
    {
        var place = Guid.CreateVersion7();
        try
        {
            var file = await ReceivedAsync(place, name, uploads, http, cancel);
            var staging = Directory.CreateDirectory(uploads.StagingOf(place)).FullName;
            var assigned = new List<ImportedLook>();
            foreach (
                var look in IsPackage(file)
                    ? [await PackageAsync(file, staging, store, contents)]
                    : await networks.ReadAsync(file, staging, only is { Length: > 0 } ? only.ToHashSet() : null, cancel)
            )
                assigned.Add(
                    new(
                        await looks.CreateAsync(look, http.User.PersonId(), null),
                        look.Name,
                        look.Remarks,
                        look.FilesWithVariants().Count(f => !store.Has(f.Content))
                    )
                );
            return assigned;
        }
        finally
        {
            uploads.Discard(place);
        }
    }

    private static async Task<Look> PackageAsync(string file, string staging, ContentStore store, ContentRepository contents)
    {
        await using var stream = File.OpenRead(file);
        var package = PackageReader.Read(stream, staging);
        foreach (var (content, path) in package.Files)
            store.Take(path, content);
        await contents.NameAsync(package.Files.Select(f => (f.Key, new FileInfo(f.Value).Length)));
        return package.Look;
    }

    private static bool IsPackage(string file)
    {
        try
        {
            using var zip = ZipFile.OpenRead(file);
            return PackageReader.IsPackage(zip);
        }
        catch (InvalidDataException)
        {
            return false;
        }
    }
}
