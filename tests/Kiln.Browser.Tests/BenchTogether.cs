using System.Net.Http.Json;
using System.Text.Json;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Kiln.Browser.Tests;

/// <summary>
/// Several people, several looks, files from outside, a server that goes away: nothing of anybody's work is lost, and every part of the
/// bench can be used by everybody.
/// </summary>
public sealed class BenchTogether(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    private string Open(string look, Browser? where = null)
    {
        var b = where ?? browser;
        b.Driver.Navigate().GoToUrl(server.Address + "/looks");
        b.Find($"[data-look='{look}']").Click();
        b.Find("[data-lane=base_color]");
        return new Uri(b.Driver.Url).Segments[^1];
    }

    /// <summary>Signed in once for all the looking: signing in is limited to so many times a minute.</summary>
    private HttpClient? reader;

    private async Task<JsonElement> LookAsync(string id)
    {
        reader ??= await server.SignedInAsync();
        return await reader.GetFromJsonAsync<JsonElement>($"looks/{id}");
    }

    private static double? Number(JsonElement look, string lane) =>
        look.GetProperty("document").GetProperty("lanes").TryGetProperty(lane, out var l)
        && l.TryGetProperty("value", out var v)
        && v.ValueKind == JsonValueKind.Object
            ? v.GetProperty("number").GetDouble()
            : null;

    private static IEnumerable<string?> Steps(JsonElement look, string lane) =>
        look.GetProperty("document").GetProperty("lanes").TryGetProperty(lane, out var l)
        && l.TryGetProperty("chain", out var chain)
        && chain.ValueKind == JsonValueKind.Object
            ? chain.GetProperty("steps").EnumerateArray().Select(s => s.GetProperty("kind").GetString())
            : [];

    private async Task<JsonElement> UntilAsync(string id, Func<JsonElement, bool> holds)
    {
        for (var i = 0; i < 480; i++)
        {
            var look = await LookAsync(id);
            if (holds(look))
                return look;
            await Task.Delay(250);
        }
        throw new TimeoutException("The look did not become what was meant.");
    }

    private void Value(string lane, string number)
    {
        if (browser.Driver.FindElements(By.CssSelector($"[data-lane={lane}]")).Count == 0)
            browser.Test("unused").Click();
        browser.Find($"[data-lane={lane}] button").Click();
        browser.Enter("[data-testid=value]", number);
    }

    [Fact]
    public async Task TwoPeopleSeeEachOtherAndNeitherLosesAnEdit()
    {
        browser.SignIn(server.Address);
        var id = Open("rubber foot");
        using (var other = new Browser())
        {
            other.SignIn(server.Address, "ada");
            Open("rubber foot", other);
            Assert.Contains("Noor", other.Find("[data-testid=presence]").Text);
            Assert.Contains("Ada", browser.Find("[data-testid=presence]").Text);
        }
        browser.Until(d => d.FindElements(By.CssSelector("[data-testid=presence]")).Count == 0 ? "alone" : null, 60, "the other has gone");

        // Hers is held back on its way while his is written: both sides are shown, and hers is done on top.
        browser.Driver.ExecuteScript(
            "const send = window.fetch; window.fetch = async (...a) => { if (/edits$/.test(a[0].url ?? a[0])) { window.fetch = "
                + "send; while (!window.maySend) await new Promise(r => setTimeout(r, 50)); } return send(...a); };"
        );
        Value("coat_weight", "0.6");
        using (var ada = await server.SignedInAsync("ada"))
        {
            var revision = (await LookAsync(id)).GetProperty("revision").GetInt32();
            var request = new HttpRequestMessage(HttpMethod.Post, $"looks/{id}/edits")
            {
                Content = JsonContent.Create(
                    new
                    {
                        edit = "value",
                        lane = "fuzz_weight",
                        value = new { kind = "scalar", number = 0.2 },
                    }
                ),
            };
            request.Headers.TryAddWithoutValidation("If-Match", $"\"{revision}\"");
            (await ada.SendAsync(request)).EnsureSuccessStatusCode();
        }
        browser.Driver.ExecuteScript("window.maySend = true");
        var panel = browser.Find("[data-testid=conflict]");
        Assert.Contains("Ada", panel.Text);
        Assert.Contains("Your edit, kept", panel.Text);
        Assert.Equal("", Axe.Faults(browser));
        browser.Test("conflict-apply").Click();
        var look = await UntilAsync(id, l => Number(l, "coat_weight") == 0.6);
        Assert.Equal(0.2, Number(look, "fuzz_weight")!.Value, 1e-6);
    }

    [Fact]
    public async Task AServerThatRestartsWhileSomethingIsDraggedCostsNothing()
    {
        browser.SignIn(server.Address);
        var id = Open("sail canvas");
        browser.Find("[data-lane=specular_roughness] [data-testid=gap]").Click();
        browser.Test("new-step").SendKeys("gain" + Keys.Enter);
        // Picked up, moved a little; the server dies; moved on and let go; it comes back.
        browser.PickUp("[data-testid=field-gain-slider]", 12);
        server.Kill();
        try
        {
            new Actions(browser.Driver).MoveByOffset(14, 0).Release().Perform();
            browser.Find("//*[contains(text(),'your edit is kept')]", 30);
        }
        finally
        {
            await server.StartAsync(again: true);
        }
        var look = await UntilAsync(id, l =>
            l.GetProperty("document")
                .GetProperty("lanes")
                .GetProperty("specular_roughness")
                .GetProperty("chain")
                .GetProperty("steps")
                .EnumerateArray()
                .Any(s => s.GetProperty("kind").GetString() == "gain" && s.GetProperty("gain").GetDouble() != 1)
        );
        Assert.InRange(look.GetProperty("revision").GetInt32(), 2, 99);
    }

    [Fact]
    public async Task LanesGoToChosenLooksByMouseAndComeBackInOneGesture()
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/looks");
        foreach (var name in new[] { "glazed blue tile", "tarred rope" })
            browser.Test($"choose-{name}").Click();
        Assert.Contains("2 selected", browser.Find("p[role=status]").Text);
        Assert.Equal("", Axe.Faults(browser));
        browser.Find("[data-look='verdigris copper pipe']").Click();
        browser.Find("[data-lane=specular_roughness] [data-tile=map]").Click();
        browser.Test("apply-to-looks").Click();
        browser.Find("//*[@data-testid='apply'][contains(.,'2 looks')]");
        Assert.Equal("", Axe.Faults(browser));
        browser.Test("apply").Click();
        Assert.Equal(2, browser.Test("apply-result").FindElements(By.XPath("./li[contains(.,'done')]")).Count);
        var rope = (await new HttpClientOf(server).LooksAsync()).First(l => l.Name == "tarred rope").Id;
        var given = await LookAsync(rope);
        Assert.NotEmpty(
            given
                .GetProperty("document")
                .GetProperty("lanes")
                .GetProperty("specular_roughness")
                .GetProperty("chain")
                .GetProperty("steps")
                .EnumerateArray()
        );
        browser.Test("undo-all").Click();
        await UntilAsync(rope, l =>
            l.GetProperty("document")
                .GetProperty("lanes")
                .GetProperty("specular_roughness")
                .GetProperty("chain")
                .GetProperty("steps")
                .GetArrayLength() == 0
        );
    }

    private sealed class HttpClientOf(ServerFixture server)
    {
        public async Task<IReadOnlyList<(string Name, string Id)>> LooksAsync()
        {
            using var client = await server.SignedInAsync();
            return
            [
                .. (await client.GetFromJsonAsync<JsonElement>("looks"))
                    .EnumerateArray()
                    .Select(l => (l.GetProperty("name").GetString()!, l.GetProperty("id").GetString()!)),
            ];
        }
    }

    [Fact]
    public async Task FilesFromOutsideStepsByClipboardAndEveryPanelForEverybody()
    {
        browser.SignIn(server.Address);
        var id = Open("knurled steel knob");
        // A file for a lane; the same control takes what the mouse drops.
        var file = Path.Combine(browser.Downloads, "IMG_0007.png");
        await File.WriteAllBytesAsync(file, TestMaps.BaseColour());
        if (browser.Driver.FindElements(By.CssSelector("[data-lane=coat_weight]")).Count == 0)
            browser.Test("unused").Click();
        browser.Find("[data-lane=coat_weight] button").Click();
        browser
            .Until(d => d.FindElements(By.CssSelector("[data-testid=file-for-lane]")).FirstOrDefault(), 30, "the file control")
            .SendKeys(file);
        browser.Find("[data-lane=coat_weight] [data-tile=map]");
        browser.Find("[data-testid=with-and-without] img");
        browser.Find("[data-testid=share-of-time]", 60);

        // Lines to the other lanes that read the same file, for the selection only.
        browser.Find("[data-lane=specular_roughness] [data-tile=map]").Click();

        // Two steps at once: copied and put into another lane; what is damaged is refused with a sentence.
        browser.Find("[data-lane=coat_weight] [data-tile=map]").Click();
        foreach (var step in new[] { "gain", "power" })
        {
            new Actions(browser.Driver).SendKeys(Keys.End).SendKeys("+").Perform();
            browser.Test("new-step").SendKeys(step + Keys.Enter);
            browser.Find($"[data-lane=coat_weight] button[data-tile^={step}]");
        }
        browser.Find("[data-lane=coat_weight] button[data-tile^=gain]").Click();
        new Actions(browser.Driver)
            .KeyDown(Keys.Shift)
            .Click(browser.Find("[data-lane=coat_weight] button[data-tile^=power]"))
            .KeyUp(Keys.Shift)
            .Perform();
        browser.Find("//h2[starts-with(.,'2 steps')]");
        var copied = (string?)
            browser.Driver.ExecuteScript(
                "const data = new DataTransfer(); document.body.dispatchEvent(new ClipboardEvent('copy', { clipboardData: data, "
                    + "bubbles: true, cancelable: true })); return data.getData('text/plain')"
            )
            ?? "";
        Assert.Equal(2, JsonDocument.Parse(copied).RootElement.GetProperty("kilnSteps").GetArrayLength());
        void Paste(string text) =>
            browser.Driver.ExecuteScript(
                "const data = new DataTransfer(); data.setData('text/plain', arguments[0]); document.body.dispatchEvent(new "
                    + "ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))",
                text
            );
        browser.Find("[data-lane=specular_roughness] [data-tile=map]").Click();
        Paste(copied);
        browser.Find("[data-lane=specular_roughness] button[data-tile^=power]");
        // Shown at once, sent behind: the server has both, too.
        var kept = await UntilAsync(id, look => Steps(look, "specular_roughness").TakeLast(2).SequenceEqual(["gain", "power"]));
        var revision = kept.GetProperty("revision").GetInt32();
        Paste(copied[..40]);
        browser.Find("//*[contains(text(),'damaged')]");
        Paste("{\"schema\": 1, \"lanes\": {\"no such input\": {}}, \"name\": \"x\"}");
        browser.Until(
            d => d.FindElements(By.XPath("//*[@data-sonner-toast]")).Count > 1 ? "said" : null,
            20,
            "a sentence about the document"
        );
        Assert.Equal(revision, (await LookAsync(id)).GetProperty("revision").GetInt32());

        // Delete takes both out; undo brings both back.
        browser.Find("[data-lane=coat_weight] button[data-tile^=gain]").Click();
        new Actions(browser.Driver).KeyDown(Keys.Shift).SendKeys(Keys.ArrowRight).KeyUp(Keys.Shift).SendKeys(Keys.Delete).Perform();
        browser.Until(
            d => d.FindElements(By.CssSelector("[data-lane=coat_weight] button[data-tile^=power]")).Count == 0 ? "gone" : null,
            20,
            "both steps are gone"
        );
        new Actions(browser.Driver).KeyDown(Keys.Control).SendKeys("z").KeyUp(Keys.Control).Perform();
        browser.Find("[data-lane=coat_weight] button[data-tile^=gain]");

        // Findings with their pictures, history with what differs, keys, nodes, kept chains: each without serious faults.
        Assert.Equal("", Axe.Faults(browser));
        browser.Menu("[data-testid=bench-menu]", "menu-history");
        browser.Find("(//*[@data-testid='history-compare'])[last()]").Click();
        Assert.Contains("coat weight", browser.Find("section[aria-label='what has changed since']").Text);
        Assert.Equal("", Axe.Faults(browser));
        browser.Test("drawer-close").Click();
        browser.Menu("[data-testid=bench-menu]", "menu-keys");
        browser.Test("keys");
        Assert.Equal("", Axe.Faults(browser));
        browser.Driver.FindElement(By.TagName("body")).SendKeys(Keys.Escape);
        browser.Find("[data-testid=renderer] [data-value=bisque]").Click();
        browser.Menu("[data-testid=bench-menu]", "menu-nodes");
        browser.Find("section[aria-label=Nodes]");
        Assert.Equal("", Axe.Faults(browser));
        browser.Driver.Navigate().GoToUrl(server.Address + "/studio/steps");
        browser.Find("h1");
        Assert.Equal("", Axe.Faults(browser));
        browser.Driver.Navigate().GoToUrl(server.Address + "/studio/renderers");
        browser.Test("open-tenmoku").Click();
        browser.Test("section-mapping").Click();
        browser.Test("row-mapping-tone");
        Assert.Equal("", Axe.Faults(browser));
    }

    [Fact]
    public void AFindingShowsThePixelsItMeans()
    {
        browser.SignIn(server.Address);
        Open("tarred rope");
        browser.Test("findings-line").Click();
        browser.Find("[data-finding='map.seam'] [data-testid=finding-open]").Click();
        var picture = browser.Find("[data-testid=evidence] img");
        Assert.Contains("halved=true", picture.GetAttribute("src"));
        browser.Until(
            _ => Convert.ToInt32(browser.Driver.ExecuteScript("return arguments[0].naturalWidth", picture)) > 0 ? "loaded" : null,
            20,
            "the picture"
        );
        Assert.Equal("", Axe.Faults(browser));
    }
}
