using System.Collections.Concurrent;
using System.Globalization;
using Hangfire;
using Kiln.Dialects.Lowering;
using Kiln.Exchange.Sheets;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Server.Platform;
using Kiln.Store.Collections;
using Kiln.Store.Looks;

namespace Kiln.Server.Sheets;

/// <summary>
/// Makes an ordered sheet, look by look. After a restart it begins anew (pictures that were made are kept); its files are there whole or
/// not at all.
/// </summary>
public sealed class SheetJob(SheetRepository sheets, LookRepository looks, SheetPages pages, KilnSettings settings, ILogger<SheetJob> log)
{
    private readonly ConcurrentDictionary<SheetId, bool> running = new();

    /// <summary>As the server starts: what an earlier one left is made.</summary>
    public async Task GoOnAsync(IBackgroundJobClient jobs)
    {
        foreach (var id in await sheets.WaitingAsync())
            jobs.Enqueue<SheetJob>(j => j.RunAsync(id.Value, CancellationToken.None));
    }

    public string FolderOf(SheetId id) => Path.Combine(settings.Data, "sheets", id.ToString("N"));

    public void Remove(SheetId id)
    {
        if (Directory.Exists(FolderOf(id)))
            Directory.Delete(FolderOf(id), recursive: true);
    }

    /// <param name="named">As the queue stores it, in the orders of earlier releases too.</param>
    [AutomaticRetry(Attempts = 0), Queue(JobQueues.Heavy)]
    public async Task RunAsync(Guid named, CancellationToken cancel)
    {
        var id = SheetId.From(named);
        if (await sheets.FindAsync(id) is not { State: "waiting" } row || !running.TryAdd(id, true))
            return;
        try
        {
            var contents = new List<SheetLook>();
            foreach (var look in row.Looks)
            {
                cancel.ThrowIfCancellationRequested();
                if (!await sheets.ProgressAsync(id, contents.Count))
                    return;
                if (await looks.FindAsync(look) is { } found)
                    contents.Add(await pages.OfAsync(found, row.Kind == "looks", cancel));
            }
            var under =
                $"vessel, {(row.Kind == "looks" ? string.Join(", ", SheetPages.Lights) : SheetPages.Lights[0])}, ACES 1 SDR; made "
                + $"{DateTime.UtcNow.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture)} UTC";
            await sheets.EndAsync(id, "done", Write(row, new(row.Title, under, contents)));
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            var isSentence = e is LookException or IOException or PictureException;
            if (!isSentence)
                log.LogError(e, "The sheet {Sheet} failed", id);
            Remove(id);
            await sheets.EndAsync(id, "failed", [], isSentence ? e.Message : "The sheet could not be made; order it again.");
        }
        finally
        {
            running.TryRemove(id, out _);
        }
    }

    private IReadOnlyList<string> Write(SheetRow row, SheetContents contents)
    {
        var part = FolderOf(row.Id) + ".part";
        if (Directory.Exists(part))
            Directory.Delete(part, recursive: true);
        Directory.CreateDirectory(part);
        var files = new List<string>();
        void Add(string name, byte[] bytes)
        {
            File.WriteAllBytes(Path.Combine(part, name), bytes);
            files.Add(name);
        }
        var stem = DialectCompiler.MaterialName(row.Title);
        if (row.Kind == "contact")
        {
            Add($"{stem}_contact.html", SheetPage.Contact(contents));
            foreach (var (n, page) in SheetPicture.Contact(contents).Index())
                Add($"{stem}_contact_{n + 1:00}.png", page);
        }
        else
        {
            Add($"{stem}_looks.html", SheetPage.Looks(contents));
            foreach (var (n, look) in contents.Looks.Index())
                Add($"{n + 1:000}_{DialectCompiler.MaterialName(look.Name)}.png", SheetPicture.OfLook(contents, look));
        }
        Directory.Move(part, FolderOf(row.Id));
        return files;
    }
}
