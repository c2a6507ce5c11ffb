using Hangfire;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Store;
using Kiln.Store.Collections;
using Kiln.Store.Looks;

namespace Kiln.Server.Packages;

/// <summary>Where the looks of a collection come from, each in its context and with its published version.</summary>
public sealed class CollectionLooks(
    CollectionRepository collections,
    LookListRepository looks,
    LookContextRepository contexts,
    VersionRepository versions
)
{
    private const int Most = 2000;

    /// <param name="drafts">Looks as they are, rather than their published versions.</param>
    /// <exception cref="MissingException">There is no such collection.</exception>
    /// <exception cref="LookException">It has no look, or too many.</exception>
    public async Task<(string Name, IReadOnlyList<BatchOrder> Looks)> ToWriteAsync(CollectionId id, bool drafts)
    {
        var collection = (await collections.ListAsync()).FirstOrDefault(c => c.Id == id)
            ?? throw new MissingException("collection.missing", "There is no such collection.");
        var rows = await looks.DocumentsAsync(id);
        if (rows.Count is 0 or > Most)
            throw new LookException(
                rows.Count == 0 ? $"There is no look in {collection.Name}." : $"At most {Most} looks are written at once."
            );
        var orders = new List<BatchOrder>();
        foreach (var row in rows)
        {
            var around = await contexts.OfLookAsync(row.Id);
            // Published versions, unless drafts are asked for; which one it was is kept with the line.
            var version = drafts ? null : await versions.PublishedAsync(row.Id);
            var (look, fault) = row.Readable();
            if (!drafts && version is null)
                fault = "No version of it is published. Order the batch with drafts to write it as it is.";
            var document = fault is null && look is not null ? LookJson.Write(look.Under(around.Trims)) : [];
            orders.Add(new(row.Id, row.Name, document, around.Space.Id, version, fault));
        }
        return (collection.Name, orders);
    }
}

/// <summary>Takes an order for a collection's packages in one dialect.</summary>
public sealed class BatchOrdering(CollectionLooks looks, DialectProfiles profiles, BatchRepository batches, IBackgroundJobClient jobs)
{
    /// <returns>The batch.</returns>
    public async Task<BatchId> OrderAsync(BatchRequest order, PersonId person)
    {
        profiles.Find(order.Dialect);
        var (name, orders) = await looks.ToWriteAsync(order.Id, order.Drafts);
        var made = await batches.AddAsync(name, order.Dialect, person, orders);
        jobs.Enqueue<BatchJob>(j => j.RunAsync(made.Value, CancellationToken.None));
        return made;
    }
}
