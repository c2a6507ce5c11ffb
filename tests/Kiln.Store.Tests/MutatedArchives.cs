using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Store.Archives;
using Kiln.Store.Collections;
using Kiln.Store.Contents;
using Kiln.Store.Looks;
using Xunit.Abstractions;

namespace Kiln.Store.Tests;

/// <summary>Ten thousand archives with bytes changed: opened whole or refused with a sentence, and soon.</summary>
public sealed class MutatedArchives(StoreFixture store, ITestOutputHelper output) : IClassFixture<StoreFixture>
{
    private const int Count = 10_000;

    [Fact]
    public async Task AreOpenedOrRefused()
    {
        var root = Mutations.Folder();
        try
        {
            var original = await ArchiveAsync(root);
            var files = Mutations.Files(original);
            var random = new Random(20261129);
            var (read, refused) = (0, 0);
            var slowest = new SlowestInput<byte[]>();
            var file = Path.Combine(root, "archive.zip");
            void Open(byte[] bytes)
            {
                File.WriteAllBytes(file, bytes);
                var folder = Directory.CreateDirectory(Path.Combine(root, "unpacked")).FullName;
                try
                {
                    ArchiveReader.Open(file, folder);
                }
                finally
                {
                    Directory.Delete(folder, recursive: true);
                }
            }
            for (var i = 0; i < Count; i++)
            {
                try
                {
                    slowest.Read(Mutations.MutatedZip(files, original, random), Open);
                    read++;
                }
                catch (ArchiveException e)
                {
                    Assert.DoesNotContain(root, e.Message, StringComparison.Ordinal);
                    refused++;
                }
                catch (Exception e)
                {
                    Assert.Fail($"mutation {i}: {e}");
                }
            }
            output.WriteLine($"{read} opened, {refused} refused, the slowest {slowest.Taken.TotalMilliseconds:0} ms");
            Assert.True(read > 0 && refused > Count / 2, $"{read} opened, {refused} refused");
            slowest.IsWithin(Yardstick.Soon, Open);
        }
        finally
        {
            Directory.Delete(root, recursive: true);
        }
    }

    /// <summary>A collection of two looks, one with an edit and a published version.</summary>
    private async Task<byte[]> ArchiveAsync(string root)
    {
        var contents = new ContentStore(Path.Combine(root, "contents"));
        var looks = new LookRepository(store.Database);
        var collections = new CollectionRepository(store.Database);
        var collection = await collections.EnsureAsync("mutated");
        var id = await store.CreateAsync("celadon bowl", "glazed");
        await looks.EditAsync(id, 1, new ValueEdit("base_metalness", new ScalarValue(0.25f)), store.Noor);
        await new VersionRepository(store.Database).AddAsync(
            id,
            2,
            "first",
            store.Noor,
            true,
            new(
                "acescg",
                new Dictionary<string, string>(),
                new Dictionary<string, string> { ["openpbr"] = "{}" },
                System.Collections.Immutable.ImmutableSortedDictionary<string, System.Collections.Immutable.ImmutableArray<Trim>>.Empty
            )
        );
        await collections.AddAsync(collection, id);
        await collections.AddAsync(collection, await store.CreateAsync("slip plate"));
        using var stream = new MemoryStream();
        await new ArchiveWriter(store.Database, contents).WriteAsync(stream, collection);
        return stream.ToArray();
    }
}
