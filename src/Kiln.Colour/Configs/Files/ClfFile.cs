using System.Globalization;
using System.Numerics;
using System.Xml;
using System.Xml.Linq;
using Kiln.Colour.Operations;

namespace Kiln.Colour.Configs.Files;

/// <summary>
/// The Academy's Common LUT Format (S-2014-006) and its older sibling: matrices, ranges, tables, cubes, exponents, logs, colour decision
/// lists.
/// </summary>
internal static class ClfFile
{
    public static LutFile Read(string path)
    {
        // No document types, so no entities to expand and nothing to fetch.
        using var reader = XmlReader.Create(
            path,
            new()
            {
                DtdProcessing = DtdProcessing.Prohibit,
                XmlResolver = null,
                MaxCharactersInDocument = LutFiles.LargestFile,
            }
        );
        var root = XDocument.Load(reader).Root!;
        if (root.Name.LocalName != "ProcessList")
            throw new ConfigException("it does not begin with ProcessList");
        var nodes = root.Elements()
            .Where(e => e.Name.LocalName is not ("Description" or "InputDescriptor" or "OutputDescriptor" or "Info"))
            .ToList();
        IReadOnlyList<ColourOp> Make(string? interpolation) => [.. nodes.SelectMany(n => Node(n, interpolation))];
        // Once now, so that a fault is told when the file is opened.
        _ = Make(null);
        return new(Make);
    }

    private static IEnumerable<ColourOp> Node(XElement e, string? interpolation)
    {
        if ((string?)e.Attribute("bypass") == "true")
            return [];
        double from = Depth(e, "inBitDepth"),
            to = Depth(e, "outBitDepth");
        IEnumerable<ColourOp> steps = e.Name.LocalName switch
        {
            "Matrix" => [Matrix(e, from, to)],
            "Range" => [Range(e, from, to)],
            "LUT1D" => [Table(e, to, interpolation)],
            "LUT3D" => [Cube(e, to, interpolation)],
            "ASC_CDL" => [Cdl(e)],
            "Exponent" => [Exponent(e)],
            "Log" => Log(e),
            var other => throw new ConfigException($"{other} is not supported"),
        };
        return steps;
    }

    /// <summary>Codes of integer depths are taken as 0 to 1; the greatest code is what one is worth.</summary>
    private static double Depth(XElement e, string attribute) =>
        (string?)e.Attribute(attribute) switch
        {
            "8i" => 255,
            "10i" => 1023,
            "12i" => 4095,
            "16i" => 65535,
            _ => 1,
        };

    private static XElement Child(XElement e, string name) =>
        e.Elements().FirstOrDefault(c => c.Name.LocalName == name) ?? throw new ConfigException($"{e.Name.LocalName} has no {name}");

    private static double[] Numbers(string text) => [.. text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Select(Number)];

    private static double Number(string word) =>
        double.TryParse(word, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && double.IsFinite(v)
            ? v
            : throw new ConfigException($"'{(word.Length > 40 ? word[..40] : word)}' is no number");

    private static int[] Sizes(XElement array) =>
        [
            .. ((string?)array.Attribute("dim") ?? "")
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Select(w => int.TryParse(w, out var n) && n > 0 ? n : throw new ConfigException($"'{w}' is no size")),
        ];

    private static MatrixOp Matrix(XElement e, double from, double to)
    {
        var array = Child(e, "Array");
        var (sizes, n) = (Sizes(array), Numbers(array.Value));
        var columns = sizes.Length > 1 ? sizes[1] : 3;
        if (columns is not (3 or 4) || n.Length != 3 * columns)
            throw new ConfigException("a matrix of 3 by 3 or 3 by 4 numbers is expected");
        var scale = from / to;
        double At(int r, int c) => n[r * columns + c] * scale;
        var offset = columns == 4 ? Enumerable.Range(0, 3).Select(r => n[r * columns + 3] / to).Append(0).ToArray() : new double[4];
        return new([At(0, 0), At(0, 1), At(0, 2), 0, At(1, 0), At(1, 1), At(1, 2), 0, At(2, 0), At(2, 1), At(2, 2), 0, 0, 0, 0, 1], offset);
    }

    private static RangeOp Range(XElement e, double from, double to)
    {
        double? Find(string name, double scale) =>
            e.Elements().FirstOrDefault(c => c.Name.LocalName == name) is { } v ? Number(v.Value.Trim()) / scale : null;
        return new(
            Find("minInValue", from),
            Find("maxInValue", from),
            Find("minOutValue", to),
            Find("maxOutValue", to),
            ((string?)e.Attribute("style"))?.ToLowerInvariant() != "noclamp"
        );
    }

    private static Lut1DOp Table(XElement e, double to, string? interpolation)
    {
        if (e.Attribute("halfDomain") is not null || e.Attribute("rawHalfs") is not null)
            throw new ConfigException("tables over the range of half floats are not supported");
        var array = Child(e, "Array");
        var (sizes, n) = (Sizes(array), Numbers(array.Value));
        if (sizes.Length != 2 || sizes[0] is < 2 or > LutFiles.Most1D || sizes[1] is not (1 or 3) || n.Length != sizes[0] * sizes[1])
            throw new ConfigException("a table's size does not fit its numbers");
        float[] Channel(int c) => [.. Enumerable.Range(0, sizes[0]).Select(i => (float)(n[i * sizes[1] + Math.Min(c, sizes[1] - 1)] / to))];
        return new([Channel(0), Channel(1), Channel(2)], 0, 1, LutFiles.Nearest(interpolation));
    }

    private static Lut3DOp Cube(XElement e, double to, string? interpolation)
    {
        var array = Child(e, "Array");
        var (sizes, n) = (Sizes(array), Numbers(array.Value));
        if (
            sizes.Length != 4
            || sizes[0] is < 2 or > LutFiles.Most3D
            || sizes[1] != sizes[0]
            || sizes[2] != sizes[0]
            || sizes[3] != 3
            || n.Length != sizes[0] * sizes[0] * sizes[0] * 3
        )
            throw new ConfigException("a cube's size does not fit its numbers");
        var entries = new Vector3[n.Length / 3];
        for (var i = 0; i < entries.Length; i++)
            entries[i] = new((float)(n[3 * i] / to), (float)(n[3 * i + 1] / to), (float)(n[3 * i + 2] / to));
        return new(
            sizes[0],
            entries,
            ((string?)e.Attribute("interpolation"))?.ToLowerInvariant() == "tetrahedral" || LutFiles.Tetrahedral(interpolation)
        );
    }

    private static CdlOp Cdl(XElement e)
    {
        var sop = e.Elements().FirstOrDefault(c => c.Name.LocalName == "SOPNode");
        double[] Three(string name, double usual) =>
            sop?.Elements().FirstOrDefault(c => c.Name.LocalName == name) is { } v && Numbers(v.Value) is { Length: 3 } three
                ? three
                : [usual, usual, usual];
        var saturation = e.Descendants().FirstOrDefault(c => c.Name.LocalName == "Saturation") is { } s ? Number(s.Value.Trim()) : 1;
        var style = ((string?)e.Attribute("style") ?? "Fwd").ToLowerInvariant();
        return new(
            Three("Slope", 1),
            Three("Offset", 0),
            Three("Power", 1),
            saturation,
            !style.Contains("noclamp", StringComparison.Ordinal),
            style.Contains("rev", StringComparison.Ordinal)
        );
    }

    private static ColourOp Exponent(XElement e)
    {
        var style = (string?)e.Attribute("style") ?? "";
        double[] exponent = [1, 1, 1, 1],
            offset = [0, 0, 0, 0];
        foreach (var p in e.Elements().Where(c => c.Name.LocalName is "ExponentParams" or "GammaParams"))
            for (var c = 0; c < 3; c++)
                if ((string?)p.Attribute("channel") is not { } channel || channel == "RGB"[c].ToString())
                {
                    exponent[c] = Number((string?)p.Attribute("exponent") ?? (string?)p.Attribute("gamma") ?? "1");
                    offset[c] = Number((string?)p.Attribute("offset") ?? "0");
                }
        ColourOp op =
            style.StartsWith("basic", StringComparison.Ordinal)
                ? new ExponentOp(
                    exponent,
                    style.Contains("Mirror", StringComparison.Ordinal) ? NegativeStyle.Mirror
                        : style.Contains("PassThru", StringComparison.Ordinal) ? NegativeStyle.Pass
                        : NegativeStyle.Clamp
                )
            : style.StartsWith("monCurve", StringComparison.Ordinal)
                ? new ExponentWithLinearOp(exponent, offset, style.Contains("Mirror", StringComparison.Ordinal))
            : throw new ConfigException($"the exponent style '{style}' is not supported");
        return style.Contains("Rev", StringComparison.Ordinal) ? op.Inverse() : op;
    }

    private static IEnumerable<ColourOp> Log(XElement e)
    {
        var style = (string?)e.Attribute("style") ?? "";
        if (style is "log2" or "log10")
            return [LogOp.Plain(style == "log2" ? 2 : 10)];
        if (style is "antiLog2" or "antiLog10")
            return [LogOp.Plain(style == "antiLog2" ? 2 : 10).Inverse()];
        double lead = 2;
        double[] logSlope = [1, 1, 1],
            logOffset = [0, 0, 0],
            linSlope = [1, 1, 1],
            linOffset = [0, 0, 0];
        double[]? lineBreak = null,
            lineSlope = null;
        foreach (var p in e.Elements().Where(c => c.Name.LocalName == "LogParams"))
        {
            lead = Number((string?)p.Attribute("base") ?? "2");
            for (var c = 0; c < 3; c++)
            {
                if ((string?)p.Attribute("channel") is { } channel && channel != "RGB"[c].ToString())
                    continue;
                void Set(string name, double[] into)
                {
                    if ((string?)p.Attribute(name) is { } v)
                        into[c] = Number(v);
                }
                Set("logSideSlope", logSlope);
                Set("logSideOffset", logOffset);
                Set("linSideSlope", linSlope);
                Set("linSideOffset", linOffset);
                if (p.Attribute("linSideBreak") is not null)
                    Set("linSideBreak", lineBreak ??= new double[3]);
                if (p.Attribute("linearSlope") is not null)
                    Set("linearSlope", lineSlope ??= new double[3]);
            }
        }
        ColourOp op = new LogOp(
            new LogCurve(lead, logSlope, logOffset, linSlope, linOffset) { LineBreak = lineBreak, LineSlope = lineSlope }
        );
        return style switch
        {
            "linToLog" or "cameraLinToLog" => [op],
            "logToLin" or "cameraLogToLin" => [op.Inverse()],
            _ => throw new ConfigException($"the log style '{style}' is not supported"),
        };
    }
}
