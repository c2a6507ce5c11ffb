using OpenQA.Selenium;

namespace Kiln.Browser.Tests;

/// <summary>
/// A look in another renderer's terms, by hand: trims by search and by number, the report, a collection written, a profile tried.
/// </summary>
public sealed class DialectsByHand(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    private void Open(string look, string dialect)
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/looks");
        browser.Find($"//a[.//span[text()='{look}']]").Click();
        browser.Find($"//button[text()='{dialect}']").Click();
    }

    [Fact]
    public void TrimsAreSearchedTakenOverSetAndTakenBack()
    {
        Open("brass reed plate", "Celadon");
        browser.Find("//button[starts-with(normalize-space(.),'Trims')]").Click();
        browser.Find("//button[text()='Search trims']").Click();
        browser.Find("progress");
        var found = browser.Find("[aria-label='what the fit found']", 240);
        Assert.Equal(3, found.FindElements(By.CssSelector("tbody tr")).Count);
        browser.Find("svg[role=img]");
        Assert.Equal("", Axe.Faults(browser));
        // By hand: a gain on the roughness, hatched in its lane, in this dialect only.
        browser.Find("//select[@aria-label='add a trim of']/option[@value='specular_roughness']").Click();
        browser.Enter("//li[.//input[@aria-label='gain']]//input[@aria-label='gain']", "0.8");
        browser.Find("//button[text()='Close']").Click();
        browser.Find("//p[contains(.,'trimmed:') and contains(.,'0.8')]");
        browser.Find("//button[text()='Bisque']").Click();
        browser.Until(
            d => d.FindElements(By.XPath("//p[contains(.,'trimmed:')]")).Count == 0 ? new object() : null,
            30,
            "no trim in another dialect"
        );
        browser.Find("//button[text()='Undo']").Click();
        browser.Find("//button[text()='Celadon']").Click();
        browser.Until(
            d => d.FindElements(By.XPath("//p[contains(.,'trimmed:') and contains(.,'0.8')]")).Count == 0 ? new object() : null,
            30,
            "the trim is undone"
        );
    }

    /// <summary>
    /// While the next dialect is on its way nothing of the last one stands under its name: no picture, no numbers, no findings.
    /// </summary>
    [Fact]
    public void ATabShowsNothingOfAnotherDialect()
    {
        Open("sail canvas", "OpenPBR");
        browser.Find("//p[@data-samples!='0' and contains(.,'OpenPBR')]", 120);
        browser.Find("//b[text()='specular_roughness']", 60);
        // The server's answers take a while, as they do with large maps.
        browser.Driver.ExecuteScript(
            "const real = window.fetch; window.fetch = (...a) => /board|proof/.test(String(a[0])) ? new Promise(r => "
                + "setTimeout(() => r(real(...a)), 1500)) : real(...a);"
        );
        var shown =
            browser.Driver.ExecuteAsyncScript(
                """
                const done = arguments[arguments.length - 1];
                [...document.querySelectorAll('button')].find(b => b.textContent === 'Celadon').click();
                setTimeout(() => done([document.querySelector('[data-samples]').dataset.samples, document.body.innerText].join('|')), 300);
                """
            ) as string;
        Assert.StartsWith("0|", shown, StringComparison.Ordinal);
        Assert.DoesNotContain("No findings", shown, StringComparison.Ordinal);
        Assert.Contains("Looking for findings", shown, StringComparison.Ordinal);
        Assert.DoesNotContain("geometry_opacity", shown, StringComparison.Ordinal);
        browser.Find("//p[@data-samples!='0' and contains(.,'Celadon')]", 120);
    }

    /// <summary>A step that is being added shows at once, and its place takes no second one meanwhile.</summary>
    [Fact]
    public void AStepThatIsComingShowsAtOnce()
    {
        Open("kelp concrete", "Look");
        browser.Find("[data-lane=specular_roughness] [aria-label='add a step at place 1']", 60);
        browser.Driver.ExecuteScript(
            "const real = window.fetch; window.fetch = (...a) => /edits/.test(String(a[0])) ? new Promise(r => setTimeout(() => "
                + "r(real(...a)), 2000)) : real(...a);"
        );
        browser.Find("[data-lane=specular_roughness] [aria-label='add a step at place 1']").Click();
        browser.Find("input[aria-label='new step']").SendKeys("gain" + Keys.Enter);
        browser.Find("//*[@data-lane='specular_roughness']//*[@role='status' and contains(.,'adding gain')]", 5);
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("[data-lane=specular_roughness] [aria-label='add a step at place 1']")));
        browser.Find("[data-lane=specular_roughness] [data-tile='gain and offset']", 30);
        Assert.Single(browser.Driver.FindElements(By.CssSelector("[data-lane=specular_roughness] [data-tile='gain and offset']")));
    }

    [Fact]
    public void TheReportHasFiguresAndPairsOfPictures()
    {
        Open("verdigris copper pipe", "Celadon");
        browser.Find("//button[text()='Keep and write']").Click();
        browser.Until(
            d =>
                d.FindElements(By.CssSelector("[data-testid=approximated]"))
                    .FirstOrDefault(e => e.Text.Contains("mean ΔE", StringComparison.Ordinal)),
            120,
            "the figure of what is approximated"
        );
        browser.Find("//dl[@aria-label='report']//figcaption[text()='without it']");
        Assert.Equal("", Axe.Faults(browser));
    }

    [Fact]
    public void ACollectionIsWrittenAndFollowedLookByLook()
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/collections");
        browser.Find("//a[contains(.,'Fenn FR-2')]").Click();
        browser.Find("//button[starts-with(text(),'Write for a dialect')]").Click();
        browser.Find("input[name=drafts]").Click();
        browser.Find("//button[text()='Saggar']").Click();
        browser.Find("[data-batch=done]", 180);
        Assert.All(browser.Driver.FindElements(By.CssSelector("[data-batch] tbody tr")), r => Assert.EndsWith("done", r.Text));
        browser.Find("//a[text()='Save what is written']");
        Assert.Equal("", Axe.Faults(browser));
    }

    [Fact]
    public void AProfileIsCheckedToTheLineAndTried()
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/studio/dialects");
        browser.Find("button[aria-label='open the profile of Bisque']").Click();
        var text = browser.Find("textarea");
        browser.Until(_ => text.GetAttribute("value")!.Length > 100 ? text : null, 20, "the profile's text");
        // A stray word at the end of the first line.
        text.SendKeys(Keys.Control + Keys.Home);
        text.SendKeys("\"ide\": \"x\",");
        browser.Find("//button[text()='Check']").Click();
        browser.Find("//ul[@aria-label='what is wrong']//button[normalize-space(.)='line 1']");
        browser.Find("button[aria-label='open the profile of Bisque']").Click();
        browser.Until(
            _ => !text.GetAttribute("value")!.Contains("\"ide\"", StringComparison.Ordinal) ? text : null,
            20,
            "the text as it was"
        );
        browser.Find("//select[@aria-label='try it on a look']/option[text()='sail canvas']").Click();
        browser.Find("//*[@aria-label='the profile tried']//img", 60);
        Assert.Equal("", Axe.Faults(browser));
    }

    [Fact]
    public void APictureIsHeldBesideTheProof()
    {
        Open("verdigris copper pipe", "Look");
        browser.Find("[data-testid=proof]", 120);
        browser.Find("//button[text()='Hold this picture']").Click();
        browser.Find("[data-testid=beside]");
        browser.Find("//select[@aria-label='picture beside the proof']/option[contains(.,'as delivered')]").Click();
        browser.Until(
            d =>
                d.FindElements(By.CssSelector("[data-testid=beside]"))
                    .FirstOrDefault(e => e.GetAttribute("src")!.Contains("/contents/", StringComparison.Ordinal)),
            20,
            "the delivered picture"
        );
        browser.Choose("select[aria-label=camera]", "near");
        browser.Find("//select[@aria-label='picture beside the proof']/option[text()='nothing']").Click();
        browser.Until(d => d.FindElements(By.CssSelector("[data-testid=beside]")).Count == 0 ? new object() : null, 20, "nothing beside");
    }
}
