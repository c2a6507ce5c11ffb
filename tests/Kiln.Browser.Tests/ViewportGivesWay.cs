using OpenQA.Selenium;

namespace Kiln.Browser.Tests;

/// <summary>Graphics processors that cannot: the server's pictures are shown, a sentence says why, and the bench goes on.</summary>
public sealed class ViewportGivesWay(ServerFixture server) : IClassFixture<ServerFixture>, IDisposable
{
    private readonly Browser browser = new(drawsBySoftware: true);

    public void Dispose() => browser.Dispose();

    private const string Context = "WebGL2RenderingContext.prototype",
        /// <summary>MAX_TEXTURE_IMAGE_UNITS.</summary>
        Units = "0x8872",
        /// <summary>LINK_STATUS.</summary>
        Links = "0x8b82";

    private void Open(string look)
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/looks");
        browser.Find($"[data-look='{look}']").Click();
    }

    private string Seen => (string)browser.Driver.ExecuteScript("return document.querySelector('canvas')?.dataset.seen ?? ''")!;

    /// <summary>The proof is there, nothing of the page has fallen over, and the tip of "proof only" says this.</summary>
    private void GaveWay(string sentence)
    {
        var line = browser.Test("viewport-trouble");
        browser.Find("[data-testid=proof]");
        Assert.Equal("false", Seen);
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("[data-testid=view-failed]")));
        new OpenQA.Selenium.Interactions.Actions(browser.Driver).MoveToElement(line).Perform();
        browser.Find($"//*[@role='tooltip'][contains(., \"{sentence}\")]");
    }

    /// <summary>What the processor says of itself is changed before the page asks.</summary>
    [Theory]
    [InlineData(
        $$"""const f = {{Context}}.getParameter; {{Context}}.getParameter = function (n) { return n === {{Units}} ? 8 : f.call(this, n); }""",
        "reads at once"
    )]
    [InlineData(
        $$"""const f = {{Context}}.getExtension; {{Context}}.getExtension = function (n) { return /color_buffer/.test(n) ? null : f.call(this, n); }""",
        "keeps no light beyond white"
    )]
    [InlineData(
        $$"""const f = {{Context}}.getProgramParameter; {{Context}}.getProgramParameter = function (p, n) { return n === {{Links}} ? false : f.call(this, p, n); }""",
        "refuses this look"
    )]
    [InlineData(
        "HTMLCanvasElement.prototype.getContext = (f => function (kind, ...more) { return kind === 'webgl2' ? null : f.call(this, kind, ...more); })(HTMLCanvasElement.prototype.getContext)",
        "No graphics processor"
    )]
    public void AProcessorThatCannotGivesWayWithASentence(string changed, string sentence)
    {
        browser.Driver.ExecuteCdpCommand("Page.addScriptToEvaluateOnNewDocument", new() { ["source"] = changed });
        Open("verdigris copper pipe");
        GaveWay(sentence);
    }

    /// <summary>One that is lost gives way, and draws again when it is back.</summary>
    [Fact]
    public void ALostProcessorGivesWayAndComesBack()
    {
        Open("verdigris copper pipe");
        browser.Until(_ => Seen != "" && Frames > 0 ? "drawn" : null, 90, "the viewport's first frame");
        browser.Driver.ExecuteScript(
            "window.lost = document.querySelector('canvas').getContext('webgl2').getExtension('WEBGL_lose_context'); window.lost.loseContext()"
        );
        GaveWay("was lost");
        browser.Driver.ExecuteScript("window.lost.restoreContext()");
        browser.Until(
            d => d.FindElements(By.CssSelector("[data-testid=viewport-trouble]")).Count == 0 && Frames > 0 ? "back" : null,
            90,
            "it to be back"
        );
        browser.Find("[role=application]").SendKeys(Keys.ArrowRight);
        browser.Until(_ => Seen == "true" ? "drawn" : null, 90, "the turned form");
    }

    private long Frames => (long)(browser.Driver.ExecuteScript("return document.querySelector('canvas')?.kilnScene?.frames ?? 0") ?? 0L);
}
