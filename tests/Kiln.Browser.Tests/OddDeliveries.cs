using System.Text;
using System.Text.Json;
using OpenQA.Selenium;

namespace Kiln.Browser.Tests;

/// <summary>Deliveries that nobody prepared: pictures without names, two statements about the reflection, a model file alone.</summary>
public sealed class OddDeliveries(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    private void Bring(params (string Name, byte[] Bytes)[] files)
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/intake");
        browser.Find("main[data-view=intake] h1");
        var folder = Directory.CreateTempSubdirectory("kiln-odd-").FullName;
        foreach (var (name, bytes) in files)
            File.WriteAllBytes(Path.Combine(folder, name), bytes);
        browser
            .Driver.FindElement(By.CssSelector("[data-testid=files]"))
            .SendKeys(string.Join('\n', files.Select(f => Path.Combine(folder, f.Name))));
    }

    private static byte[] Grey(byte value) => TestMaps.Grey(64, 64, value);

    /// <summary>
    /// A tray without any surface: one file begins one by a click, the next follows by the keyboard, the rest becomes one together.
    /// </summary>
    [Fact]
    public void ATrayWithoutSurfacesIsNoDeadEnd()
    {
        Bring(("0001.png", Grey(90)), ("0002.png", Grey(140)), ("0003.png", Grey(170)), ("0004.png", Grey(230)));
        browser.Find("[data-path='0001.png']").Click();
        browser.Find("[data-cell='+ new surface/rough']").Click();
        browser.Find("[data-cell='0001/rough'] [data-path='0001.png']");

        browser.Find("[data-path='0002.png']").Click();
        browser.Until(
            d => d.SwitchTo().ActiveElement().GetAttribute("data-cell") == "0001/base" ? "there" : null,
            10,
            "the first cell has the focus"
        );
        browser.Driver.SwitchTo().ActiveElement().SendKeys(Keys.ArrowRight);
        browser.Until(
            d => d.SwitchTo().ActiveElement().GetAttribute("data-cell") == "0001/metal" ? "there" : null,
            10,
            "the next cell has the focus"
        );
        browser.Driver.SwitchTo().ActiveElement().SendKeys(Keys.Enter);
        browser.Find("[data-cell='0001/metal'] [data-path='0002.png']");

        foreach (var name in (string[])["0003.png", "0004.png"])
            browser.Find($"[aria-label='choose {name}']").Click();
        browser.Find("[aria-label='name of the new surface']").SendKeys("harbour wall");
        browser.Find("//button[contains(.,'New surface from these (2)')]").Click();
        browser.Find("[data-cell^='harbour wall/'] [data-path='0004.png']");
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("[aria-label='Tray'] [data-path]")));
        Assert.Equal("", Axe.Faults(browser));
        // Words that come and go are styled by our own sheet: the page's policy has nothing to say.
        Assert.DoesNotContain(browser.Complaints(), c => c.Contains("Content Security Policy", StringComparison.Ordinal));
    }

    [Fact]
    public void TwoReflectionsAreAskedWithBothShown()
    {
        Bring(("sill_reflection.png", Grey(120)), ("sill_specular.png", Grey(200)));
        var question = browser.Find("[data-question='two reflections']");
        Assert.Equal(2, question.FindElements(By.TagName("img")).Count);
        browser.Find("[data-meaning=reflectionIsTheCoat]").Click();
        browser.Find("[data-path='sill_reflection.png'][data-role=coat]");
        browser.Find("[data-path='sill_specular.png'][data-role=specularLevel]");
        browser.Until(d => d.FindElements(By.CssSelector("[data-question]")).Count == 0 ? "settled" : null, 10, "the question is gone");
    }

    /// <summary>A file of materials alone is what it is: a person chooses among them, and each becomes a look.</summary>
    [Fact]
    public void AModelFileIsTakenForItsMaterials()
    {
        var json = JsonSerializer.Serialize(
            new
            {
                asset = new { version = "2.0" },
                materials = new object[]
                {
                    new { name = "Teapot body" },
                    new { name = "Teapot lid", pbrMetallicRoughness = new { metallicFactor = 0 } },
                    new { name = "Knob brass" },
                },
            }
        );
        var text = Encoding.UTF8.GetBytes(json.PadRight((json.Length + 3) / 4 * 4));
        byte[] glb =
        [
            .. "glTF"u8,
            .. BitConverter.GetBytes(2),
            .. BitConverter.GetBytes(20 + text.Length),
            .. BitConverter.GetBytes(text.Length),
            .. "JSON"u8,
            .. text,
        ];
        Bring(("teapot.glb", glb));
        browser.Find("//h2[normalize-space(.)='teapot.glb has 3 materials']");
        browser.Find("[aria-label='Teapot lid']").Click();
        browser.Test("make-looks").Click();
        browser.Find("main[data-view=looks] h1");
        browser.Find("[data-testid='choose-Teapot body']");
        browser.Find("[data-testid='choose-Knob brass']");
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("[data-testid='choose-Teapot lid']")));
    }
}
