using System.Text.Json.Serialization;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Looks.Maps;
using Kiln.Pixels.Decoding;
using Kiln.Server.Intake;
using Kiln.Server.Platform.Security;
using Kiln.Store.Contents;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Looks;

/// <summary>A look after pictures were brought to it, and what became of each.</summary>
public sealed record LookWithMaps(LookInfo Look, [property: JsonPropertyName("brought")] IReadOnlyList<AssignedMap> Assigned);

/// <summary>Where pictures are dropped: on a lane, in the field of a variant's slot, or on the board, which sorts them.</summary>
public sealed record DropPlace(
    [FromQuery(Name = "lane")] LaneAddress? Lane,
    [FromQuery(Name = "variant")] string? Variant,
    [FromQuery(Name = "slot")] string? Slot
);

/// <summary>
/// Pictures dropped on the bench: on a lane they are wired there, on the board they are sorted first. They are read as a small delivery is.
/// </summary>
public sealed class DroppedMaps(Uploads uploads, ContentStore store, ContentRepository contents, MapReader reader)
{
    private const long MostBytes = 8L << 30;
    private const int MostFiles = 200;

    public static void Map(RouteGroupBuilder api) =>
        api.MapPost(
                "/looks/{id:guid}/maps",
                async ([AsParameters] LookRequest request, [AsParameters] DropPlace place, DroppedMaps dropped) =>
                    await dropped.TakeAsync(request, place)
            )
            .Produces<LookWithMaps>()
            .RequireAuthorization(Access.Works)
            .WithName("dropMaps")
            .TakesFiles()
            .DisableAntiforgery();

    private async Task<LookWithMaps> TakeAsync(LookRequest request, DropPlace place)
    {
        // Said before anything is received.
        _ = request.Revision;
        var look = await request.LookAsync();
        return await ReadAsync(
            request.Http,
            look.Name,
            async (result, keep) =>
            {
                var (edit, assigned) = place switch
                {
                    { Variant: { } variant, Slot: { } slot } => OnVariant(look, variant, slot, result),
                    { Lane: { } lane } => OnLane(look, lane, result),
                    _ => MapsOntoLook.Sorted(look, result),
                };
                if (edit is null)
                    throw new DeliveryException(
                        "Nothing of this could be sorted: "
                            + $"{string.Join("; ", assigned.Take(3).Select(b => $"{b.File}: {b.Sentence}"))}. Drop a picture on the "
                            + "lane where it belongs."
                    );
                await keep();
                return new LookWithMaps(await request.EditAsync(edit), assigned);
            },
            request.Cancel
        );
    }

    /// <summary>One picture, kept for looks that shall use it.</summary>
    public Task<MapFile> KeepOneAsync(HttpContext http, CancellationToken cancel) =>
        ReadAsync(
            http,
            "map",
            async (result, keep) =>
            {
                var (file, _, _, _) = OnlyPicture(result, "look");
                await keep();
                return file;
            },
            cancel
        );

    /// <summary>Reads what a form brings as a small delivery is read.</summary>
    /// <param name="use">Gets what was found and what keeps the files; without keeping them nothing stays.</param>
    private async Task<T> ReadAsync<T>(HttpContext http, string name, Func<IntakeResult, Func<Task>, Task<T>> use, CancellationToken cancel)
    {
        if (http.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } size)
            size.MaxRequestBodySize = MostBytes;
        http.Features.Set<IFormFeature>(
            new FormFeature(http.Request, new FormOptions { MultipartBodyLengthLimit = MostBytes, ValueCountLimit = MostFiles })
        );
        if (!http.Request.HasFormContentType)
            throw new DeliveryException("Files are dropped as a form (multipart/form-data) with a part for each.");
        var form = await http.Request.ReadFormAsync(cancel);
        if (form.Files.Count is 0 or > MostFiles)
            throw new DeliveryException($"Drop between 1 and {MostFiles} files at a time; larger deliveries go to Intake.");
        var place = Ids.New<DeliveryId>();
        try
        {
            foreach (var file in form.Files)
            {
                await using var target = new FileStream(uploads.PathFor(place, file.FileName), FileMode.CreateNew);
                await file.CopyToAsync(target, cancel);
            }
            var listing = DeliveryListing.Read([uploads.FolderOf(place)], uploads.StagingOf(place), cancel: cancel);
            var result = await (await reader.NowAsync()).RunAsync(listing, name, cancel: cancel);
            return await use(result, async () =>
            {
                foreach (var file in listing.Files)
                    store.Take(file.LocalPath, file.Content);
                await contents.NameAsync(listing.Files);
            });
        }
        finally
        {
            uploads.Discard(place);
        }
    }

    /// <summary>In the place of a slot's own map, in one variant; read as that one is.</summary>
    private static (LookEdit? Edit, IReadOnlyList<AssignedMap> Assigned) OnVariant(Look look, string name, string slot, IntakeResult result)
    {
        var (file, _, _, _) = OnlyPicture(result, "variant's field");
        var variant = look.Variants.FirstOrDefault(v => v.Name == name) ?? new Variant(name);
        return (
            new VariantEdit(name, variant with { Maps = variant.Maps.SetItem(slot, file) }),
            [new(file.Name, null, $"the {slot} map of {name}")]
        );
    }

    private static (LookEdit? Edit, IReadOnlyList<AssignedMap> Assigned) OnLane(Look look, LaneAddress lane, IntakeResult result)
    {
        var (file, role, reading, isSure) = OnlyPicture(result, "lane");
        return (MapsOntoLook.Wired(look, lane, file, role, reading, isSure), [new(file.Name, lane.Text, $"wired to {lane.Label}")]);
    }

    private static (MapFile File, Kiln.Looks.Readings.MapRole? Role, Kiln.Looks.Readings.Reading? Reading, bool IsSure) OnlyPicture(
        IntakeResult result,
        string place
    )
    {
        var placed = result.Sets.SelectMany(s => s.Maps.Concat(s.Alternates.Select(a => a.Map))).ToList();
        var files = placed
            .Select(m =>
                (m.File, Role: (Kiln.Looks.Readings.MapRole?)m.Role, Reading: (Kiln.Looks.Readings.Reading?)m.Reading, IsSure: !m.Asks)
            )
            .Concat(
                result
                    .Unsorted.Concat(result.SetAside)
                    .Where(u => u.File is not null)
                    .Select(u => (u.File!, (Kiln.Looks.Readings.MapRole?)null, (Kiln.Looks.Readings.Reading?)null, false))
            )
            .DistinctBy(f => f.Item1.Content)
            .ToList();
        if (files.Count == 0 && result.Rejected.FirstOrDefault() is { } refused)
            throw new DeliveryException($"{refused.Path}: {refused.Error}");
        if (files.Count != 1)
            throw new DeliveryException(
                files.Count == 0
                    ? $"That is no picture that a {place} could read."
                    : $"One picture is dropped on a {place}; several are dropped on the board, which sorts them."
            );
        return files[0];
    }
}
