using System.Text;
using System.Text.Json;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;

namespace Kiln.Exchange.Packages;

/// <summary>
/// A look in one dialect as a zip: the network, its textures, look.json (so that it comes in again unchanged, with the maps it names under
/// maps/),
/// report.json (and one for each variant under reports/), the same in words for people (notes.txt), a picture (preview.jpg), and
/// checksums.txt (SHA-256, the format sha256sum reads). The same look gives the same bytes.
/// </summary>
public static class PackageWriter
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { WriteIndented = true };

    /// <summary>What is in the package and what a person has to know of it, in plain text.</summary>
    private static string Notes(Look look, IReadOnlyList<CompiledVariant> all)
    {
        var (network, report) = (all[0].Compiled.Network, all[0].Compiled.Report);
        var text = new StringBuilder(
            $"{look.Name}, written as {network.Dialect}\n\nPlain values and converted maps are in {network.WorkingSpace}. Paths "
                + "are relative to this folder.\n"
        );
        void Part(string title, IEnumerable<string> lines)
        {
            var all = lines.ToList();
            if (all.Count > 0)
                text.Append('\n').Append(title).Append('\n').AppendJoin('\n', all.Select(l => "  " + l)).Append('\n');
        }
        Part("Textures", network.Textures.Select(Line));
        Part("Approximated", report.Approximated.Select(l => $"{l.Input}: {l.Note}"));
        Part("Baked", report.Baked.Select(l => $"{l.Input}: {l.Note}"));
        Part("Lost", report.Lost.Select(l => $"{l.Input}: {l.Note}"));
        Part(
            "Trims",
            look.Trims.GetValueOrDefault(network.Dialect, [])
                .Select(t => $"{t.Input}: {t.Operation} {t.Value.ToString(System.Globalization.CultureInfo.InvariantCulture)}")
        );
        if (all[0].Beside is { } beside)
        {
            Part(
                $"Beside it, as {beside.Network.Dialect} in the same layer, for renderers that read MaterialX; lost there",
                beside.Report.Lost.Select(l => $"{l.Input}: {l.Note}").DefaultIfEmpty("nothing")
            );
            Part("Textures of that", beside.Network.Textures.Select(Line));
        }
        Part("Variants", all.Skip(1).Select(v => Line(look, v)));
        Part("Remarks", look.Remarks);
        return text.Append(
                "\nlook.json is the look this was made from; the whole folder, zipped, comes in again as that look. The maps' "
                    + "licence is the one they came with.\n"
            )
            .ToString();
    }

    private static string Line(NetworkTexture t)
    {
        var tiles = t.File.IsTiled ? $", tiles {string.Join(", ", t.File.Tiles!.Select(x => x.Number))}" : "";
        var origin = t.Baked ? "made for this dialect" : "as it came";
        return $"{t.Path}: {t.File.Width} x {t.File.Height}, {t.File.Bits} bit{tiles}, {origin}";
    }

    private static string Line(Look look, CompiledVariant variant)
    {
        var text = variant.Name ?? "";
        if (variant.Compiled.Report.Lost is { Length: > 0 } lost)
            text += $"; lost: {string.Join(", ", lost.Select(l => l.Input))}";
        if (Variants.Unplaced(look, look.Variants.First(o => o.Name == variant.Name)) is { Count: > 0 } unplaced)
            text += $"; left out, since the look has no such place any more: {string.Join(", ", unplaced)}";
        return text;
    }

    /// <param name="all">The look as it is, then its variants.</param>
    /// <param name="networkFiles">What was written of them.</param>
    public static void Write(
        Stream stream,
        Look look,
        IReadOnlyList<CompiledVariant> all,
        IReadOnlyList<WrittenFile> networkFiles,
        IContentFiles contents,
        byte[]? preview = null
    )
    {
        var files = new List<WrittenFile>(networkFiles)
        {
            new("look.json", LookJson.Write(look, indented: true), null),
            new("report.json", JsonSerializer.SerializeToUtf8Bytes(all[0].Compiled.Report, Json), null),
            new("notes.txt", Encoding.UTF8.GetBytes(Notes(look, all)), null),
        };
        files.AddRange(
            all.Skip(1)
                .Select(
                    (v, i) =>
                        new WrittenFile(
                            $"reports/{i + 1:00}_{DialectCompiler.MaterialName(v.Name)}.json",
                            JsonSerializer.SerializeToUtf8Bytes(v.Compiled.Report, Json),
                            null
                        )
                )
        );
        if (preview is not null)
            files.Add(new("preview.jpg", preview, null));
        var carried = networkFiles.Where(f => f.Content is not null).Select(f => f.Content!.Value).ToHashSet();
        foreach (
            var (content, name) in look.FilesWithVariants()
                .SelectMany(f => f.Tiles?.Select(t => (t.Content, t.Name)) ?? [(f.Content, f.Name)])
                .DistinctBy(f => f.Content)
                .Where(f => !carried.Contains(f.Content))
        )
            files.Add(new($"maps/{content.Short}_{name}", null, content));
        ZippedFiles.Write(stream, files, contents);
    }
}
