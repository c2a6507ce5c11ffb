using OpenQA.Selenium;

namespace Kiln.Browser.Tests;

/// <summary>Graphics processors that cannot: the server's pictures are shown, a sentence says why, and the bench goes on.</summary>
public sealed class ViewportGivesWay(ServerFixture server) : IClassFixture<ServerFixture>, IDisposable
{
    private readonly Browser browser = new(drawsBySoftware: true);

    public void Dispose() => browser.Dispose();

    /// <summary>What such a processor says of itself, by the constants of WebGL 2.</summary>
    private static readonly Dictionary<string, string> Says = new()
    {
        ["eight textures at once"] = Instead("WebGL2RenderingContext", "getParameter", "(asked) => asked === 0x8872 ? 8"),
        ["no light beyond white"] = Instead("WebGL2RenderingContext", "getExtension", "(asked) => /color_buffer/.test(asked) ? null"),
        ["a program does not link"] = Instead("WebGL2RenderingContext", "getProgramParameter", "(_, asked) => asked === 0x8b82 ? false"),
        ["there is none"] = Instead("HTMLCanvasElement", "getContext", "(asked) => asked === 'webgl2' ? null"),
    };

    /// <param name="answer">An arrow function up to its answer; what it leaves open is answered as before.</param>
    private static string Instead(string of, string name, string answer)
    {
        var (head, ours) = (
            answer[..answer.IndexOf("=>", StringComparison.Ordinal)],
            answer[(answer.IndexOf("=>", StringComparison.Ordinal) + 2)..]
        );
        return $$"""
            {
              const before = {{of}}.prototype.{{name}};
              const ours = {{head}} => {{ours}} : undefined;
              {{of}}.prototype.{{name}} = function (...asked) {
                const answer = ours(...asked);
                return answer === undefined ? before.apply(this, asked) : answer;
              };
            }
            """;
    }

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

    [Theory]
    [InlineData("eight textures at once", "reads at once")]
    [InlineData("no light beyond white", "keeps no light beyond white")]
    [InlineData("a program does not link", "refuses this look")]
    [InlineData("there is none", "No graphics processor")]
    public void AProcessorThatCannotGivesWayWithASentence(string says, string sentence)
    {
        browser.Driver.ExecuteCdpCommand("Page.addScriptToEvaluateOnNewDocument", new() { ["source"] = Says[says] });
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
            """
            window.lost = document.querySelector('canvas').getContext('webgl2').getExtension('WEBGL_lose_context');
            window.lost.loseContext();
            """
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
