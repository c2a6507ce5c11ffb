using System.IO.Compression;
using System.Net.Http.Json;
using System.Text.RegularExpressions;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Collections;

/// <summary>Contact sheets and look sheets as files: pages that need nothing from anywhere, pictures that a decoder reads.</summary>
[Collection(nameof(PicturesServer))]
public sealed class SheetTests(ServerFixture server)
{
    private static async Task<ZipArchive> MadeAsync(HttpClient client, object order)
    {
        var id = (await DoneAsync(await client.PostAsJsonAsync("sheets", order))).GetProperty("id").GetString();
        for (var tries = 0; tries < 600; tries++, await Task.Delay(200))
        {
            var sheet = (await GetAsync(client, "sheets")).EnumerateArray().First(s => s.GetProperty("id").GetString() == id);
            Assert.NotEqual("failed", sheet.GetProperty("state").GetString());
            if (sheet.GetProperty("state").GetString() == "done")
                return new(await client.GetStreamAsync($"sheets/{id}/all"));
        }
        throw new TimeoutException("The sheet was not made.");
    }

    private static async Task<string> TextAsync(ZipArchiveEntry entry)
    {
        using var reader = new StreamReader(entry.Open());
        return await reader.ReadToEndAsync();
    }

    [Fact]
    public async Task ALooksPageHasItsPicturesLanesMapsVariantsVersionsAndRules()
    {
        using var lead = await server.SignedInAsync("noor");
        string[] names = ["anodised body", "knurled steel knob"];
        var ids = new List<string>();
        foreach (var name in names)
            ids.Add((await LookAsync(lead, name)).GetProperty("id").GetString()!);
        using var zip = await MadeAsync(lead, new { kind = "looks", looks = ids });
        var page = await TextAsync(zip.Entries.Single(e => e.FullName.EndsWith(".html", StringComparison.Ordinal)));
        foreach (
            var expected in (string[])
                [
                    "anodised body",
                    "Buoy orange",
                    "Slate, matt",
                    "multiply",
                    "specular roughness",
                    "lacquered, as on the sample",
                    "in review",
                    "tiles",
                ]
        )
            Assert.True(
                page.Contains(expected, StringComparison.Ordinal)
                    || expected == "multiply" && page.Contains("mix", StringComparison.Ordinal),
                expected
            );
        // Nothing is fetched, nothing runs.
        Assert.DoesNotMatch("(src|href)=\"(?!data:)|<script|url\\(", page);
        Assert.Equal(2 * 4 + 4, Regex.Count(page, "<img "));
        var pictures = zip.Entries.Where(e => e.FullName.EndsWith(".png", StringComparison.Ordinal)).ToList();
        Assert.Equal(2, pictures.Count);
        // OpenImageIO reads them, and there is ink on them.
        foreach (var picture in pictures)
        {
            var file = Path.Combine(server.Folder, picture.Name);
            picture.ExtractToFile(file, overwrite: true);
            var said = await RunAsync("oiiotool", "--stats", "-i", file);
            Assert.Matches(@"13\d\d x +\d+, 3 channel", said);
        }
    }

    [Fact]
    public async Task AContactSheetHasEveryLookOfTheCollection()
    {
        using var lead = await server.SignedInAsync("noor");
        var fenn = (await GetAsync(lead, "collections")).EnumerateArray().First(c => c.GetProperty("name").GetString() == "Fenn FR-2");
        using var zip = await MadeAsync(lead, new { kind = "contact", collection = fenn.GetProperty("id").GetString() });
        Assert.Equal(
            fenn.GetProperty("looks").GetInt32(),
            Regex.Count(await TextAsync(zip.Entries.Single(e => e.FullName.EndsWith(".html", StringComparison.Ordinal))), "<img ")
        );
        Assert.Single(zip.Entries, e => e.FullName.EndsWith("_contact_01.png", StringComparison.Ordinal));
        Assert.Contains(
            "no look",
            await (await lead.PostAsJsonAsync("sheets", new { kind = "looks" })).Content.ReadAsStringAsync(),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "no sheet",
            await (await lead.PostAsJsonAsync("sheets", new { kind = "poster" })).Content.ReadAsStringAsync(),
            StringComparison.Ordinal
        );
    }

    private static async Task<string> RunAsync(string program, params string[] arguments)
    {
        using var process = System.Diagnostics.Process.Start(
            new System.Diagnostics.ProcessStartInfo(program, arguments) { RedirectStandardOutput = true }
        )!;
        var said = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        return said;
    }
}
