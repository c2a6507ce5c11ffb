using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Kiln.Browser.Tests;

/// <summary>Looks put on the parts of a model, by mouse and by keyboard.</summary>
public sealed class ModelsByHand(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    private void Has(string part, string look) =>
        browser.Until(
            d => d.FindElements(By.CssSelector($"[data-part='{part}'][data-look='{look}']")).FirstOrDefault(),
            30,
            $"{look} on {part}"
        );

    private void Settled() => browser.Find("[data-testid=model-picture][data-settled=true] img");

    [Fact]
    public void ARadioIsDressedFromItsDelivery()
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/intake");
        browser.Find("main[data-view=intake] h1");
        browser.Driver.FindElement(By.PartialLinkText("fr2_body_udims")).Click();
        browser.Find("[data-model=fr2]").Click();
        Has("body", "anodised body");
        Has("foot_4", "rubber foot");
        Has("knob", "");
        // A question is answered by one click.
        browser.Find("[data-part=knob] [data-candidate='knurled steel knob']").Click();
        Has("knob", "knurled steel knob");
        // Four feet at once: the first, and with Shift the last.
        browser.Find("[data-part=foot_1] [role=checkbox]").Click();
        new Actions(browser.Driver)
            .KeyDown(Keys.Shift)
            .Click(browser.Find("[data-part=foot_4] [role=checkbox]"))
            .KeyUp(Keys.Shift)
            .Perform();
        browser.Find("[data-shelf='brass reed plate']").Click();
        Has("foot_1", "brass reed plate");
        Has("foot_4", "brass reed plate");
        // It goes out with its looks.
        browser.Find("[data-testid=export-model]").Click();
        browser.Find("[data-testid=export-model-usd_preview]").Click();
        var file = Path.Combine(browser.Downloads, "fr2_usd_preview.zip");
        browser.Until(_ => File.Exists(file) ? file : null, 90, "the package");
        using (var zip = System.IO.Compression.ZipFile.OpenRead(file))
        {
            Assert.NotNull(zip.GetEntry("fr2.usda"));
            Assert.Contains(zip.Entries, e => e.FullName.StartsWith("textures/", StringComparison.Ordinal));
        }
        new Actions(browser.Driver).SendKeys(Keys.Escape).Perform();
        // One undo for all four.
        browser.Driver.FindElement(By.XPath("//button[.='Undo']")).Click();
        Has("foot_1", "rubber foot");
        Has("foot_4", "rubber foot");
        Settled();
    }

    [Fact]
    public void AllOfItGoesByKeyboard()
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/models");
        Has("speakerCloth", "speaker cloth");
        browser.Find("[data-part=speakerCloth] [role=checkbox]").SendKeys(" ");
        browser.Find("[aria-label='Find a look']").SendKeys("sail");
        browser.Until(d => d.FindElements(By.CssSelector("[data-shelf]")).Count == 1 ? d : null, 30, "one look found");
        browser.Find("[data-shelf='sail canvas']").SendKeys(Keys.Enter);
        Has("speakerCloth", "sail canvas");
        Settled();
        var picture = browser.Test("model-picture");
        var before = picture.FindElement(By.TagName("img")).GetAttribute("src");
        picture.SendKeys(Keys.ArrowLeft);
        Settled();
        Assert.NotEqual(before, browser.Find("[data-testid=model-picture] img").GetAttribute("src"));
    }

    /// <summary>Two clicks from a part to its UVs over the map, with what overlaps in a number and in the picture.</summary>
    [Fact]
    public void TheUvsOfAPartAreSeenOverItsMap()
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/models");
        Has("body", "anodised body");
        browser.Find("[data-part=foot_1] [role=checkbox]").Click();
        browser.Find("[data-value=uvs]").Click();
        IWebElement Picture() => browser.Find("[data-testid=model-uvs] img[alt='UVs of foot_1']");
        var layout = Picture().GetAttribute("src");
        // The demo's feet have their top, side and bottom over each other.
        browser.Until(d => browser.Test("uv-figures").Text.Contains(" % overlap") ? d : null, 30, "how much overlaps");
        Assert.Contains("pixels a metre", browser.Test("uv-figures").Text, StringComparison.Ordinal);
        browser.Find("[data-value=density]").SendKeys(Keys.Enter);
        browser.Until(d => d.FindElements(By.CssSelector("[aria-label=scale] li")).Count == 6 ? d : null, 30, "the scale");
        browser.Until(d => Picture().GetAttribute("src") != layout ? d : null, 30, "another picture");
        browser.Find("[data-value=proof]").Click();
        Settled();
    }

    private void Says(string part, string words) =>
        browser.Until(
            d => d.FindElements(By.CssSelector($"[data-part='{part}']")).FirstOrDefault(e => e.Text.Contains(words)),
            30,
            $"'{words}' at {part}"
        );

    /// <summary>
    /// One gesture each after the part is chosen: its V flipped, its picture shifted, UVs made for it; each taken back by one Undo. The
    /// look on its neighbour stays as it is.
    /// </summary>
    [Fact]
    public void APartIsFlippedShiftedAndProjected()
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/models");
        Has("body", "anodised body");
        browser.Find("[data-part=foot_2] [role=checkbox]").Click();
        browser.Find("[data-testid=own-mirrorV]").Click();
        Says("foot_2", "flipped along V");
        browser.Enter("[data-testid=own-offsetU]", "0.25");
        Says("foot_2", "shifted");
        browser.Find("[data-testid=own-projection]").SendKeys(Keys.Enter);
        browser.Find("[data-value=cylinder]").Click();
        Says("foot_2", "UVs around the upward axis");
        Settled();
        Assert.DoesNotContain("flipped", browser.Find("[data-part=foot_3]").Text, StringComparison.Ordinal);
        for (var n = 0; n < 3; n++)
            browser.Until(d => d.FindElements(By.XPath("//button[.='Undo']")).FirstOrDefault(b => b.Enabled), 30, "Undo").Click();
        browser.Until(_ => browser.Find("[data-part=foot_2]").Text.Contains("flipped") ? null : "back", 30, "as it was");
        Has("foot_2", "rubber foot");
    }
}
