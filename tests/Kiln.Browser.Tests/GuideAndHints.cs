using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Kiln.Browser.Tests;

/// <summary>Help where it is needed: hints on the first bench, the guide beside the view it is about, found by typing.</summary>
public sealed class GuideAndHints(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    [Fact]
    public void TheFirstBenchHasFourHintsAndTheGuideStandsBesideIt()
    {
        browser.SignIn(server.Address);
        browser.Driver.ExecuteScript("localStorage.removeItem('kiln.benchHints')");
        browser.Driver.Navigate().GoToUrl(server.Address + "/looks");
        browser.Find("[data-look='sail canvas']").Click();
        for (var i = 1; i <= 4; i++)
        {
            browser.Find($"//*[@data-testid='hint'][contains(.,'{i}/4')]");
            if (i == 1)
            {
                // Away from what is under the pointer, which would show its tip.
                new Actions(browser.Driver).MoveToElement(browser.Test("hint")).Perform();
                browser.Settled();
                Assert.Equal("", Axe.Faults(browser));
            }
            // A hint takes no click of the bench.
            if (i == 2)
                browser.Find("[data-lane=specular_roughness] [data-tile]").Click();
            browser.Test("hint-next").Click();
        }
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("[data-testid=hint]")));
        browser.Driver.Navigate().Refresh();
        browser.Find("[data-lane=specular_roughness]");
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("[data-testid=hint]")));

        // The guide opens at the chapter about this view, and the bench stays usable beside it.
        browser.Test("guide-open").Click();
        browser.Find("//aside[@aria-label='Guide']//h2");
        browser.Choose("[data-testid=guide-chapter]", "layers");
        browser.Find("//aside[@aria-label='Guide']//h2[.='Steps, sources and layers']");
        browser.Until(
            _ =>
                (bool)
                    browser.Driver.ExecuteScript(
                        "return [...document.querySelectorAll('[data-testid=guide] img')].every(i => i.complete && i.naturalWidth > 0)"
                    )!
                    ? "shown"
                    : null,
            20,
            "the pictures of the chapter"
        );
        browser.Find("[data-lane=specular_roughness] [data-tile]").Click();
        Assert.Equal("", Axe.Faults(browser));
        Assert.False((bool)browser.Driver.ExecuteScript("const m = document.querySelector('main'); return m.scrollWidth > m.clientWidth")!);

        // Any part of it is found by typing.
        new Actions(browser.Driver).KeyDown(Keys.Control).SendKeys("k").KeyUp(Keys.Control).Perform();
        browser.Find("[data-testid=command-list] input").SendKeys("glossiness");
        browser.Find("[data-guide=glossiness]").Click();
        browser.Find("//aside[@aria-label='Guide']//h2[.='How maps are read']");
        browser.Until(
            _ =>
                (bool)
                    browser.Driver.ExecuteScript(
                        "const { top } = document.getElementById('guide-glossiness').getBoundingClientRect();"
                            + "return top > 30 && top < innerHeight"
                    )!
                    ? "seen"
                    : null,
            10,
            "the section is in view"
        );
        browser.Test("guide-close").Click();
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("[data-testid=guide]")));
    }
}
