using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Kiln.Browser.Tests;

/// <summary>A wall of proofs built by mouse, measured, saved and opened again by its link.</summary>
public sealed class CompareByHand(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    [Fact]
    public void AWallIsBuiltMeasuredAndSeenAgain()
    {
        browser.SignIn(server.Address);
        browser.Find("[data-place=compare]").Click();
        browser.Find("//h2[.='Nothing to compare yet']");
        browser.ChooseNamed("[data-testid=add-row]", "sail canvas");
        browser.Test("all-renderers").Click();
        browser.Choose("[data-testid=wall-samples]", "16");
        browser.Choose("[data-testid=add-column]", "night");
        browser.Find("//button[@aria-label='sail canvas, Vessel, Night street']//img", 120);
        // The difference to the first row appears below each picture when both are refined.
        browser.Find("//tr[th[contains(.,'OpenPBR')]]//span[@data-difference]", 180);
        Assert.True(
            double.Parse(
                browser.Find("//tr[th[contains(.,'OpenPBR')]]//span[@data-difference]").GetAttribute("data-difference")!,
                System.Globalization.CultureInfo.InvariantCulture
            ) < 0.5
        );
        browser.Find("//button[@aria-label='sail canvas, Vessel, Softbox']").Click();
        browser.Find("//button[@aria-label='sail canvas, Vessel, Night street']").Click();
        browser.Find("//dd[starts-with(.,'mean ')]", 120);
        // Numbers of both at one place, by keys and by pointing; of one of the wall against the first row.
        browser.Find("[role=application]").SendKeys(Keys.ArrowRight + Keys.ArrowDown);
        browser.Find("//*[@data-testid='pair-readout'][contains(.,'ΔE2000 here ')]//*[@data-readout='pair-second'][contains(.,'#')]");
        new Actions(browser.Driver).MoveToElement(browser.Find("//tr[th[contains(.,'OpenPBR')]]//button[@aria-pressed]")).Perform();
        browser.Find("//tr[th[contains(.,'OpenPBR')]]//span[@data-readout='cell'][starts-with(.,'ΔE ')][contains(.,'#')]");
        browser.Test("way-difference").Click();
        browser.Find("img[alt='where they differ']");
        browser.Find("//ol[@aria-label='scale of ΔE']/li[contains(.,'another colour')]");
        Assert.Equal("", Axe.Faults(browser));
        browser.Find("input[aria-label='name of this comparison']").SendKeys("canvas by day and night");
        browser.Test("wall-save").Click();
        browser.Until(d => d.Url.Contains("/compare/", StringComparison.Ordinal) ? d : null, 30, "its own link");
        browser.Driver.Navigate().Refresh();
        browser.Find("//button[@aria-label='sail canvas, glTF 2.0 PBR, Vessel, Night street']", 60);
        Assert.Equal("canvas by day and night", browser.Find("input[aria-label='name of this comparison']").GetAttribute("value"));
    }
}
