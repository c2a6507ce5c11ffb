using Kiln.Exchange.Sheets;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Pixels;
using Kiln.Pixels.Writing;
using Kiln.Proof.Lights;
using Kiln.Server.Collecting;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Store.Collections;
using Kiln.Store.Contents;
using Kiln.Store.Looks;

namespace Kiln.Server.Sheets;

/// <summary>A look as a sheet shows it: its pictures, and on a page of its own its lanes, maps, variants, versions and rules.</summary>
public sealed class SheetPages(
    VersionRepository versions,
    LookContextRepository contexts,
    LookPictures pictures,
    BrokenRules rules,
    RuleRepository ruleRepository,
    ContentStore store
)
{
    /// <summary>Pixels of a picture on a look's own page, and in a grid.</summary>
    private const int OwnPage = 320,
        InGrid = 200,
        OfVariant = 112;

    /// <summary>The lights of the studio that show a surface; an even furnace shows nothing.</summary>
    public static readonly IReadOnlyList<string> Lights = ["softbox", .. LightRoom.Ids.Where(l => l is not ("softbox" or "furnace"))];

    public async Task<SheetLook> OfAsync(LookRow row, bool ownPage, CancellationToken cancel)
    {
        var around = await contexts.OfLookAsync(row.Id);
        var (look, working) = (row.Look().Under(around.Trims), around.Space);
        var kept = await versions.ListAsync(row.Id);
        var line = kept.FirstOrDefault() is { } newest ? $"version {newest.Number}, {newest.State}" : $"draft, revision {row.Revision}";
        var shots = new List<SheetShot>();
        foreach (var light in ownPage ? Lights : Lights.Take(1))
            shots.Add(new(light, await ShotAsync(look, ownPage ? OwnPage : InGrid, light)));
        if (!ownPage)
            return new(row.Name, line, shots, [], [], [], [], null);
        var variants = new List<SheetShot>();
        foreach (var variant in look.Variants)
            variants.Add(new(variant.Name, await ShotAsync(look.As(variant), OfVariant, null)));
        var asked =
            (await ruleRepository.OfLookAsync(row.Id)).Count > 0
                ? (await rules.OfAsync(row, look, working)).Select(f => f.Message).ToList()
                : null;
        return new(
            row.Name,
            line,
            shots,
            SheetText.Lanes(look),
            SheetText.Maps(look, c => store.Has(c) ? new FileInfo(store.PathOf(c)).Length : null),
            variants,
            [
                .. kept.Select(v =>
                    $"{v.Number}, {v.State}{(v.ReviewedBy is { } by ? " by " + by : "")}, {v.At:yyyy-MM-dd}, "
                    + $"{v.Person}{(v.Note.Length > 0 ? ": " + v.Note : "")}"
                ),
            ],
            asked
        );

        async Task<byte[]> ShotAsync(Look of, int side, string? light)
        {
            try
            {
                return await pictures.OfAsync(of, working, side, light: light is null or "softbox" ? null : light, cancel: cancel);
            }
            catch (KilnException)
            {
                // A look whose map is gone has its page all the same.
                return PictureWriter.Jpeg(new ImageBuffer(side, side, ["R", "G", "B"], SampleType.U8));
            }
        }
    }
}
