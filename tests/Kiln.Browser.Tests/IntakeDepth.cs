using OpenQA.Selenium;

namespace Kiln.Browser.Tests;

/// <summary>
/// Intake in depth on the real interface: a question answered once, a correction that becomes a rule, the drawer's evidence, choosing
/// surfaces.
/// </summary>
public sealed class IntakeDepth(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    private void SignIn() => browser.SignIn(server.Address);

    private void Open(string delivery)
    {
        browser.Driver.Navigate().GoToUrl(server.Address + "/intake");
        browser.Find($"//a[text()='{delivery}']").Click();
        browser.Find($"//h1[text()='{delivery}']");
    }

    [Fact]
    public void AnAnswerAndACorrectionAreLearned()
    {
        SignIn();
        // A grey picture named reflection: asked once, both readings shown, the answer remembered.
        Open("Tide Organ Timber and Slate");
        browser.Find("[data-question=reflection]");
        browser.Find("//*[@data-question='reflection']//button[contains(.,'specular level')]").Click();
        browser.Until(d => d.FindElements(By.CssSelector("[data-question]")).Count == 0 ? "settled" : null, 10, "the question is gone");

        // What is called rough is glossiness: dragged nowhere, said in the drawer; the rule is offered with what it would change.
        browser.Find("[data-path$='Rough.tif']").Click();
        browser.Choose("[data-testid=map-role]", "glossiness");
        browser.Find("[data-path$='Rough.tif'][data-role=glossiness]");
        browser.Test("rule-preview").Click();
        browser.Find("//p[contains(.,'would change')]");
        browser.Test("rule-keep").Click();

        // Studio has both rules, with who made them; one is switched off.
        browser.Driver.Navigate().GoToUrl(server.Address + "/house");
        browser.Find("[data-rule=reflection]");
        Assert.Contains("Noor Teale", browser.Find("[data-rule=rough]").Text);
        browser.Find("//*[@data-rule='rough']//*[@role='checkbox']").Click();
        browser.Find("//*[@data-rule='rough']//span[contains(@class,'line-through')]");
        // One is added in the form, seen in the text, and saved with what it would change.
        browser.Test("naming-add").Click();
        browser.Test("rule-phrase").SendKeys("Wet_Kelp");
        browser.Find("//*[@role='status'][contains(.,'“wet kelp” means roughness')]");
        browser.Test("form-or-text").FindElement(By.CssSelector("[data-value=text]")).Click();
        Assert.Contains("\"wet kelp\"", browser.Test("text-view").GetAttribute("value"));
        Assert.Equal("", Axe.Faults(browser));
        browser.Test("form-or-text").FindElement(By.CssSelector("[data-value=form]")).Click();
        browser.Until(d => browser.Test("naming-save").Enabled ? "settled" : null, 20, "the rules can be saved");
        browser.Test("naming-save").Click();
        browser.Find("//*[@data-rule='wet kelp'][contains(.,'Noor Teale')]");

        // A name is tried against the rules.
        var name = browser.Find("input[aria-label='file name']");
        name.SendKeys(Keys.Control + "a");
        name.SendKeys("quay_reflection_4k.png");
        browser.Find("//dd[text()='specular level']");
    }

    [Fact]
    public void SurfacesAreFoundChosenAndWired()
    {
        SignIn();
        Open("organ-fittings-lookdev");
        browser.Find("input[aria-label='Find a surface']").SendKeys("brass");
        browser.Until(d => d.FindElements(By.CssSelector("tbody tr[data-index]")).Count == 1 ? "one" : null, 10, "one row");
        browser.Find("[role=checkbox][aria-label='select brass reed plate']").Click();
        browser.Test("wire-selected").Click();
        browser.Find("//h1[text()='brass reed plate']", 60);
    }

    [Fact]
    public void TheSortingTableAndTheStudioHaveNoSeriousAccessibilityFaults()
    {
        SignIn();
        Open("shoreline_scans_v2");
        browser.Find("[data-path='1K/barnacleIron_NRM_GL_1k.png']").Click();
        browser.Find("//figcaption[contains(.,'the other way')]");
        Assert.Equal("", Axe.Faults(browser));
        browser.Driver.Navigate().GoToUrl(server.Address + "/studio");
        browser.Find("//h2[text()='Try a file name']");
        Assert.Equal("", Axe.Faults(browser));
    }
}
