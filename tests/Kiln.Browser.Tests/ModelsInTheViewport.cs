using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Kiln.Browser.Tests;

/// <summary>A model with several looks, drawn while the hand moves; parts chosen, and looks dropped, in the picture.</summary>
public sealed class ModelsInTheViewport(ServerFixture server) : IClassFixture<ServerFixture>, IDisposable
{
    private readonly Browser browser = new(drawsBySoftware: true);

    public void Dispose() => browser.Dispose();

    private const string Picture = "[data-testid=model-picture]";

    private long Count(string of) =>
        (long)(browser.Driver.ExecuteScript($"return document.querySelector('{Picture} canvas')?.kilnScene?.{of} ?? -1") ?? -1L);

    private void Open()
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/models");
        browser.Find("[data-part=body][data-look='anodised body']");
        // The first with what stands in for maps, the second with the maps.
        browser.Until(_ => Count("frames") > 1 ? "drawn" : null, 120, "the viewport");
    }

    private void Chosen(string part) => browser.Find($"[data-part={part}] [role=checkbox][data-state=checked]");

    /// <summary>Turning compiles nothing and asks for nothing before the picture; what is drawn is the proof's picture, nearly.</summary>
    [Fact]
    public void AModelIsTurnedInItsLooks()
    {
        Open();
        browser.Find(Picture + "[data-settled=true][data-shows=proof] img", 90);
        Assert.Equal(4, Count("worn.length"));
        var (compiled, frames) = (Count("compilations"), Count("frames"));
        browser.Find(Picture).SendKeys(Keys.ArrowRight);
        browser.Find(Picture + "[data-shows=viewport]");
        browser.Until(_ => Count("frames") > frames ? "more" : null, 30, "a frame");
        Assert.Equal(compiled, Count("compilations"));
        browser.Find(Picture + "[data-settled=true][data-shows=proof] img", 120);
        var far = (string)
            browser.Driver.ExecuteAsyncScript(
                Patches.Numbers
                    + """
                    const done = arguments[arguments.length - 1];
                    const canvas = document.querySelector('[data-testid=model-picture] canvas');
                    const side = 60;
                    const proof = numbers(document.querySelector('[data-testid=model-picture] img'), side);
                    canvas.kilnScene.redraw();
                    const own = numbers(canvas, side);
                    const mean = own.reduce((sum, v, i) => sum + Math.abs(v - proof[i]), 0) / own.length;
                    const spread = Math.max(...proof) - Math.min(...proof);
                    done(mean + ' ' + spread);
                    """
            )!;
        var parts = far.Split(' ').Select(n => double.Parse(n, System.Globalization.CultureInfo.InvariantCulture)).ToArray();
        Assert.True(parts[0] < 6 && parts[1] > 60, $"{parts[0]} codes from the proof, whose picture spans {parts[1]}");
    }

    [Fact]
    public void PartsAreChosenAndDressedInThePicture()
    {
        Open();
        var picture = browser.Find(Picture);
        var (width, height) = (picture.Size.Width, picture.Size.Height);
        // The loudspeaker's cloth lies left of the middle.
        new Actions(browser.Driver).MoveToElement(picture, (int)(-0.16 * width), 0).Click().Perform();
        Chosen("speakerCloth");
        // Another click with Control adds the body above it.
        new Actions(browser.Driver)
            .KeyDown(Keys.Control)
            .MoveToElement(picture, 0, (int)(-0.2 * height))
            .Click()
            .KeyUp(Keys.Control)
            .Perform();
        Chosen("body");
        Chosen("speakerCloth");
        // A click on what is no part changes nothing.
        new Actions(browser.Driver).MoveToElement(picture, (int)(-0.45 * width), (int)(-0.45 * height)).Click().Perform();
        Chosen("body");
        browser.Find("[data-part=body] [role=checkbox]").Click();
        var look = browser.Find("[data-shelf='sail canvas']");
        var drop = """
            const [from, to, x, y] = arguments;
            const both = { bubbles: true, cancelable: true };
            const data = new DataTransfer(), box = to.getBoundingClientRect();
            const at = { clientX: box.x + x * box.width, clientY: box.y + y * box.height, dataTransfer: data, ...both };
            from.dispatchEvent(new DragEvent('dragstart', at));
            for (const kind of ['dragenter', 'dragover']) to.dispatchEvent(new DragEvent(kind, at));
            window.dropNow = () => { to.dispatchEvent(new DragEvent('drop', at)); from.dispatchEvent(new DragEvent('dragend', at)); };
            """;
        browser.Driver.ExecuteScript(drop, look, picture, 0.34, 0.5);
        browser.Until(d => d.FindElements(By.XPath("//p[@role='status'][.='onto speakerCloth']")).FirstOrDefault(), 30, "the part below");
        browser.Driver.ExecuteScript("window.dropNow()");
        browser.Find("[data-part=speakerCloth][data-look='sail canvas']");
        // Where there is no part, it is said.
        browser.Driver.ExecuteScript(drop, look, picture, 0.03, 0.03);
        browser.Driver.ExecuteScript("window.dropNow()");
        browser.Until(d => d.FindElements(By.XPath("//p[@role='status'][contains(.,'no part')]")).FirstOrDefault(), 30, "that it is none");
        browser.Driver.FindElement(By.XPath("//button[.='Undo']")).Click();
        browser.Find("[data-part=speakerCloth][data-look='speaker cloth']");
    }
}
