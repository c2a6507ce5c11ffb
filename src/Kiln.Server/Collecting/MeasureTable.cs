using System.Globalization;
using System.Numerics;
using System.Text.Json.Serialization;
using Kiln.Analysis.Consistency;
using Kiln.Colour;
using Kiln.Colour.Spaces;
using Kiln.Exchange.Tables;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Store.Looks;

namespace Kiln.Server.Collecting;

/// <summary>A column of the table: what it measures, and the middle and usual distance of the collection.</summary>
/// <param name="Deviation">Median absolute deviation; null with the median where nothing is measured.</param>
public sealed record MeasureColumn(
    string Id,
    [property: JsonPropertyName("words")] string Label,
    string Unit,
    double? Median,
    double? Deviation
);

/// <summary>One number of a look. Score: the modified z-score within the collection; an outlier from 3.5 on.</summary>
public sealed record MeasureCell(double? Value, double Score, bool IsOutlier);

public sealed record MeasureRow(
    LookId Id,
    string Name,
    int Revision,
    IReadOnlyList<MeasureCell> Cells,
    string Colour,
    IReadOnlyList<string> Maps,
    IReadOnlyList<string> Lossy,
    double Megabytes,
    IReadOnlyList<BrokenRule> Broken,
    string? Trouble
);

/// <param name="Pending">Looks that are being measured; asking again later gives them too.</param>
/// <param name="HasRules">Whether the collection asks anything of its looks.</param>
public sealed record CollectionTable(IReadOnlyList<MeasureColumn> Columns, IReadOnlyList<MeasureRow> Rows, int Pending, bool HasRules);

/// <summary>The looks of a collection by their measurements, held against one another and against the collection's rules.</summary>
public static class MeasureTable
{
    private static readonly (string Id, string Words, string Unit, Func<LookMeasures, double?> Of)[] Columns =
    [
        ("baseLuminance", "base luminance", "", m => m.BaseLuminance),
        ("baseSaturation", "base saturation", "", m => m.BaseSaturation),
        ("metalness", "metalness", "", m => m.Metalness),
        ("roughnessMean", "roughness", "", m => m.RoughnessMean),
        ("roughnessSpread", "roughness spread", "", m => m.RoughnessSpread),
        ("texelDensity", "texel density", "px/m", m => m.TexelDensity),
        ("longestSide", "map size", "px", m => m.LongestSide == 0 ? null : m.LongestSide),
    ];

    /// <summary>Fewer numbers have no middle worth speaking of. Common practice, no source.</summary>
    private const int LeastForOutliers = 5;

    public static CollectionTable Of(
        IReadOnlyList<LookRow> rows,
        IReadOnlyDictionary<LookId, MeasuredLook> known,
        int pending,
        Func<LookRow, Look, IReadOnlyList<BrokenRule>> broken,
        bool hasRules
    )
    {
        var spreads = Columns
            .Select(c =>
                rows.Select(r => known.GetValueOrDefault(r.Id)?.Measures is { } m ? c.Of(m) : null)
                    .OfType<double>()
                    .Where(double.IsFinite)
                    .ToList()
            )
            .Select(values => values.Count == 0 ? null : RobustSpread.Of(values))
            .ToList();
        var counts = known.Values.Count(k => k.Measures is not null);
        MeasureCell Cell(int column, LookMeasures? measures)
        {
            var value = measures is null ? null : Columns[column].Of(measures);
            var score = value is { } v && spreads[column] is { } spread && counts >= LeastForOutliers ? spread.Score(v) : 0;
            return new(value, Math.Round(score, 2), Math.Abs(score) > RobustSpread.Limit);
        }
        return new(
            [.. Columns.Select((c, i) => new MeasureColumn(c.Id, c.Words, c.Unit, spreads[i]?.Median, spreads[i]?.Deviation))],
            [
                .. rows.Select(r =>
                {
                    var of = known.GetValueOrDefault(r.Id);
                    var (look, fault) = r.Readable();
                    if (look is null)
                        return new MeasureRow(
                            r.Id,
                            r.Name,
                            r.Revision,
                            [.. Columns.Select((_, i) => Cell(i, null))],
                            "",
                            [],
                            [],
                            0,
                            [],
                            fault
                        );
                    return new MeasureRow(
                        r.Id,
                        r.Name,
                        r.Revision,
                        [.. Columns.Select((_, i) => Cell(i, of?.Measures))],
                        Shown(of?.Measures),
                        of?.Measures?.Maps ?? [.. look.Slots.Keys],
                        of?.Lossy ?? [],
                        Math.Round((of?.Bytes ?? 0) / 1048576.0, 2),
                        broken(r, look),
                        of?.Trouble
                    );
                }),
            ],
            pending,
            hasRules
        );
    }

    /// <summary>The mean base colour as sRGB hex; empty where nothing is measured.</summary>
    private static string Shown(LookMeasures? measures)
    {
        if (measures is null)
            return "";
        var (lab, white) = (measures.BaseLab, ColourSpace.CieXyzD65);
        var code = ColourTransform
            .Between(white, ColourSpace.SrgbTexture)
            .Apply(Vector3.Max(CieLab.ToXyz(lab[0], lab[1], lab[2]), default));
        return ColourText.HexOf(ColourValue.Of(Vector3.Clamp(code, Vector3.Zero, Vector3.One), ColourSpace.SrgbTexture))!;
    }

    public static string Csv(CollectionTable table) =>
        CsvText.Write([
            [
                "name",
                .. table.Columns.Select(c => c.Unit.Length > 0 ? $"{c.Label} ({c.Unit})" : c.Label),
                "base colour",
                "maps",
                "lossy dialects",
                "MB",
                "outliers",
                "broken rules",
            ],
            .. table.Rows.Select(row =>
                (IEnumerable<string>)
                    [
                        row.Name,
                        .. row.Cells.Select(c => c.Value?.ToString("0.######", CultureInfo.InvariantCulture) ?? ""),
                        row.Colour,
                        string.Join(' ', row.Maps),
                        string.Join(' ', row.Lossy),
                        row.Megabytes.ToString(CultureInfo.InvariantCulture),
                        string.Join(
                            "; ",
                            table
                                .Columns.Zip(row.Cells)
                                .Where(p => p.Second.IsOutlier)
                                .Select(p => $"{p.First.Label} {p.Second.Score.ToString("+0.0;-0.0", CultureInfo.InvariantCulture)}")
                        ),
                        string.Join("; ", row.Broken.Select(b => b.Sentence)),
                    ]
            ),
        ]);
}
