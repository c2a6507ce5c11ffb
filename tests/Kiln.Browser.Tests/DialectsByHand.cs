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
        browser.Find($"[data-look='{look}']").Click();
        browser.Find($"[data-testid=renderer] [data-value='{dialect}']").Click();
    }

    [Fact]
    public void TrimsAreSearchedTakenOverSetAndTakenBack()
    {
        Open("brass reed plate", "celadon");
        browser.Menu("[data-testid=bench-menu]", "menu-trims");
        browser.Test("trims-search").Click();
        browser.Find("[role=progressbar]");
        var found = browser.Test("fit-result", 240);
        Assert.Equal(3, found.FindElements(By.CssSelector("tbody tr")).Count);
        browser.Find("svg[role=img]");
        Assert.Equal("", Axe.Faults(browser));
        // By hand: a gain on the roughness, hatched in its lane, in this dialect only.
        browser.Choose("[data-testid=add-trim]", "specular_roughness");
        browser.Enter("[data-testid=trim-gain]", "0.8");
        browser.Test("drawer-close").Click();
        browser.Find("//p[@data-testid='trimmed' and contains(.,'0.8')]");
        browser.Find("[data-testid=renderer] [data-value=bisque]").Click();
        browser.Until(
            d => d.FindElements(By.XPath("//p[@data-testid='trimmed']")).Count == 0 ? new object() : null,
            30,
            "no trim in another dialect"
        );
        browser.Test("undo").Click();
        browser.Find("[data-testid=renderer] [data-value=celadon]").Click();
        browser.Until(
            d => d.FindElements(By.XPath("//p[@data-testid='trimmed' and contains(.,'0.8')]")).Count == 0 ? new object() : null,
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
        Open("sail canvas", "openpbr");
        browser.Find("//p[@data-samples!='0' and contains(.,'OpenPBR')]", 120);
        browser.Find("//p[@data-dialect-input='specular_roughness']", 60);
        // The server's answers take a while, as they do with large maps.
        browser.Driver.ExecuteScript(
            "const real = window.fetch; window.fetch = (...a) => /board|proof/.test(a[0].url ?? a[0]) ? new Promise(r => "
                + "setTimeout(() => r(real(...a)), 1500)) : real(...a);"
        );
        var shown =
            browser.Driver.ExecuteAsyncScript(
                """
                const done = arguments[arguments.length - 1];
                document.querySelector('[data-testid=renderer] [data-value=celadon]').click();
                setTimeout(() => done([document.querySelector('[data-samples]').dataset.samples, document.body.innerText].join('|')), 300);
                """
            ) as string;
        Assert.StartsWith("0|", shown, StringComparison.Ordinal);
        Assert.DoesNotContain("No findings", shown, StringComparison.Ordinal);
        Assert.Contains("Checking the look", shown, StringComparison.Ordinal);
        Assert.DoesNotContain("geometry_opacity", shown, StringComparison.Ordinal);
        browser.Find("//p[@data-samples!='0' and contains(.,'Celadon')]", 120);
    }

    /// <summary>A step that is added is drawn before the server has answered, once, and stays one when it has.</summary>
    [Fact]
    public void AStepThatIsComingShowsAtOnce()
    {
        Open("kelp concrete", "");
        browser.Find("[data-lane=specular_roughness] [data-testid=gap][data-at='0']", 60);
        browser.Driver.ExecuteScript(
            "const real = window.fetch; window.answered = 0; window.fetch = (...a) => /edits/.test(a[0].url ?? a[0]) ? new Promise(r => "
                + "setTimeout(() => real(...a).then(x => { window.answered++; r(x); }), 2000)) : real(...a);"
        );
        browser.Find("[data-lane=specular_roughness] [data-testid=gap][data-at='0']").Click();
        browser.Test("new-step").SendKeys("gain" + Keys.Enter);
        browser.Find("[data-lane=specular_roughness] [data-tile='gain and offset']");
        Assert.Equal(0L, browser.Driver.ExecuteScript("return window.answered"));
        browser.Until(_ => (long)browser.Driver.ExecuteScript("return window.answered")! > 0 ? "yes" : null, 30, "the server's answer");
        Assert.Single(browser.Driver.FindElements(By.CssSelector("[data-lane=specular_roughness] [data-tile='gain and offset']")));
    }

    [Fact]
    public void TheReportHasFiguresAndPairsOfPictures()
    {
        Open("verdigris copper pipe", "celadon");
        browser.Test("publish").Click();
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
        browser.Test("export-collection").Click();
        browser.Test("drafts").Click();
        browser.Test("export-saggar").Click();
        browser.Find("[data-batch=done]", 180);
        Assert.All(browser.Driver.FindElements(By.CssSelector("[data-batch] tbody tr")), r => Assert.EndsWith("done", r.Text));
        browser.Test("batch-download");
        Assert.Equal("", Axe.Faults(browser));
    }

    [Fact]
    public void AProfileIsCheckedToTheLineAndTried()
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/studio/renderers");
        browser.Test("open-bisque").Click();
        browser.Test("form-or-text").FindElement(By.CssSelector("[data-value=text]")).Click();
        var text = browser.Find("textarea");
        browser.Until(_ => text.GetAttribute("value")!.Length > 100 ? text : null, 20, "the profile's text");
        // A stray word at the end of the first line.
        text.SendKeys(Keys.Control + Keys.Home);
        text.SendKeys("\"ide\": \"x\",");
        browser.Find("//ul[@aria-label='what is wrong']//button[contains(.,'line 1')]");
        browser.Test("draft-discard").Click();
        browser.Until(
            _ => !text.GetAttribute("value")!.Contains("\"ide\"", StringComparison.Ordinal) ? text : null,
            20,
            "the text as it was"
        );
        browser.ChooseNamed("[data-testid=profile-try]", "sail canvas");
        browser.Find("//*[@aria-label='the profile tried']//img", 60);
        Assert.Equal("", Axe.Faults(browser));
    }

    /// <summary>Form and text are one draft: what is changed in either is seen in the other, a fault stands at its field.</summary>
    [Fact]
    public void AProfileIsChangedFieldByField()
    {
        browser.SignIn(server.Address, "ada");
        browser.Driver.Navigate().GoToUrl(server.Address + "/studio/renderers");
        browser.Test("open-saggar").Click();
        browser.Find("//*[@data-testid='profile-state'][contains(.,'No problems')]", 60);
        browser.Test("section-mapping").Click();
        var grit = browser.Find("[data-testid=row-mapping-grit] input");
        grit.SendKeys(" * frog");
        browser.Find("//*[@data-testid='row-mapping-grit']//*[@role='alert'][contains(.,'frog')]");
        browser.Test("draft-undo").Click();
        grit = browser.Find("[data-testid=row-mapping-grit] input");
        grit.SendKeys(" * 0.5");
        // What it would change is said at the field and for all looks.
        browser.Find("//*[@data-testid='row-mapping-grit'][contains(.,'looks')]", 60);
        browser.Find("//*[@data-testid='profile-state'][contains(.,'exported differently')]");
        Assert.Equal("", Axe.Faults(browser));
        browser.Test("form-or-text").FindElement(By.CssSelector("[data-value=text]")).Click();
        Assert.Contains("specular_roughness * 0.5", browser.Find("textarea").GetAttribute("value"));
        browser.Test("draft-discard").Click();
    }

    [Fact]
    public void APictureIsHeldBesideTheProof()
    {
        Open("verdigris copper pipe", "");
        browser.Find("[data-testid=proof]", 120);
        browser.Test("tab-view").Click();
        browser.Test("snapshot").Click();
        browser.Find("[data-testid=beside]");
        browser.Choose("[data-testid=compare-with]", "0");
        browser.Until(
            d =>
                d.FindElements(By.CssSelector("[data-testid=beside]"))
                    .FirstOrDefault(e => e.GetAttribute("src")!.Contains("/contents/", StringComparison.Ordinal)),
            20,
            "the delivered picture"
        );
        browser.Choose("[data-testid=framing]", "near");
        browser.Choose("[data-testid=compare-with]", "none");
        browser.Until(d => d.FindElements(By.CssSelector("[data-testid=beside]")).Count == 0 ? new object() : null, 20, "nothing beside");
    }
}
