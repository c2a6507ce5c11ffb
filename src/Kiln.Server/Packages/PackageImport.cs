using System.IO.Compression;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Server.Intake;
using Kiln.Store.Contents;
using Kiln.Store.Looks;

namespace Kiln.Server.Packages;

/// <summary>Takes packages and networks that are sent: what they would bring in, and the looks they become.</summary>
public sealed class PackageImport(
    Uploads uploads,
    ContentStore store,
    ContentRepository contents,
    LookRepository looks,
    NetworkImport networks
)
{
    /// <summary>What a package or network would bring in; nothing is kept.</summary>
    public Task<IReadOnlyList<FoundMaterial>> MaterialsAsync(string name, Stream body, CancellationToken cancel) =>
        WithFileAsync<IReadOnlyList<FoundMaterial>>(
            name,
            body,
            async (file, staging) =>
            {
                if (!IsPackage(file))
                    return networks.Materials(file, staging, cancel);
                await using var stream = File.OpenRead(file);
                var look = PackageReader.Read(stream, staging).Look;
                return [new(look.Name, null, look.Slots.Count)];
            },
            cancel
        );

    /// <param name="only">Numbers of materials; null for all of them.</param>
    public Task<IReadOnlyList<ImportedLook>> BringAsync(
        string name,
        IReadOnlySet<int>? only,
        PersonId person,
        Stream body,
        CancellationToken cancel
    ) =>
        WithFileAsync<IReadOnlyList<ImportedLook>>(
            name,
            body,
            async (file, staging) =>
            {
                IEnumerable<Look> found = IsPackage(file)
                    ? [await PackageAsync(file, staging)]
                    : await networks.ReadAsync(file, staging, only, cancel);
                var assigned = new List<ImportedLook>();
                foreach (var look in found)
                    assigned.Add(
                        new(
                            await looks.CreateAsync(look, person, null),
                            look.Name,
                            look.Remarks,
                            look.FilesWithVariants().Count(f => !store.Has(f.Content))
                        )
                    );
                return assigned;
            },
            cancel
        );

    /// <summary>The file that is sent, in a place of its own that is gone afterwards.</summary>
    private async Task<T> WithFileAsync<T>(string name, Stream body, Func<string, string, Task<T>> work, CancellationToken cancel)
    {
        var place = Ids.New<DeliveryId>();
        try
        {
            var file = uploads.PathFor(place, Path.GetFileName(name));
            await using (var target = File.Create(file))
                await body.CopyToAsync(target, cancel);
            return await work(file, Directory.CreateDirectory(uploads.StagingOf(place)).FullName);
        }
        finally
        {
            uploads.Discard(place);
        }
    }

    private async Task<Look> PackageAsync(string file, string staging)
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
