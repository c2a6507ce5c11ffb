using Hangfire;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Store;
using Kiln.Store.Collections;
using Kiln.Store.Looks;

namespace Kiln.Server.Sheets;

/// <summary>Takes orders of contact sheets and look sheets.</summary>
public sealed class SheetOrdering(
    CollectionRepository collections,
    LookListRepository list,
    SheetRepository sheets,
    IBackgroundJobClient jobs
)
{
    private const int MostInGrid = 2000,
        MostPages = 200;

    /// <exception cref="LookException">There is no such kind, or nothing or too much to be shown.</exception>
    public async Task<SheetRow> OrderAsync(SheetOrder order, PersonId person)
    {
        if (order.Kind is not ("contact" or "looks"))
            throw new LookException($"There is no sheet '{order.Kind}'; contact and looks are.");
        var title = order.Collection is { } id
            ? (await collections.ListAsync()).FirstOrDefault(c => c.Id == id)?.Name
                ?? throw new MissingException("collection.missing", "There is no such collection.")
            : "Chosen looks";
        List<LookId> looks =
            order.Looks is { Count: > 0 } chosen ? [.. chosen.Distinct()]
            : order.Collection is null ? []
            : [.. (await list.DocumentsAsync(order.Collection)).Select(r => r.Id)];
        var most = order.Kind == "contact" ? MostInGrid : MostPages;
        if (looks.Count == 0 || looks.Count > most)
            throw new LookException(
                looks.Count == 0
                    ? "There is no look to be shown."
                    : $"At most {most} looks go onto one {(order.Kind == "contact" ? "contact sheet" : "set of look sheets")}; "
                        + $"there are {looks.Count}. Choose some of them."
            );
        var made = await sheets.AddAsync(order.Kind, title, looks, person);
        jobs.Enqueue<SheetJob>(j => j.RunAsync(made.Value, CancellationToken.None));
        return (await sheets.FindAsync(made))!;
    }
}
