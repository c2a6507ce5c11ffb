using Kiln.Pixels;
using Kiln.Pixels.Writing;

namespace Kiln.Exchange.Sheets;

/// <summary>Sheets as PNG, for boards and mails.</summary>
public static class SheetPicture
{
    /// <summary>Looks on one picture.</summary>
    public const int LooksOnPage = 60;

    private const int Margin = 32,
        Gap = 16,
        Columns = 6,
        Cell = 200,
        Width = 2 * Margin + Columns * Cell + (Columns - 1) * Gap,
        Line = 18;
    private const byte Paper = 0xFF,
        Soft = 0x5A;

    private static readonly Lazy<Lettering> Letters = new(() =>
        new(Path.Combine(AppContext.BaseDirectory, "Sheets", "Fonts", "ibm-plex-sans-latin-400.ttf"), "IBM Plex Sans")
    );

    /// <summary>Pages of a grid of all looks.</summary>
    public static IEnumerable<byte[]> Contact(SheetContents sheet)
    {
        var pages = sheet.Looks.Chunk(LooksOnPage).ToList();
        for (var n = 0; n < pages.Count; n++)
        {
            var rows = (pages[n].Length + Columns - 1) / Columns;
            const int high = Cell + 2 * Line + 6;
            var canvas = Head(
                110 + rows * high + (rows - 1) * Gap + Margin,
                pages.Count == 1 ? sheet.Title : $"{sheet.Title}, {n + 1} of {pages.Count}",
                sheet.Under
            );
            for (var i = 0; i < pages[n].Length; i++)
            {
                var (x, y) = (Margin + i % Columns * (Cell + Gap), 110 + i / Columns * (high + Gap));
                Shot(canvas, pages[n][i].Shots[0], x, y, Cell);
                Letters.Value.Draw(canvas, x, y + Cell + 4, 15, Cell, pages[n][i].Name);
                Letters.Value.Draw(canvas, x, y + Cell + 4 + Line, 12, Cell, pages[n][i].Line, Soft);
            }
            yield return PictureWriter.Png(canvas);
        }
    }

    /// <summary>One look: its pictures under the standard lights, lanes, maps, variants, versions, rules.</summary>
    public static byte[] OfLook(SheetContents sheet, SheetLook look)
    {
        const int small = 100;
        var lines = new List<(int Column, string Text, bool IsTitle)[]>();
        void Table(string title, IEnumerable<string[]> rows, params int[] at)
        {
            var all = rows.ToList();
            if (all.Count == 0)
                return;
            lines.Add([(0, title, true)]);
            lines.AddRange(all.Select(r => r.Select((t, i) => (at[i], t, false)).ToArray()));
        }
        Table("Lanes", look.Lanes.Select(l => (string[])[l.Input, l.Begins, l.Steps]), 0, 280, 640);
        Table("Maps", look.Maps.Select(m => (string[])[m.Role, m.File, m.Size, m.Reading, m.Megabytes + " MB"]), 0, 280, 640, 880, 1180);
        Table("Versions", look.Versions.Select(v => (string[])[v]), 0);
        if (look.Rules is { } rules)
            Table("Rules of its collections", (rules.Count == 0 ? ["All are kept."] : rules).Select(r => (string[])[r]), 0);
        const int side = (Width - 2 * Margin - 3 * Gap) / 4;
        var rowsOfShots = (look.Shots.Count + 3) / 4;
        const int perRow = (Width - 2 * Margin + Gap) / (small + Gap);
        var rowsOfVariants = (look.Variants.Count + perRow - 1) / perRow;
        var canvas = Head(
            110
                + rowsOfShots * (side + Line + Gap)
                + rowsOfVariants * (small + Line + Gap)
                + (rowsOfVariants > 0 ? Line : 0)
                + lines.Sum(l => l[0].IsTitle ? Line * 2 : Line)
                + Margin,
            look.Name,
            $"{look.Line}; {sheet.Title}; {sheet.Under}"
        );
        for (var i = 0; i < look.Shots.Count; i++)
            Captioned(canvas, look.Shots[i], Margin + i % 4 * (side + Gap), 110 + i / 4 * (side + Line + Gap), side);
        var y = 110 + rowsOfShots * (side + Line + Gap);
        for (var i = 0; i < look.Variants.Count; i++)
            Captioned(canvas, look.Variants[i], Margin + i % perRow * (small + Gap), y + i / perRow * (small + Line + Gap), small);
        y += rowsOfVariants * (small + Line + Gap);
        foreach (var line in lines)
        {
            if (line[0].IsTitle)
                y += Line;
            for (var i = 0; i < line.Length; i++)
            {
                var right = i + 1 < line.Length ? line[i + 1].Column - 12 : Width - 2 * Margin;
                Letters.Value.Draw(
                    canvas,
                    Margin + line[i].Column,
                    y,
                    line[0].IsTitle ? 15 : 13,
                    right - line[i].Column,
                    line[i].Text,
                    line[0].IsTitle ? (byte)0 : (byte)0x26
                );
            }
            y += Line;
        }
        return PictureWriter.Png(canvas);
    }

    private static ImageBuffer Head(int height, string title, string under)
    {
        var canvas = new ImageBuffer(Width, height, ["R", "G", "B"], SampleType.U8);
        Array.Fill(canvas.Data, Paper);
        Letters.Value.Draw(canvas, Margin, 28, 30, Width - 2 * Margin, title, 0);
        Letters.Value.Draw(canvas, Margin, 72, 14, Width - 2 * Margin, under, Soft);
        return canvas;
    }

    private static void Captioned(ImageBuffer canvas, SheetShot shot, int x, int y, int side)
    {
        Shot(canvas, shot, x, y, side);
        Letters.Value.Draw(canvas, x, y + side + 3, 12, side, shot.Caption, Soft);
    }

    private static void Shot(ImageBuffer canvas, SheetShot shot, int x, int y, int side)
    {
        var picture = OwnJpeg.Square(shot.Jpeg, side);
        for (var row = 0; row < side && y + row < canvas.Height; row++)
            Array.Copy(picture.Data, row * side * 3, canvas.Data, ((y + row) * canvas.Width + x) * 3, side * 3);
    }
}
