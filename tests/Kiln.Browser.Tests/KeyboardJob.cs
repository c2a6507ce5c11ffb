using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;
using Xunit.Abstractions;

namespace Kiln.Browser.Tests;

/// <summary>
/// The whole job without a mouse: a delivery sorted, a surface made of loose files, looks wired, one edited, a finding fixed, published.
/// Every stop of the focus is looked at: it is somewhere, and it is seen.
/// </summary>
public sealed class KeyboardJob(ServerFixture server, Browser browser, ITestOutputHelper output)
    : IClassFixture<ServerFixture>,
        IClassFixture<Browser>
{
    private int keys;

    private void Press(params string[] pressed)
    {
        foreach (var key in pressed)
        {
            new Actions(browser.Driver).SendKeys(key).Perform();
            keys++;
        }
    }

    private const string Seen = """
        const e = document.activeElement;
        if (!e || e === document.body || !document.hasFocus()) return 'nowhere';
        const box = e.getBoundingClientRect();
        const off = box.bottom < 0 || box.right < 0 || box.top > innerHeight || box.left > innerWidth;
        if (off) return 'off the screen: ' + e.outerHTML.slice(0, 200);
        const marked = x => {
          const s = getComputedStyle(x);
          // Messages are marked by a shadow.
          if (x.matches('[data-sonner-toast]')) return s.boxShadow !== 'none';
          return s.outlineStyle !== 'none' && parseFloat(s.outlineWidth) > 0;
        };
        for (let at = e; at && at !== document.body; at = at.parentElement) if (marked(at)) return '';
        return [...e.children].some(marked) ? '' : `without a mark${e.disabled ? ', held back' : ''}: ${e.outerHTML.slice(0, 200)}`;
        """;

    /// <summary>Goes on by Tab until the focus is on what is meant; each stop must be seen.</summary>
    private void TabTo(string selector, int most = 250)
    {
        browser.Find(selector);
        for (var i = 0; i < most; i++)
        {
            if (browser.Driver.FindElements(Browser.By(selector)).Any(e => e.Equals(browser.Driver.SwitchTo().ActiveElement())))
                return;
            Press(Keys.Tab);
            var fault = (string)browser.Driver.ExecuteScript(Seen)!;
            // What is being sent may hold a button back for a moment.
            if (fault is not ("" or "nowhere"))
            {
                browser.Settled();
                fault = (string)browser.Driver.ExecuteScript(Seen)!;
            }
            // The end of the page: the browser's own bar, then its beginning.
            if (fault != "nowhere")
                Assert.True(fault == "", $"{fault}, on the way to {selector}");
        }
        Assert.Fail($"{selector} is not reached by {most} times Tab; the focus is on {Active()}");
    }

    private string Active() =>
        browser.Driver.SwitchTo().ActiveElement().GetAttribute("outerHTML") is { Length: > 120 } html
            ? html[..120]
            : browser.Driver.SwitchTo().ActiveElement().GetAttribute("outerHTML")!;

    /// <summary>After something was done the focus is still somewhere.</summary>
    private void Kept(string after)
    {
        browser.Until(
            d => d.SwitchTo().ActiveElement().TagName is var tag && tag != "body" ? tag : null,
            10,
            $"the focus is somewhere after {after}"
        );
        browser.Settled();
    }

    [Fact]
    public void FromADeliveryToAPublishedLook()
    {
        browser.Driver.Navigate().GoToUrl(server.Address + "/intake");
        browser.Find("input[name=name]");
        Press("noor", Keys.Tab, "noor-kiln", Keys.Enter);
        browser.Find("main[data-view=intake] h1");

        // Files: the chooser is the system's own; what it gives is the same.
        var folder = Directory.CreateTempSubdirectory("kiln-keys-").FullName;
        var files = new List<string>();
        foreach (
            var (name, bytes) in ((string, byte[])[])
                [
                    ("pier_post_basecolor.png", TestMaps.BaseColour()),
                    ("pier_post_gloss.png", TestMaps.Grey(64, 64, 120)),
                    ("IMG_0031.png", TestMaps.BaseColour()),
                ]
        )
        {
            files.Add(Path.Combine(folder, name));
            File.WriteAllBytes(files[^1], bytes);
        }
        browser.Driver.FindElement(By.CssSelector("[data-testid=files]")).SendKeys(string.Join('\n', files));

        // The sorting table: a map is picked up, carried one column on and back, and put down where it was.
        browser.Find("[data-path='pier_post_gloss.png']", 60);
        browser.Settled();
        TabTo("[data-path='pier_post_gloss.png']");
        Press(Keys.Enter);
        browser.Until(d => d.SwitchTo().ActiveElement().GetAttribute("data-cell"), 10, "a cell has the focus");
        Press(Keys.ArrowRight, Keys.ArrowLeft, Keys.Enter);
        browser.Find("[data-path='pier_post_gloss.png'][data-role=glossiness]");
        Kept("a map is put down");

        // The tray: a surface of what fits nowhere.
        TabTo("[data-testid='tray-IMG_0031.png']");
        Press(Keys.Space);
        TabTo("[data-testid=tray-name]");
        Press("quay stone");
        TabTo("[data-testid=tray-make]");
        Press(Keys.Enter);
        browser.Find("[data-cell^='quay stone/'] [data-path='IMG_0031.png'], [data-cell^='quay_stone/'] [data-path='IMG_0031.png']");
        Kept("a surface is made");

        // Looks of both.
        TabTo("[data-testid=collection]");
        // A list that is added to: what is typed is not in it, and is offered as a new one.
        Press(Keys.Enter);
        browser.Find("[cmdk-input]");
        Press("By keyboard");
        browser.Find("[data-choice-new][data-selected=true]");
        Press(Keys.Enter);
        browser.Find("//*[@data-testid='collection'][contains(.,'By keyboard')]");
        Kept("a collection is named");
        TabTo("[aria-label='select all shown surfaces']");
        Press(Keys.Space);
        TabTo("[data-testid=wire-selected]");
        Press(Keys.Enter);
        browser.Find("main[data-view=looks] h1");
        browser.Find("[data-look='pier post']");
        Kept("the looks are made");

        // To the bench by name.
        new Actions(browser.Driver).KeyDown(Keys.Control).SendKeys("k").KeyUp(Keys.Control).Perform();
        browser.Test("command-list");
        Press("pier post");
        browser.Find("//*[@role='option' and normalize-space(.)='pier post' and @aria-selected='true']");
        Press(Keys.Enter);
        browser.Find("[data-lane=base_color]");
        browser.Settled();

        // A value, a step, and back.
        Press("/", "coat weight", Keys.Enter);
        browser.Find("[data-lane=coat_weight]");
        TabTo("[data-testid=value]");
        new Actions(browser.Driver).KeyDown(Keys.Control).SendKeys("a").KeyUp(Keys.Control).Perform();
        Press("0.4", Keys.Enter);
        browser.Find("//*[@data-lane='coat_weight'][contains(.,'0.4')]");
        Kept("a value is kept");
        TabTo("[data-lane=base_color] [data-testid=gap]", 400);
        Press(Keys.Enter);
        browser.Test("new-step");
        Press("gain", Keys.Enter);
        browser.Find("[data-lane=base_color] [data-tile^=gain]");
        Kept("a step is added");

        // A renderer, from the switch at the top.
        TabTo("[data-testid=renderer] [aria-checked=true]", 400);
        Press(Keys.ArrowRight);
        browser.Until(
            d => d.SwitchTo().ActiveElement().GetAttribute("data-value") is { Length: > 0 } on ? on : null,
            10,
            "the next renderer"
        );
        Press(Keys.Space);
        browser.Until(d => d.FindElements(By.CssSelector("[data-dialect-input]")).Count > 0 ? "restated" : null, 60, "the renderer's rows");

        // Published.
        TabTo("[data-testid=publish]");
        Press(Keys.Enter);
        TabTo("[data-testid=version-note]");
        Press("made by keyboard", Keys.Enter);
        browser.Find("//li[contains(.,'made by keyboard')]");
        Kept("a version is published");
        Press(Keys.Escape);
        browser.Until(
            d => d.FindElements(By.CssSelector("[data-testid=version-note]")).Count == 0 ? "closed" : null,
            10,
            "the drawer is closed"
        );
        Kept("the drawer is closed");
        output.WriteLine($"from a delivery to a published look: {keys} keys");
    }
}
