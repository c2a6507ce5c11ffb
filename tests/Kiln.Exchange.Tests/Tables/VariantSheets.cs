using System.Text;
using Kiln.Colour;
using Kiln.Colour.Spaces;
using Kiln.Exchange.Tables;
using Kiln.Exchange.Tests.Documents;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Colours;

namespace Kiln.Exchange.Tests.Tables;

/// <summary>Tables of variants: Python's csv module on the other side (RFC 4180), and sheets as people hand them in.</summary>
public sealed class VariantSheets
{
    private static MapFile Map(string name, char digit) =>
        new(Pixels.ContentHash.Parse(new string(digit, 64)), name, 512, 512, 8, false, "png", ["R"], null);

    private static readonly Look Plain = new()
    {
        Name = "body",
        Slots = new Dictionary<string, Slot>
        {
            ["roughness"] = new(
                MapRole.Roughness,
                Map("rough.png", 'a'),
                [Map("rough.png", 'a'), Map("worn.png", 'b'), Map("same.png", 'c'), Map("same.png", 'd')]
            ),
        }.ToImmutable(),
        Lanes = new Dictionary<string, Lane>
        {
            ["base_color"] = new(
                LookValue.Of(ColourValue.FromHex("#808080")),
                new Chain(
                    new NoiseOrigin(new()),
                    [new MixStep(MixMode.Multiply, new(LookValue.Of(ColourValue.FromHex("#ffffff"))), new(1)) { Id = "tint" }]
                )
            ),
        }.ToImmutable(),
    };

    private static ReadSheet Read(string text, Look? look = null) => VariantSheet.Read(look ?? Plain, Encoding.UTF8.GetBytes(text));

    [Fact]
    public void ASheetGivesVariantsAndComesBackTheSame()
    {
        var sheet = Read(
            "variant,base_color,base_color/tint/other,specular_roughness,map roughness,repeats u\r\n\"Red, "
                + "\"\"hot\"\"\",#c01818,,0.4,worn.png,3\r\nDeep,lab 30 10 -40,acescg(0.1; 0.2; 0.3),,cccccccccccc,\r\n"
                    .Replace(";", ",")
                    .Replace("acescg(0.1, 0.2, 0.3)", "\"acescg(0.1, 0.2, 0.3)\"")
        );
        Assert.Empty(sheet.Faults);
        Assert.Equal(["Red, \"hot\"", "Deep"], sheet.Added);
        var look = new VariantsEdit(sheet.Variants).Apply(Plain).Look;
        var red = look.As("Red, \"hot\"");
        Assert.Null(red.Lanes["base_color"].Chain);
        Assert.Equal("worn.png", red.Slots["roughness"].File.Name);
        Assert.Equal(3, red.Placement.RepeatsU);
        Assert.Equal(0.4f, ((ScalarValue)red.Lanes["specular_roughness"].Value!).Number);
        // CIE 15: L* 30 is Y = ((30 + 16) / 116)^3.
        Assert.Equal(
            Math.Pow(46.0 / 116, 3),
            ((TintValue)look.As("Deep").Lanes["base_color"].Value!).Colour.In(ColourSpace.CieXyzD65).Y,
            1e-6
        );
        Assert.Equal("c", look.As("Deep").Slots["roughness"].File.Content.ToString()[..1]);
        var again = Read(VariantSheet.Write(look), look);
        Assert.Empty(again.Faults);
        Assert.Empty(again.Changed);
        Assert.Equal(LookJson.Hash(look), LookJson.Hash(look with { Variants = again.Variants }));
    }

    [Fact]
    public void PythonReadsWhatIsWrittenAndWritesWhatIsRead()
    {
        var look = Plain with
        {
            Variants =
            [
                new("a, \"b\"\u00e9")
                {
                    Values = new Dictionary<string, LookValue>
                    {
                        ["base_color"] = LookValue.Of(ColourValue.FromHex("#c08040")),
                        ["specular_roughness"] = LookValue.Of(0.25f),
                    }.ToImmutable(),
                },
                new("=1+1"),
            ],
        };
        var folder = Directory.CreateTempSubdirectory("kiln-sheet-").FullName;
        var (ours, theirs) = (Path.Combine(folder, "ours.csv"), Path.Combine(folder, "theirs.csv"));
        File.WriteAllText(ours, VariantSheet.Write(look));
        Workshop.Run(
            "/usr/bin/python3",
            "-c",
            """
            import csv, sys
            rows = list(csv.reader(open(sys.argv[1], newline='', encoding='utf-8'), strict=True))
            assert rows[0] == ['variant', 'base_color', 'specular_roughness'], rows
            assert rows[1] == ['a, "b"\u00e9', '#c08040', '0.25'], rows
            assert rows[2] == ["'=1+1", '', ''], rows
            csv.writer(open(sys.argv[2], 'w', newline='', encoding='utf-16')).writerows(rows)
            """,
            ours,
            theirs
        );
        var again = VariantSheet.Read(look, File.ReadAllBytes(theirs));
        Assert.Empty(again.Faults);
        Assert.Empty(again.Added);
        Assert.Empty(again.Changed);
    }

    /// <summary>The brushing of a metal may differ between variants as its colour does.</summary>
    [Fact]
    public void ATurnOfTheReflectionIsANumber()
    {
        var sheet = Read("variant,geometry_tangent\nCrosswise,0.25\n");
        Assert.Empty(sheet.Faults);
        Assert.Equal(
            0.25f,
            ((ScalarValue)new VariantsEdit(sheet.Variants).Apply(Plain).Look.As("Crosswise").Lanes["geometry_tangent"].Value!).Number
        );
    }

    /// <summary>A spreadsheet of a country that writes commas in numbers separates fields by semicolons.</summary>
    [Fact]
    public void SemicolonsAndDecimalCommasAreUnderstood() =>
        Assert.Equal(
            0.35f,
            ((ScalarValue)Read("variant;specular_roughness\r\nA;0,35\r\n").Variants[0].Values["specular_roughness"]).Number
        );

    [Theory]
    [InlineData("variant,base_colour\nA,#ff0000\n", 1, "'base_colour' is no place")]
    [InlineData("variant,geometry_normal\nA,1\n", 1, "is no place")]
    [InlineData("variant,base_color\nA,#ff00\n", 2, "no hex colour")]
    [InlineData("variant,base_color\nA,0.5\n", 2, "is no colour")]
    [InlineData("variant,base_color\nA,cmyk 1 0 0\n", 2, "no space that a colour")]
    [InlineData("variant,base_color\nA,lab 130 0 0\n", 2, "lightness")]
    [InlineData("variant,specular_roughness\nA,rough\n", 2, "is no number")]
    [InlineData("variant,specular_roughness\nA,nan\n", 2, "is no number")]
    [InlineData("variant,map roughness\nA,gone.png\n", 2, "There is no map 'gone.png'")]
    [InlineData("variant,map roughness\nA,same.png\n", 2, "There are 2 maps")]
    [InlineData("variant,base_color\nA,#ff0000\na,#00ff00\n", 3, "has a row already")]
    [InlineData("variant,base_color\nA\n", 2, "There are 1 fields")]
    [InlineData("variant,base_color,base_color\nA,#ff0000,#ff0000\n", 1, "is there 2 times")]
    [InlineData("variant,repeats u\nA,0\n", 2, "more than zero repeats")]
    [InlineData("variant,base_color\n,#ff0000\n", 2, "needs a name")]
    public void WhatCannotBeTakenIsASentenceWithItsLine(string text, int line, string sentence)
    {
        var sheet = Read(text);
        Assert.Contains(sheet.Faults, f => f.Line == line && f.Sentence.Contains(sentence, StringComparison.Ordinal));
        Assert.Empty(sheet.Variants);
    }

    [Fact]
    public void WhatIsNoSheetIsRefusedWhole()
    {
        string Of(byte[] bytes) => Assert.Throws<ExchangeException>(() => VariantSheet.Read(Plain, bytes)).Message;
        Assert.Contains("'colour'", Of("colour,base_color\nA,#ff0000\n"u8.ToArray()), StringComparison.Ordinal);
        Assert.Contains("nothing", Of("\r\n\r\n"u8.ToArray()), StringComparison.Ordinal);
        Assert.Contains("UTF-8", Of([.. "variant,base_color\nGr"u8, 0xFC, .. "n,#00ff00\n"u8]), StringComparison.Ordinal);
        Assert.Contains("no text", Of("PK\0\0variant"u8.ToArray()), StringComparison.Ordinal);
        Assert.Contains("MB", Of(new byte[3 << 20]), StringComparison.Ordinal);
        Assert.Contains("quote", Of("variant,base_color\nA\"b,#ff0000\n"u8.ToArray()), StringComparison.Ordinal);
    }

    [Fact]
    public void RowsChangeKnownVariantsAndLeaveTheOthers()
    {
        var look = Plain with
        {
            Variants =
            [
                new("A")
                {
                    Placement = new(2, 2),
                    Values = new Dictionary<string, LookValue>
                    {
                        ["base_color"] = LookValue.Of(ColourValue.FromHex("#ff0000")),
                    }.ToImmutable(),
                },
                new("B"),
            ],
        };
        var sheet = Read("variant,base_color\nC,#0000ff\nA,\n", look);
        Assert.Equal(["C"], sheet.Added);
        Assert.Equal(["A"], sheet.Changed);
        Assert.Equal(["A", "B", "C"], sheet.Variants.Select(v => v.Name));
        Assert.Empty(sheet.Variants[0].Values);
        Assert.Equal(2, sheet.Variants[0].Placement!.RepeatsU);
    }
}
