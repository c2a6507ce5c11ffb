using System.Net.Http.Json;
using System.Text.Json;
using Kiln.Pixels;
using Kiln.Pixels.Writing;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Kiln.Browser.Tests;

/// <summary>Variants, sections, filters, sameness and sheets as a person uses them.</summary>
public sealed class CollectionsByHand(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    private async Task<JsonElement> LookAsync(string name)
    {
        using var client = await server.SignedInAsync();
        return (await client.GetFromJsonAsync<JsonElement>("looks")).EnumerateArray().First(l => l.GetProperty("name").GetString() == name);
    }

    private void Open(string path, string heading)
    {
        browser.Driver.Navigate().GoToUrl(server.Address + path);
        browser.Find(heading);
    }

    private string Swatches()
    {
        var picture = new ImageBuffer(200, 80, ImageBuffer.Rgb, SampleType.U8);
        for (var y = 0; y < 80; y++)
        for (var x = 0; x < 200; x++)
        for (var c = 0; c < 3; c++)
            picture[x, y, c] = (x < 100 ? (byte[])[0x20, 0x60, 0xa0] : [0xc0, 0x40, 0x10])[c] / 255f;
        var path = Path.Combine(browser.Downloads, "swatches.png");
        File.WriteAllBytes(path, PictureWriter.Png(picture));
        return path;
    }

    /// <summary>A page that is left gives up what it waits for, and asks anew when one comes back to it.</summary>
    [Fact]
    public void APageThatOneComesBackToHasItsPictures()
    {
        browser.SignIn(server.Address);
        Open("/looks", "main[data-view=looks] h1");
        browser.Driver.Navigate().GoToUrl("about:blank");
        browser.Driver.Navigate().Back();
        browser.Find("main[data-view=looks] h1");
        browser.Find("li img");
        Assert.NotEqual(
            "0",
            browser.Driver.ExecuteScript("return String([...document.querySelectorAll('li img')].filter(i => i.naturalWidth > 0).length)")
        );
    }

    [Fact]
    public async Task ColourwaysAreTypedPastedAndTakenFromASheet()
    {
        browser.SignIn(server.Address);
        var id = (await LookAsync("speaker cloth")).GetProperty("id").GetString();
        Open($"/looks/{id}/variants", "[data-testid=variant-add]");
        browser.Test("variant-add").Click();
        browser.Test("variant-tint").Click();
        var dye = browser.Find("[data-variant='new variant'] [data-column='base_color/dye/other']");
        dye.SendKeys("#b03020" + Keys.Enter);
        browser
            .Find("[data-variant='new variant'] input[aria-label^='name of']")
            .SendKeys(Keys.Control + "a" + Keys.Null + "Brick" + Keys.Enter);
        browser.Find("[data-variant=Brick]");
        Assert.Equal("", Axe.Faults(browser));
        // What cannot be is said where it stands, line by line, and nothing of it is taken.
        var sheet = Path.Combine(browser.Downloads, "sheet.csv");
        await File.WriteAllTextAsync(sheet, "variant,base_color/dye/other,specular_roughness\nMoss,#40602\nBrick,,2x\n");
        browser.Driver.FindElement(By.CssSelector("input[aria-label='sheet of variants, CSV']")).SendKeys(sheet);
        Assert.Contains("no hex colour", browser.Find("ul[aria-label='problems in the file']").Text);
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("[data-testid=sheet-import]")));
        browser.Test("sheet-cancel").Click();
        await File.WriteAllTextAsync(
            sheet,
            "variant,base_color/dye/other,specular_roughness\nMoss,#406020,0.7\nIndigo,acescg 0.02 0.03 0.12,\n"
        );
        browser.Driver.FindElement(By.CssSelector("input[aria-label='sheet of variants, CSV']")).SendKeys(sheet);
        browser.Test("sheet-import").Click();
        browser.Find("[data-variant=Indigo]");
        Assert.Equal("0.7", browser.Find("[data-variant=Moss] [data-column=specular_roughness]").GetAttribute("value"));
        // A colour from a picture goes where one has clicked.
        browser.Find("[data-variant=Moss] [data-column='base_color/dye/other']").Click();
        var picker = browser.Driver.FindElement(By.CssSelector("input[aria-label='picture to pick a colour from']"));
        await File.WriteAllTextAsync(sheet, "no picture");
        picker.SendKeys(sheet);
        browser.Find("//*[contains(text(),'cannot be shown by the browser')]");
        picker.SendKeys(Swatches());
        var canvas = browser.Find("canvas[role=img]");
        browser.Choose("[data-testid=pick-average]", "5");
        new Actions(browser.Driver).MoveToElement(canvas, -40, 0).Click().Perform();
        browser.Find("[data-variant=Moss] [data-column='base_color/dye/other'][value='#2060a0']");
        new Actions(browser.Driver).MoveToElement(canvas, 40, 0).Click().Perform();
        browser.Find("[data-variant=Moss] [data-column='base_color/dye/other'][value='#c04010']");
        // On the bench one of them is chosen for the proof.
        Open($"/looks/{id}", "div[role=group][aria-label=variants]");
        browser.Find("button[aria-label='variant Moss']").Click();
        browser.Find("//section[@aria-label='Proof']//span[contains(.,', Moss')]");
        using var client = await server.SignedInAsync();
        var variants = (await client.GetFromJsonAsync<JsonElement>($"looks/{id}"))
            .GetProperty("document")
            .GetProperty("variants")
            .EnumerateArray()
            .Select(v => v.GetProperty("name").GetString())
            .ToList();
        Assert.Equal(["Brick", "Moss", "Indigo"], variants);
    }

    [Fact]
    public async Task LooksAreFoundPutIntoSectionsAndMadeAlike()
    {
        browser.SignIn(server.Address);
        Open("/looks", "main[data-view=looks] h1");
        browser.Find("input[type=search]").SendKeys("tarred");
        browser.Until(
            _ => browser.Driver.FindElements(By.CssSelector("[data-testid^='choose-']")).Count == 1 ? "one" : null,
            30,
            "one look"
        );
        browser.Test("filter-save").Click();
        browser.Test("filter-name").SendKeys("ropes" + Keys.Enter);
        browser.Test("filter-remove");
        Open("/looks", "main[data-view=looks] h1");
        browser.Driver.ExecuteScript("sessionStorage.clear()");
        foreach (var name in (string[])["sail canvas", "tarred rope", "kelp concrete"])
            browser.Test($"choose-{name}").Click();
        browser.Test("make-alike").Click();
        browser.Choose("[data-testid=measure]", "baseLuminance");
        browser.Find("input[aria-label='target value']").SendKeys("0.25");
        browser.Find("//tr[@data-alike='tarred rope'][contains(.,'→ 0.25')]");
        Assert.Equal("", Axe.Faults(browser));
        browser.Test("make-alike-apply").Click();
        browser.Find("//*[contains(text(),'have one base luminance now')]");
        using var client = await server.SignedInAsync();
        Assert.Equal(2, (await LookAsync("tarred rope")).GetProperty("revision").GetInt32());

        var organ = (await client.GetFromJsonAsync<JsonElement>("collections"))
            .EnumerateArray()
            .First(c => c.GetProperty("name").GetString() == "The Tide Organ")
            .GetProperty("id")
            .GetString();
        Open($"/collections/{organ}", "//h2[.='The Tide Organ']");
        browser.Find("input[aria-label='name of the section']").SendKeys("Rigging" + Keys.Enter);
        browser.Find("//h3[contains(.,'Rigging')]");
        Assert.Equal(3, browser.Find("section[aria-label=Rigging]").FindElements(By.CssSelector("[data-testid^='choose-']")).Count);
        browser.Test("sheets").Click();
        browser.Find("[role=dialog] [data-testid^='sheet-']").Click();
        browser.Test("sheet-open");
        Assert.Equal("", Axe.Faults(browser));
    }
}
