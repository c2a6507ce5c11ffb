using System.Collections.Immutable;
using System.Globalization;
using Kiln.Colour;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Exchange.Tables;

/// <summary>A place of a sheet that cannot be taken.</summary>
/// <param name="Line">1 for the first; 0 where it is the sheet as a whole.</param>
public sealed record SheetFault(int Line, string Column, string Sentence);

/// <param name="Variants">As the look would have them; as they are where there are faults.</param>
public sealed record ReadSheet(
    ImmutableArray<Variant> Variants,
    IReadOnlyList<string> Added,
    IReadOnlyList<string> Changed,
    IReadOnlyList<SheetFault> Faults
);

/// <summary>
/// The variants of a look as a table: a row each, a column for every place that one of them overrides. An empty field overrides nothing.
/// Colours as <see cref="ColourText"/> has them, maps by their file's name (or the first twelve digits of its SHA-256).
/// </summary>
public static class VariantSheet
{
    /// <summary>Stands before a slot's name in the column of its map.</summary>
    public const string MapColumn = "map ";

    private const string NameColumn = "variant";
    private const int ContentDigits = 12;

    private static readonly (string Column, Func<Placement, float> Get, Func<Placement, float, Placement> Set)[] PlacementColumns =
    [
        ("repeats u", p => p.RepeatsU, (p, v) => p with { RepeatsU = v }),
        ("repeats v", p => p.RepeatsV, (p, v) => p with { RepeatsV = v }),
        ("rotation", p => p.RotationDegrees, (p, v) => p with { RotationDegrees = v }),
        ("offset u", p => p.OffsetU, (p, v) => p with { OffsetU = v }),
        ("offset v", p => p.OffsetV, (p, v) => p with { OffsetV = v }),
    ];

    /// <summary>The columns in which a variant has something.</summary>
    public static IEnumerable<string> ColumnsOf(Variant variant) =>
        [
            .. variant.Values.Keys,
            .. variant.Maps.Keys.Select(m => MapColumn + m),
            .. variant.Placement is null ? [] : PlacementColumns.Select(p => p.Column),
        ];

    /// <summary>
    /// Every column that a variant of this look could have: its inputs, what its steps on the ground mix with, its maps, its placement.
    /// </summary>
    public static IEnumerable<string> ColumnsFor(Look look)
    {
        var sides = look
            .Lanes.Where(l => l.Value.Chain is not null)
            .SelectMany(l =>
                l.Value.Chain!.Steps.SelectMany(s =>
                    StepSides.Names(s).Where(n => StepSides.Get(s, n).Chain is null).Select(n => $"{l.Key}/{s.Id}/{n}")
                )
            );
        return
        [
            .. look.Lanes.Keys.Concat(NeutralInputs.All.Select(i => i.Name)).Distinct().Where(n => NeutralInputs.Find(n).TakesValue),
            .. sides,
            .. look.Slots.Keys.Select(s => MapColumn + s),
            .. PlacementColumns.Select(p => p.Column),
        ];
    }

    /// <summary>What stands in a variant's column; empty where nothing does.</summary>
    public static string FieldOf(Look look, Variant variant, string column)
    {
        if (column.StartsWith(MapColumn, StringComparison.Ordinal))
            return variant.Maps.TryGetValue(column[MapColumn.Length..], out var file) ? MapText(file, look) : "";
        if (PlacementColumns.FirstOrDefault(p => p.Column == column) is { Get: { } get })
            return variant.Placement is { } own ? get(own).ToString("R", CultureInfo.InvariantCulture) : "";
        return variant.Values.TryGetValue(column, out var value) ? Text(value) : "";
    }

    /// <summary>A variant with one field set as it would be in a sheet.</summary>
    /// <exception cref="LookException">The column or what was typed is not possible; the message says what is.</exception>
    public static Variant WithField(Look look, Variant variant, string column, string text)
    {
        if (!IsKnown(look, column) && text.Trim().Length > 0)
            throw new LookException($"'{column}' is no place of this look that a variant can override.");
        try
        {
            return With(look, variant, column, text.Trim(), FilesOf(look));
        }
        catch (FormatException e)
        {
            throw new LookException(e.Message, e);
        }
    }

    public static string Write(Look look)
    {
        var columns = look
            .Variants.SelectMany(ColumnsOf)
            .Distinct()
            .OrderBy(c =>
                c.StartsWith(MapColumn, StringComparison.Ordinal) ? 1
                : PlacementColumns.Any(p => p.Column == c) ? 2
                : 0
            )
            .ToList();
        if (columns.Count == 0)
            columns.Add("base_color");
        return CsvText.Write([
            [NameColumn, .. columns],
            .. look.Variants.Select(v => (IEnumerable<string>)[v.Name, .. columns.Select(c => FieldOf(look, v, c))]),
        ]);
    }

    /// <summary>
    /// What a sheet would make of the look's variants: rows of known names change those, others are added, variants without a row stay, and
    /// so does what has no column.
    /// </summary>
    /// <exception cref="ExchangeException">It is no table of variants at all.</exception>
    public static ReadSheet Read(Look look, byte[] bytes)
    {
        var rows = CsvText.Read(bytes).Where(r => r.Fields.Any(f => f.Trim().Length > 0)).ToList();
        if (rows.Count == 0)
            throw new ExchangeException("There is nothing in the sheet.");
        var header = rows[0].Fields.Select(f => f.Trim()).ToList();
        if (!header[0].Equals(NameColumn, StringComparison.OrdinalIgnoreCase))
            throw new ExchangeException(
                $"The first column of the sheet is '{header[0]}'; '{NameColumn}' has to stand there, then places such as base_color."
            );
        var files = FilesOf(look);
        var faults = new List<SheetFault>();
        foreach (var twice in header.GroupBy(h => h).Where(g => g.Count() > 1))
            faults.Add(new(1, twice.Key, $"The column '{twice.Key}' is there {twice.Count()} times."));
        foreach (var column in header.Skip(1).Where(c => !IsKnown(look, c)))
            faults.Add(
                new(
                    1,
                    column,
                    column.Length == 0 ? "A column has no name." : $"'{column}' is no place of this look that a variant can override."
                )
            );
        var variants = look.Variants;
        List<string> added = [],
            changed = [];
        var seen = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var (line, fields) in rows.Skip(1))
        {
            var name = fields[0].Trim();
            if (fields.Count != header.Count)
                faults.Add(new(line, "", $"There are {fields.Count} fields; the first line has {header.Count}."));
            if (!seen.Add(name))
                faults.Add(new(line, NameColumn, $"The variant '{name}' has a row already."));
            var before = variants.FirstOrDefault(v => v.Name == name);
            var variant = before ?? new Variant(name);
            foreach (var (column, text) in header.Zip(fields).Skip(1).Where(f => IsKnown(look, f.First)))
                try
                {
                    variant = With(look, variant, column, text.Trim(), files);
                }
                catch (Exception e) when (e is FormatException or LookException)
                {
                    faults.Add(new(line, column, e.Message));
                }
            if (before is null)
                added.Add(name);
            else if (!Same(before, variant))
                changed.Add(name);
            variants = before is null ? variants.Add(variant) : variants.Replace(before, variant);
            Try(look, [variant], line, faults);
        }
        if (faults.Count == 0)
            Try(look, variants, 0, faults);
        return new(faults.Count == 0 ? variants : look.Variants, added, changed, faults);
    }

    private static bool IsKnown(Look look, string column)
    {
        if (column.StartsWith(MapColumn, StringComparison.Ordinal))
            return look.Slots.ContainsKey(column[MapColumn.Length..]);
        if (PlacementColumns.Any(p => p.Column == column))
            return true;
        if (NeutralInputs.Exists(column))
            return NeutralInputs.Find(column).TakesValue;
        try
        {
            return LaneAddress.TryParse(column, null, out var place)
                && place is { Layer: null } and ({ Source: not null } or { Side: not null })
                && look.LaneAt(place) is not null;
        }
        catch (LookException)
        {
            return false;
        }
    }

    private static Variant With(Look look, Variant variant, string column, string text, List<MapFile> files)
    {
        if (column.StartsWith(MapColumn, StringComparison.Ordinal))
        {
            var slot = column[MapColumn.Length..];
            return variant with { Maps = text.Length == 0 ? variant.Maps.Remove(slot) : variant.Maps.SetItem(slot, Named(text, files)) };
        }
        if (PlacementColumns.FirstOrDefault(p => p.Column == column) is { Set: { } set })
            return text.Length == 0
                ? variant with
                {
                    Placement = null,
                }
                : variant with
                {
                    Placement = set(variant.Placement ?? look.Placement, Number(text)),
                };
        return variant with
        {
            Values = text.Length == 0 ? variant.Values.Remove(column) : variant.Values.SetItem(column, Value(column, text)),
        };
    }

    /// <summary>The files that a field can name.</summary>
    private static List<MapFile> FilesOf(Look look) =>
        [.. look.Slots.Values.SelectMany(s => s.Candidates).Concat(look.FilesWithVariants()).DistinctBy(f => f.Content)];

    private static MapFile Named(string text, List<MapFile> files)
    {
        var found = files
            .Where(f =>
                f.Name.Equals(text, StringComparison.OrdinalIgnoreCase)
                || text.Length >= ContentDigits && f.Content.ToString().StartsWith(text, StringComparison.OrdinalIgnoreCase)
            )
            .ToList();
        return found.Count switch
        {
            1 => found[0],
            0 => throw new FormatException(
                $"There is no map '{text}' here. Drop it on the table first, or name one of this look's: "
                    + $"{string.Join(", ", files.Select(f => f.Name).Distinct().Take(6))}."
            ),
            _ => throw new FormatException(
                $"There are {found.Count} maps called '{text}'; write the first {ContentDigits} digits of its checksum instead: "
                    + $"{string.Join(", ", found.Select(f => f.Content.ToString()[..ContentDigits]))}."
            ),
        };
    }

    /// <summary>An input's kind says what is expected; elsewhere a number is a number and all else a colour.</summary>
    private static LookValue Value(string column, string text)
    {
        var input = NeutralInputs.Exists(column) ? NeutralInputs.Find(column) : null;
        if (input?.IsColour != true && (input is not null || TryNumber(text, out _)))
            return LookValue.Of(Number(text));
        return LookValue.Of(ColourText.Read(text));
    }

    private static float Number(string text) =>
        TryNumber(text, out var number) ? number : throw new FormatException($"'{text}' is no number.");

    /// <summary>With a point, or with a comma as spreadsheets of many countries write it.</summary>
    private static bool TryNumber(string text, out float number) =>
        float.TryParse(text.Replace(',', '.'), NumberStyles.Float, CultureInfo.InvariantCulture, out number) && float.IsFinite(number);

    private static void Try(Look look, ImmutableArray<Variant> variants, int line, List<SheetFault> faults)
    {
        try
        {
            new VariantsEdit(variants).Apply(look);
        }
        catch (LookException e)
        {
            faults.Add(new(line, "", e.Message));
        }
    }

    private static bool Same(Variant a, Variant b) =>
        a.Placement == b.Placement && a.Values.SequenceEqual(b.Values) && a.Maps.SequenceEqual(b.Maps);

    private static string Text(LookValue value) =>
        value is TintValue tint ? ColourText.Write(tint.Colour) : ((ScalarValue)value).Number.ToString("R", CultureInfo.InvariantCulture);

    /// <summary>The name, or the checksum's first digits where another file of the look has the same name.</summary>
    private static string MapText(MapFile file, Look look) =>
        FilesOf(look).Any(f => f.Name == file.Name && f.Content != file.Content) ? file.Content.ToString()[..ContentDigits] : file.Name;
}
