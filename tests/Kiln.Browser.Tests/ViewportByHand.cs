using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Kiln.Browser.Tests;

/// <summary>
/// The viewport on the bench, forced on where there is no graphics processor: the browser draws by software. It is there before the proof,
/// follows the hand, and gives way to the proof when the hand rests.
/// </summary>
public sealed class ViewportByHand : IClassFixture<ServerFixture>, IDisposable
{
    private readonly ServerFixture server;
    private readonly Browser browser = new(drawsBySoftware: true);

    public ViewportByHand(ServerFixture server) => this.server = server;

    public void Dispose() => browser.Dispose();

    private long Count(string of) =>
        (long)(browser.Driver.ExecuteScript($"return document.querySelector('canvas')?.kilnScene?.{of} ?? -1") ?? -1L);

    private void Open(string look)
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/looks");
        browser.Find($"[data-look='{look}']").Click();
        browser.Until(_ => Count("frames") > 0 ? "drawn" : null, 90, "the viewport's first frame");
    }

    /// <summary>Waits until the viewport is seen, or the proof in its place.</summary>
    private void Seen(bool viewport) =>
        browser.Until(
            _ =>
                (string?)browser.Driver.ExecuteScript("return document.querySelector('canvas')?.dataset.seen")
                == (viewport ? "true" : "false")
                    ? "so"
                    : null,
            90,
            viewport ? "the viewport to be seen" : "the proof to be seen"
        );

    /// <summary>Whether the canvas holds a picture: many colours, not one.</summary>
    private bool IsAPicture() =>
        (bool)
            browser.Driver.ExecuteScript(
                """
                const canvas = document.querySelector('canvas');
                canvas.kilnScene.redraw();
                const copy = document.createElement('canvas');
                copy.width = copy.height = 64;
                const to = copy.getContext('2d');
                to.drawImage(canvas, 0, 0, 64, 64);
                return new Set(new Uint32Array(to.getImageData(0, 0, 64, 64).data.buffer)).size > 200;
                """
            )!;

    [Fact]
    public void ADraggedValueIsDrawnWithoutAShaderAndWithoutARequest()
    {
        Open("sail canvas");
        Assert.True(IsAPicture());
        Gain();
        // The step's numbers have names as soon as it is selected.
        browser.Until(_ => Count("parameters.length") > 0 ? "named" : null, 90, "the names of the step's numbers");
        Rests();
        DragsWithoutAsking("[data-testid=field-gain-slider]");
    }

    /// <summary>Placements and renderers' networks make something of a value before the shader has it; the hand is followed all the
    /// same.</summary>
    [Fact]
    public void ADraggedPlacementIsDrawnAtOnceAndAValueAsARendererHasIt()
    {
        Open("sail canvas");
        Followed("placement#repeatsU");
        Rests();
        DragsWithoutAsking("[data-testid=repeats-u-slider]");
        Gain();
        browser.Find("[data-testid=renderer] [data-value=bisque]").Click();
        Followed("#gain");
        Rests();
        DragsWithoutAsking("[data-testid=field-gain-slider]");
    }

    /// <summary>A step on the roughness, whose settings are shown.</summary>
    private void Gain()
    {
        browser.Find("[data-lane=specular_roughness] [data-testid=gap]").Click();
        browser.Test("new-step").SendKeys("gain" + Keys.Enter);
        browser.Find("[data-testid=field-gain-slider]");
    }

    private void Followed(string name) =>
        browser.Until(
            _ => Count($"followed.filter(f => f.name.endsWith('{name}')).length") > 0 ? "known" : null,
            90,
            $"what follows {name}"
        );

    /// <summary>All maps have come in full, and the proof has all it wants.</summary>
    private void Rests()
    {
        browser.Until(_ => Count("maps.filter(m => m.image.width <= 64).length") == 0 ? "whole" : null, 90, "the maps in full");
        Seen(viewport: false);
    }

    /// <summary>A slider is dragged: frames come, no shader and no request for a picture; the proof comes back when it is let go.</summary>
    private void DragsWithoutAsking(string css)
    {
        browser.Driver.ExecuteScript(
            """
            if (!window.asked) {
              const fetched = window.fetch;
              window.fetch = (...a) => {
                window.asked.push(`${a[1]?.method ?? ""} ${a[0].url ?? a[0]}`);
                return fetched(...a);
              };
            }
            window.asked = [];
            """
        );
        browser.Settled();
        var slider = browser.Find(css);
        browser.Driver.ExecuteScript("window.asked.length = 0");
        var (compilations, frames) = (Count("compilations"), Count("frames"));
        new Actions(browser.Driver).MoveToElement(slider).ClickAndHold().MoveByOffset(12, 0).MoveByOffset(9, 0).Perform();
        browser.Until(_ => Count("frames") > frames ? "drawn" : null, 90, "a frame of the moving value");
        Assert.Equal(compilations, Count("compilations"));
        var asked = ((IReadOnlyCollection<object>)browser.Driver.ExecuteScript("return window.asked")!).Cast<string>().ToList();
        var ofPictures = asked.Where(a => a.Contains("/viewport") || a.EndsWith("/proof"));
        Assert.True(!ofPictures.Any(), string.Join("\n", asked));
        Seen(viewport: true);
        new Actions(browser.Driver).Release().Perform();
        // Kept by one edit; the proof comes back when it can be judged or has all it wants.
        Seen(viewport: false);
        browser.Find("//*[@data-shown='proof']");
    }

    [Fact]
    public void TurningIsDrawnAtOnceAndTheProofFollows()
    {
        Open("verdigris copper pipe");
        Seen(viewport: false);
        var frames = Count("frames");
        browser.Find("[role=application]").SendKeys(Keys.ArrowRight + Keys.ArrowRight);
        browser.Until(_ => Count("frames") > frames ? "drawn" : null, 90, "a frame of the turned form");
        Seen(viewport: false);
        Assert.Equal("", Axe.Faults(browser));
    }

    /// <summary>The viewport wiped over the proof of the same, with how far they are apart; another light's picture is veiled and called
    /// what it is until there is one.</summary>
    [Fact]
    public void TheViewportIsWipedOverTheProofAndAnOldPictureIsVeiled()
    {
        Open("rubber foot");
        Seen(viewport: false);
        browser.Test("tab-view").Click();
        browser.Choose("[data-testid=compare-with]", "viewport");
        var apart = browser.Until(
            d => d.FindElements(By.CssSelector("[data-testid=viewport-difference]")).FirstOrDefault(e => e.Text.StartsWith("mean ΔE ")),
            60,
            "how far the two are apart"
        );
        // A matt black foot of rubber under the softbox: 1.3 in docs/viewport.md, and a proof of few samples has noise of its own.
        Assert.InRange(double.Parse(apart.Text.Split(' ')[2].TrimEnd(','), System.Globalization.CultureInfo.InvariantCulture), 0.01, 9);
        Assert.Equal(
            "visible",
            browser.Driver.ExecuteScript("return getComputedStyle(document.querySelector('canvas')).visibility") as string
        );
        var handle = browser.Test("wipe");
        new Actions(browser.Driver).MoveToElement(handle).ClickAndHold().MoveByOffset(40, 0).Release().Perform();
        Assert.NotEqual("50", handle.GetAttribute("aria-valuenow"));
        Assert.Equal("", browser.Driver.ExecuteScript("return getSelection().toString()"));
        Assert.Equal("", Axe.Faults(browser));

        browser.Choose("[data-testid=viewport-setting]", "off");
        browser.Driver.ExecuteScript(
            """
            window.veils = [];
            new MutationObserver(() => {
              const veil = document.querySelector('[data-testid=veiled]');
              if (veil) window.veils.push(veil.textContent);
            }).observe(document.body, { childList: true, subtree: true });
            """
        );
        browser.Find("[data-testid=proof-light] [data-value=lowsun]").Click();
        browser.Until(
            d => ((IReadOnlyCollection<object>)((IJavaScriptExecutor)d).ExecuteScript("return window.veils")!).FirstOrDefault()?.ToString(),
            30,
            "the veil"
        );
        Assert.Equal("before: Neutral, Softbox", browser.Driver.ExecuteScript("return window.veils[0]"));
        browser.Until(d => d.FindElements(By.CssSelector("[data-testid=veiled]")).Count == 0 ? "gone" : null, 60, "the veil to go");
        browser.Find("[data-testid=proof]");
    }

    /// <summary>Paths of light, added up, bring the viewport's picture nearer to the proof's, and begin anew when something
    /// changes.</summary>
    [Fact]
    public void PathsOfLightBringThePictureNearerToTheProof()
    {
        Open("limewashed wall");
        // The light with the least noise: a displayed picture of few samples is darker than their mean where it is noisy.
        browser.Test("tab-view").Click();
        browser.Driver.ExecuteScript("window.light = document.querySelector('canvas').kilnScene.lit");
        browser.Find("[data-testid=proof-light] [data-value=overcast]").Click();
        browser.Until(
            d =>
                ((IJavaScriptExecutor)d).ExecuteScript("return document.querySelector('canvas').kilnScene.lit !== window.light") as bool?
                == true
                    ? "there"
                    : null,
            60,
            "the other light"
        );
        browser.Find("//img[@data-testid='proof'][contains(@alt,'under Overcast')]", 90);
        browser.Until(_ => Count("maps.filter(m => m.image.width <= 64).length") == 0 ? "whole" : null, 90, "the maps in full");
        Seen(viewport: false);
        browser.Driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(150);
        var found = (string)
            browser.Driver.ExecuteAsyncScript(
                Patches.Numbers
                    + """
                    const done = arguments[arguments.length - 1];
                    const side = 48;
                    const canvas = document.querySelector('canvas');
                    const scene = canvas.kilnScene;
                    const proof = numbers(document.querySelector('[data-testid=proof]'), side);
                    const far = data => data.reduce((sum, v, i) => sum + Math.abs(v - proof[i]), 0) / data.length;
                    (async () => {
                      scene.resize(side, side);
                      scene.redraw();
                      const moving = far(numbers(canvas, side));
                      await scene.prepareSettling();
                      let paths = 0;
                      for (let i = 0; i < 64; i++) paths = scene.settle();
                      const settled = far(numbers(canvas, side));
                      scene.redraw();
                      return [moving, settled, paths, scene.settle()].join(' ');
                    })().then(done, e => done('failed: ' + e));
                    """
            )!;
        var parts = found.Split(' ');
        Assert.True(parts.Length == 4 && parts[2] == "64" && parts[3] == "1", found);
        var (moving, settled) = (double.Parse(parts[0]), double.Parse(parts[1]));
        Assert.True(settled < 0.8 * moving && settled < 3, $"{moving} codes from the proof while moving, {settled} settled");
    }

    /// <summary>The lane's tiles from the step on, their words and the lane's meter follow the hand before anything is kept.</summary>
    [Fact]
    public void TilesAndMetersFollowTheHand()
    {
        Open("sail canvas");
        Gain();
        var slider = browser.Find("[data-testid=field-gain-slider]");
        browser.Settled();
        string Meter() => browser.Find("[data-lane=specular_roughness] figure figcaption").Text;
        var (before, words) = (Meter(), browser.Find("[data-lane=specular_roughness] [data-tile='gain and offset']").Text);
        new Actions(browser.Driver).MoveToElement(slider).ClickAndHold().MoveByOffset(14, 0).Perform();
        browser.Find("[data-lane=specular_roughness] [data-tile='gain and offset'] img[data-tried]");
        Assert.NotEqual(before, Meter());
        Assert.NotEqual(words, browser.Find("[data-lane=specular_roughness] [data-tile='gain and offset']").Text);
        var moved = Meter();
        new Actions(browser.Driver).Release().Perform();
        browser.Until(d => d.FindElements(By.CssSelector("img[data-tried]")).Count == 0 ? "kept" : null, 60, "what is kept");
        // What is kept is what was shown.
        browser.Until(_ => Meter() == moved ? "same" : null, 60, $"the meter {moved}");
    }

    /// <summary>A wall drawn by the viewport: every cell, with numbers at the pointer; another exposure draws it anew.</summary>
    [Fact]
    public void AWallIsDrawnByTheViewport()
    {
        browser.SignIn(server.Address);
        browser.Find("[data-place=compare]").Click();
        browser.ChooseNamed("[data-testid=add-row]", "sail canvas");
        browser.ChooseNamed("[data-testid=add-row]", "rubber foot");
        browser.Choose("[data-testid=add-column]", "night");
        browser.Choose("[data-testid=wall-pictures]", "viewport");
        string Drawn() =>
            (string)
                browser.Driver.ExecuteScript(
                    """
                    const cells = [...document.querySelectorAll('td canvas[data-drawn=true]')];
                    const sums = cells.map(c => c.getContext('2d').getImageData(0, 0, c.width, c.height).data.reduce((a, b) => a + b, 0));
                    return cells.length < 4 ? '' : sums.join(' ');
                    """
                )!;
        var first = browser.Until(_ => Drawn() is { Length: > 0 } all ? all : null, 120, "four cells");
        Assert.Equal(4, first.Split(' ').Distinct().Count());
        new Actions(browser.Driver).MoveToElement(browser.Find("//tr[th[contains(.,'rubber foot')]]//button[@aria-pressed]")).Perform();
        browser.Find("//tr[th[contains(.,'rubber foot')]]//span[@data-readout='cell'][starts-with(.,'ΔE ')][contains(.,'#')]");
        browser.Find("[role=slider][aria-label^=exposure]").SendKeys(Keys.ArrowRight);
        var second = browser.Until(_ => Drawn() is { Length: > 0 } all && all != first ? all : null, 120, "four brighter cells");
        foreach (var (dark, bright) in first.Split(' ').Zip(second.Split(' ')))
            Assert.True(double.Parse(bright) > double.Parse(dark), $"{dark} before, {bright} half a stop brighter");
        Assert.Equal("", Axe.Faults(browser));
        // The pair is compared by proofs all the same.
        browser.Find("//button[@aria-label='sail canvas, Vessel, Softbox']").Click();
        browser.Find("//button[@aria-label='rubber foot, Vessel, Softbox']").Click();
        browser.Find("//dd[starts-with(.,'mean ')]", 120);
    }
}
