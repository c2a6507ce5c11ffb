using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Colour;
using Kiln.Exchange.Tables;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Server.Collecting;
using Kiln.Server.Platform.Security;
using Kiln.Store.Looks;

namespace Kiln.Server.Looks;

/// <summary>
/// A field of the table: as it is typed; its colour as sRGB shows it, null where that cannot or it is no colour; the map's content.
/// </summary>
/// <param name="OutsideSrgb">Whether it is a colour that sRGB does not hold.</param>
public sealed record VariantCell(string Text, string? Hex, bool OutsideSrgb, string? Map = null);

/// <param name="Unplaced">Overrides whose place the look has lost.</param>
public sealed record VariantRow(
    string Name,
    IReadOnlyDictionary<string, VariantCell> Cells,
    [property: JsonPropertyName("astray")] IReadOnlyList<string> Unplaced
);

/// <summary>A place that a variant can override. Kind: colour, number, map or placement.</summary>
public sealed record VariantPlace(string Column, [property: JsonPropertyName("words")] string Label, string Kind);

/// <param name="Columns">Those that some variant overrides, or base_color alone.</param>
/// <param name="Plain">The look as it is: its own value of each place; empty where a map gives it.</param>
public sealed record VariantTable(
    IReadOnlyList<VariantPlace> Places,
    IReadOnlyList<string> Columns,
    VariantRow Plain,
    IReadOnlyList<VariantRow> Rows
);

/// <summary>A field to be set; empty overrides nothing.</summary>
public sealed record CellChange(string Variant, string Column, string Text);

public sealed record VariantRules(string Variant, IReadOnlyList<string> Broken);

/// <summary>What a sheet would do, or did.</summary>
/// <param name="Look">After it; null where it was only tried or has faults.</param>
public sealed record SheetAnswer(
    IReadOnlyList<string> Added,
    IReadOnlyList<string> Changed,
    IReadOnlyList<SheetFault> Faults,
    LookInfo? Look
);

/// <summary>Variants of a look: as a table, field by field, as a sheet in and out.</summary>
public static class VariantRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/looks/{id:guid}/variants");
        group.MapGet("", async ([AsParameters] LookRequest request) => Table(await request.LookAsync())).WithName("variantTable");
        group.MapGet("/rules", RulesAsync).WithName("variantRules");
        group
            .MapGet("/sheet.csv", async ([AsParameters] LookRequest request) =>
            {
                var look = await request.LookAsync();
                return Results.File(
                    System.Text.Encoding.UTF8.GetBytes(VariantSheet.Write(look)),
                    "text/csv; charset=utf-8",
                    $"{Dialects.Lowering.DialectCompiler.MaterialName(look.Name)}_variants.csv"
                );
            })
            .WithName("variantSheet");
        group
            .MapPost("/cells", async ([AsParameters] LookRequest request, IReadOnlyList<CellChange> cells) =>
                await request.EditAsync(Edit(await request.LookAsync(), cells))
            )
            .RequireAuthorization(Access.Works)
            .WithName("setVariantCells")
            .TakesDocuments();
        group.MapPost("/sheet", SheetAsync).RequireAuthorization(Access.Works).WithName("takeVariantSheet").TakesDocuments();
    }

    /// <param name="tries">Only says what it would do.</param>
    private static async Task<SheetAnswer> SheetAsync([AsParameters] LookRequest request, bool tries = false)
    {
        var look = await request.LookAsync();
        using var memory = new MemoryStream();
        var buffer = new byte[1 << 16];
        for (
            int read;
            memory.Length <= CsvText.MostBytes && (read = await request.Http.Request.Body.ReadAsync(buffer, request.Cancel)) > 0;

        )
            memory.Write(buffer, 0, read);
        var sheet = VariantSheet.Read(look, memory.ToArray());
        if (tries || sheet.Faults.Count > 0 || sheet.Added.Count + sheet.Changed.Count == 0)
            return new(sheet.Added, sheet.Changed, sheet.Faults, null);
        return new(sheet.Added, sheet.Changed, [], await request.EditAsync(new VariantsEdit(sheet.Variants)));
    }

    private static LookEdit Edit(Look look, IReadOnlyList<CellChange> cells)
    {
        var edits = cells
            .GroupBy(c => c.Variant)
            .Select(of =>
                (LookEdit)
                    new VariantEdit(
                        of.Key,
                        of.Aggregate(look.Variants.FirstOrDefault(v => v.Name == of.Key) ?? new Variant(of.Key), (variant, cell) =>
                            VariantSheet.WithField(look, variant, cell.Column, cell.Text)
                        )
                    )
            )
            .ToImmutableArray();
        return edits.Length == 1 ? edits[0] : new BatchEdit($"{cells.Count} fields of {edits.Length} variants", edits);
    }

    private static async Task<IReadOnlyList<VariantRules>> RulesAsync([AsParameters] LookRequest request, BrokenRules rules)
    {
        var look = await request.LookAsync();
        var around = await request.Contexts.OfLookAsync(request.Id);
        var result = new List<VariantRules>();
        foreach (var variant in look.Variants)
            result.Add(
                new(variant.Name, [.. (await rules.OfVariantAsync(request.Id, look.As(variant), around.Space)).Select(b => b.Sentence)])
            );
        return result;
    }

    private static VariantTable Table(Look look)
    {
        var columns = look.Variants.SelectMany(VariantSheet.ColumnsOf).Distinct().ToList();
        if (columns.Count == 0)
            columns.Add("base_color");
        var places = VariantSheet.ColumnsFor(look).ToList();
        var plain = new Variant(look.Name) { Placement = look.Placement };
        foreach (
            var (address, value) in places
                .Where(p => !p.StartsWith(VariantSheet.MapColumn, StringComparison.Ordinal))
                .Select(p => (p, Own(look, p)))
        )
            if (value is not null)
                plain = plain with { Values = plain.Values.SetItem(address, value) };
        foreach (var (slot, of) in look.Slots)
            plain = plain with { Maps = plain.Maps.SetItem(slot, of.File) };
        return new(
            [.. places.Select(p => Place(look, p))],
            [.. columns.Order(Comparer<string>.Create((a, b) => places.IndexOf(a).CompareTo(places.IndexOf(b))))],
            Row(look, plain),
            [.. look.Variants.Select(v => Row(look, v))]
        );
    }

    /// <summary>What stands there without a variant; null where a chain gives it.</summary>
    private static LookValue? Own(Look look, string column) =>
        !NeutralInputs.Exists(column) && !column.Contains('/') && !column.Contains(':') ? null
        : look.LaneAt(column) is { } lane
            ? lane.Chain is null ? lane.Value
                : null
        : NeutralInputs.Exists(column) ? NeutralInputs.Find(column).DefaultValue
        : null;

    private static VariantRow Row(Look look, Variant variant) =>
        new(
            variant.Name,
            VariantSheet
                .ColumnsOf(variant)
                .ToDictionary(
                    c => c,
                    c =>
                    {
                        var colour = variant.Values.GetValueOrDefault(c) is TintValue tint ? tint.Colour : (ColourValue?)null;
                        var hex = colour is { } of ? ColourText.HexOf(of) : null;
                        return new VariantCell(
                            VariantSheet.FieldOf(look, variant, c),
                            hex,
                            colour is not null && hex is null,
                            c.StartsWith(VariantSheet.MapColumn, StringComparison.Ordinal)
                                ? variant.Maps[c[VariantSheet.MapColumn.Length..]].Content.ToString()
                                : null
                        );
                    }
                ),
            Variants.Unplaced(look, variant)
        );

    private static VariantPlace Place(Look look, string column)
    {
        if (column.StartsWith(VariantSheet.MapColumn, StringComparison.Ordinal))
            return new(column, $"{column[VariantSheet.MapColumn.Length..].Replace('_', ' ')}, map", "map");
        if (NeutralInputs.Exists(column))
            return new(column, LaneAddress.InWords(column), NeutralInputs.Find(column).IsColour ? "colour" : "number");
        return column.Contains('/') || column.Contains(':')
            ? new(column, LaneAddress.Parse(column).Label, look.LaneAt(column)?.Value is TintValue ? "colour" : "number")
            : new(column, column, "placement");
    }
}
