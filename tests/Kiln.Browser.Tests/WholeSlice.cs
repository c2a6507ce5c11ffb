using System.IO.Compression;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Kiln.Browser.Tests;

/// <summary>The first whole slice on the real interface: from a dropped zip to a published look, over a restart of the server.</summary>
public sealed class WholeSlice : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    private readonly ServerFixture server;
    private readonly Browser browser;

    public WholeSlice(ServerFixture server, Browser browser) => (this.server, this.browser) = (server, browser);

    private void SignIn() => browser.SignIn(server.Address);

    private int Samples() =>
        int.TryParse(browser.Driver.FindElements(Browser.By("[data-samples]")).FirstOrDefault()?.GetAttribute("data-samples"), out var n)
            ? n
            : 0;

    [Fact]
    public async Task FromAZipToAPublishedLook()
    {
        SignIn();

        // Intake: the packed delivery with a loose, wrongly named file added to it.
        var zip = Path.Combine(server.Folder, "field delivery.zip");
        File.Copy(Path.Combine(server.DemoFolder, "FennFR2-product-maps.zip"), zip);
        using (var archive = ZipFile.Open(zip, ZipArchiveMode.Update))
        {
            // The roughness of the window comes under a name that says height.
            var entry = archive.GetEntry("T_AmberTuningWindow_Roughness.png")!;
            using var content = new MemoryStream();
            using (var from = entry.Open())
                from.CopyTo(content);
            entry.Delete();
            using (var to = archive.CreateEntry("T_AmberTuningWindow_Height.png").Open())
                to.Write(content.ToArray());
            using var broken = archive.CreateEntry("T_Broken_BaseColor.png").Open();
            broken.Write("no picture at all"u8);
        }
        browser.Driver.FindElement(By.CssSelector("[data-testid=files]")).SendKeys(zip);
        browser.Find("[data-path='T_AmberTuningWindow_Height.png'][data-role=height]", 60);
        Assert.Contains("no picture format", browser.Find("//h2[text()='Refused']/following-sibling::ul").Text);

        // A correction by drag.
        browser.Drag("[data-path='T_AmberTuningWindow_Height.png']", "[data-cell='amber_tuning_window/rough']");
        browser.Find("[data-path='T_AmberTuningWindow_Height.png'][data-role=roughness]");

        // The same by keyboard: over to opacity and back.
        var map = browser.Find("[data-path='T_AmberTuningWindow_Opacity.png']");
        browser.Driver.ExecuteScript("arguments[0].focus()", map);
        var keys = new Actions(browser.Driver);
        keys.SendKeys(Keys.Enter)
            .Pause(TimeSpan.FromMilliseconds(300))
            .SendKeys(Keys.ArrowRight)
            .Pause(TimeSpan.FromMilliseconds(100))
            .SendKeys(Keys.ArrowLeft)
            .Pause(TimeSpan.FromMilliseconds(100))
            .SendKeys(Keys.Enter)
            .Perform();
        browser.Find("[data-path='T_AmberTuningWindow_Opacity.png'][data-role=opacity]");

        // The main action.
        browser.ChooseNew("[data-testid=collection]", "Field tests");
        browser.Test("wire").Click();
        browser.Find("main[data-view=looks] h1");
        browser.Find("//li[contains(.,'Field tests')]//a[@data-look='amber tuning window']").Click();

        // The bench: lanes, a refining proof, an edit, an undo and a redo by keyboard.
        browser.Find("[data-lane=emission_color]");
        browser.Until(_ => Samples() >= 2 ? "yes" : null, 60, "a refining proof");
        browser.Find("[data-lane=emission_luminance] button").Click();
        browser.Enter("[data-testid=value]", "2.5");
        browser.Find("//*[@data-lane='emission_luminance']//span[text()='2.5']");
        browser.Test("undo").Click();
        browser.Find("//*[@data-lane='emission_luminance']//span[text()='1']");
        browser.Test("redo").Click();
        browser.Find("//*[@data-lane='emission_luminance']//span[text()='2.5']");

        // A step: invert the roughness, see it in the lane.
        browser.Find("[data-lane=specular_roughness] [data-testid=gap]").Click();
        browser.Test("new-step").SendKeys("gain" + Keys.Enter);
        browser.Find("[data-lane=specular_roughness] button[data-tile^='gain']");

        // The dialect switch restates the lanes.
        browser.Find("[data-testid=renderer] [data-value=bisque]").Click();
        browser.Find("//*[@data-lane='emission_luminance']//b[text()='ember_multiplier']");
        browser.Find("//*[@data-lane='specular_roughness']//p[contains(.,'1 - pow(specular_roughness')]");

        // Blink to glTF while the key is held: its proof and the mean ΔE.
        browser.Choose("[data-testid=blink-to]", "gltf");
        browser.Find("//h1").Click();
        new Actions(browser.Driver).KeyDown("b").Perform();
        browser.Until(
            d =>
                d.FindElements(By.CssSelector("[data-testid=blink]"))
                    .FirstOrDefault(e => e.Text.Contains("mean ΔE", StringComparison.Ordinal)),
            240,
            "mean ΔE"
        );
        new Actions(browser.Driver).KeyUp("b").Perform();
        browser.Until(d => d.FindElements(By.CssSelector("[data-testid=blink]")).Count == 0 ? "gone" : null, 10, "blink ends");

        // Write: the report line by line, and the package.
        browser.Test("publish").Click();
        Assert.Contains("exact", browser.Find("dl[aria-label=report]").Text);
        browser.Test("download-package").Click();
        var package = browser.Until(_ => Directory.GetFiles(browser.Downloads, "*.zip").FirstOrDefault(), 60, "the package");
        using (var archive = ZipFile.OpenRead(package))
        {
            Assert.Contains(archive.Entries, e => e.FullName == "amber_tuning_window_bq.mtlx");
            Assert.Contains(archive.Entries, e => e.FullName == "look.json");
            Assert.All(archive.Entries, e => Assert.False(Path.IsPathRooted(e.FullName)));
        }

        // Keep: publish a version.
        browser.Test("version-note").SendKeys("lamps brighter");
        browser.Test("version-add").Click();
        browser.Find("//li[contains(.,'lamps brighter')]");

        // A restart: nothing is lost.
        var address = browser.Driver.Url;
        server.Kill();
        await server.StartAsync();
        browser.Driver.Navigate().GoToUrl(server.Address + new Uri(address).PathAndQuery);
        if (browser.Driver.FindElements(By.CssSelector("input[name=name]")).Count > 0)
            SignIn();
        browser.Driver.Navigate().GoToUrl(server.Address + new Uri(address).PathAndQuery);
        browser.Find("//*[@data-lane='emission_luminance']//span[text()='2.5']", 60);
        browser.Test("publish").Click();
        browser.Find("//li[contains(.,'lamps brighter')]");
        browser.Driver.Navigate().GoToUrl(server.Address + "/collections");
        browser.Find("//a[contains(.,'Field tests')]").Click();
        browser.Find("//li[contains(.,'version 1')]//a[@data-look='amber tuning window']", 60);
    }

    [Fact]
    public void NoViewHasSeriousAccessibilityFaults()
    {
        SignIn();
        foreach (var path in (string[])["/intake", "/looks", "/collections"])
        {
            browser.Driver.Navigate().GoToUrl(server.Address + path);
            browser.Find("h1");
            browser.Settled();
            var faults = Axe.Faults(browser);
            Assert.True(faults.Length == 0, path + ": " + faults);
        }
    }
}
