using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Kiln.Browser.Tests;

/// <summary>
/// The chain proved by the chart, the working space, clipping, surround and the numbers of a proof, on the real interface.
/// </summary>
public sealed class ColourProved(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    [Fact]
    public void TheChartHoldsAndTheProofTellsItsNumbers()
    {
        browser.SignIn(server.Address, "ada");
        browser.Driver.Navigate().GoToUrl(server.Address + "/studio/colour");
        browser.Test("chart-check").Click();
        browser.Find("//figcaption[contains(.,'✓ holds')]", 120);
        Assert.Equal(24, browser.Driver.FindElements(By.XPath("//section[@aria-labelledby='chart']//tbody/tr")).Count);
        Assert.Equal("", Axe.Faults(browser));

        // Linear Rec.709 for the studio: the top line follows.
        browser.Find("[data-testid=working-space] [data-value=lin_rec709]").Click();
        browser.Find("//*[@data-testid='pipeline']//b[text()='Linear Rec.709']");
        browser.Find("[data-testid=working-space] [data-value=acescg]").Click();
        browser.Find("//*[@data-testid='pipeline']//b[text()='ACEScg']");

        browser.Driver.Navigate().GoToUrl(server.Address + "/looks");
        browser.Find("[data-look='brass reed plate']").Click();
        browser.Find("[data-testid=proof]", 60);
        browser.Test("tab-view").Click();
        browser.Choose("[data-testid=surround]", "dark");
        Assert.Equal("dark", browser.Driver.ExecuteScript("return document.documentElement.dataset.surround"));
        browser.Test("clipping").Click();

        // By pointing: a line of numbers; a click pins it. By keyboard the same.
        var proof = browser.Find("[data-testid=proof]");
        browser.Until(
            _ =>
            {
                new Actions(browser.Driver).MoveToElement(proof, 8, 5).MoveToElement(proof, 3, 2).Perform();
                return browser.Driver.FindElements(By.CssSelector("[data-readout=proof]")).FirstOrDefault();
            },
            30,
            "numbers under the pointer"
        );
        Assert.Matches(@"#[0-9a-f]{6}", browser.Find("[data-readout=proof]").Text);
        new Actions(browser.Driver).Click().Perform();
        browser.Find("[data-readout=proof-pin]");
        browser.Test("unpin").Click();
        var picture = browser.Find("[role=application]");
        picture.SendKeys(Keys.Shift + Keys.ArrowRight);
        browser.Find("[data-readout=proof]");
        picture.SendKeys(Keys.Enter);
        browser.Find("[data-readout=proof-pin]");

        // A tint by its hex value; beyond sRGB it is said.
        browser.Test("unused").Click();
        browser.Find("[data-lane=specular_color] button").Click();
        browser.Enter("input[aria-label='hex value, sRGB']", "#33zzcc");
        browser.Find("//p[@role='alert' and contains(.,'six digits')]");
        browser.Enter("input[aria-label='hex value, sRGB']", "#3366cc");
        browser.Until(
            d => d.FindElement(By.CssSelector("input[aria-label='hex value, sRGB']")).GetAttribute("value") == "#3366cc" ? "kept" : null,
            20,
            "the hex value is kept"
        );
        Assert.Equal("", Axe.Faults(browser));
    }
}
