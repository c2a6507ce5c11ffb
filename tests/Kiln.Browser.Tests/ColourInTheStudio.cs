using OpenQA.Selenium;

namespace Kiln.Browser.Tests;

/// <summary>
/// A config with other names, a map tagged wrongly and one converted already: brought in, shown and explained on the real interface.
/// </summary>
public sealed class ColourInTheStudio(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    [Fact]
    public void ConfigTagsAndNumbersAreShown()
    {
        browser.SignIn(server.Address, "ada");
        // Studio: bring the config in, see what it changes, put it in force.
        browser.Driver.Navigate().GoToUrl(server.Address + "/studio/colour");
        var config = Path.Combine(browser.Downloads, "pierhouse.ocio");
        File.WriteAllText(config, TestMaps.Studio);
        browser.Find("//h2[contains(.,'No colour config')]");
        browser.Driver.FindElement(By.CssSelector("input[aria-label='config file']")).SendKeys(config);
        browser.Find("//li[normalize-space(.)='srgb_texture → painted colour']");
        browser.Test("config-use").Click();
        browser.Find("//h2[contains(.,'In use: pierhouse')]");
        browser.Find("//header//a[contains(.,'pierhouse')]");
        browser.Find("//tr[td[contains(.,'painted colour')]][td[.='srgb_texture']]");
        browser.Find("//tr[contains(.,'odd one') and contains(.,'not supported: GradingPrimaryTransform')]");
        browser.Find("//td[.='read_as=\"painted colour\"']");
        Assert.Equal("", Axe.Faults(browser));

        // Intake: loose files with careless tags.
        var files = new List<string>();
        foreach (
            var (name, bytes) in new[]
            {
                ("quay_rough.png", TestMaps.RoughnessTaggedSrgb()),
                ("quay_basecolor.exr", TestMaps.BaseColourInAcesCg()),
            }
        )
        {
            files.Add(Path.Combine(browser.Downloads, name));
            File.WriteAllBytes(files[^1], bytes);
        }
        browser.Driver.Navigate().GoToUrl(server.Address + "/intake");
        browser.Find("main[data-view=intake] h1");
        browser.Driver.FindElement(By.CssSelector("[data-testid=files]")).SendKeys(string.Join('\n', files));
        browser.Find("[data-path='quay_rough.png']", 60).Click();
        browser.Find("//li[contains(.,'is ignored, downloads are tagged carelessly')]");
        browser.Find("//figcaption[contains(.,'the other way')][contains(.,'sRGB')]");
        browser.Test("drawer-close").Click();
        browser.Find("[data-path='quay_basecolor.exr']").Click();
        browser.Find("//figcaption[contains(.,'as read')][contains(.,'ACEScg')]");
        browser.Find("//li[@data-decides='true'][contains(.,'what the file itself states')][contains(.,'primaries from the file')]");

        // The numbers under the pointer, by keyboard.
        browser.Test("map-numbers").Click();
        var picture = browser.Find("button[aria-label*='point at it']");
        picture.SendKeys(Keys.ArrowRight);
        var stored = browser.Find("[data-readout=stored]").Text;
        Assert.Equal(stored["stored".Length..].Trim(), browser.Find("[data-readout=working]").Text["working".Length..].Trim());
        Assert.Matches("#[0-9a-f]{6}", browser.Find("[data-readout=displayed]").Text);
    }
}
