using OpenQA.Selenium;

namespace Kiln.Browser.Tests;

/// <summary>A wall of proofs built by mouse, measured, saved and opened again by its link.</summary>
public sealed class CompareByHand(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    [Fact]
    public void AWallIsBuiltMeasuredAndSeenAgain()
    {
        browser.SignIn(server.Address);
        browser.Find("//nav//a[contains(.,'Compare')]").Click();
        browser.Find("//h2[.='Nothing on the wall yet']");
        browser.Find("select[aria-label='look of a new row']").FindElement(By.XPath("option[.='sail canvas']")).Click();
        browser.Find("//button[.='All dialects']").Click();
        browser.Choose("select[aria-label=samples]", "16");
        browser.Find("select[aria-label='light of a new column']").FindElement(By.XPath("option[.='night']")).Click();
        browser.Find("//button[@aria-label='sail canvas, vessel, night']//img", 120);
        // The difference to the first row appears below each picture when both are refined.
        browser.Find("//tr[th[contains(.,'OpenPBR')]]//span[@data-difference]", 180);
        Assert.True(
            double.Parse(
                browser.Find("//tr[th[contains(.,'OpenPBR')]]//span[@data-difference]").GetAttribute("data-difference")!,
                System.Globalization.CultureInfo.InvariantCulture
            ) < 0.5
        );
        browser.Find("//button[@aria-label='sail canvas, vessel, softbox']").Click();
        browser.Find("//button[@aria-label='sail canvas, vessel, night']").Click();
        browser.Find("//dd[starts-with(.,'mean ')]", 120);
        browser.Find("//button[.='difference']").Click();
        browser.Find("img[alt='where they differ']");
        browser.Find("//ol[@aria-label='scale of ΔE']/li[contains(.,'another colour')]");
        Assert.Equal("", Axe.Faults(browser));
        browser.Find("input[aria-label='name of this comparison']").SendKeys("canvas by day and night");
        browser.Find("//button[.='Save as']").Click();
        browser.Until(d => d.Url.Contains("/compare/", StringComparison.Ordinal) ? d : null, 30, "its own link");
        browser.Driver.Navigate().Refresh();
        browser.Find("//button[@aria-label='sail canvas, glTF 2.0 PBR, vessel, night']", 60);
        Assert.Equal("canvas by day and night", browser.Find("input[aria-label='name of this comparison']").GetAttribute("value"));
    }
}
