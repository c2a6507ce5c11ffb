using System.Net.Http.Json;
using System.Text.Json;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;
using Xunit.Abstractions;

namespace Kiln.Browser.Tests;

/// <summary>
/// Surfaces built on the bench with mouse or keyboard, the gestures counted; each comes out right in every dialect, judged by rendering.
/// </summary>
public sealed class BenchByHand(ServerFixture server, Browser browser, ITestOutputHelper output)
    : IClassFixture<ServerFixture>,
        IClassFixture<Browser>
{
    private static readonly string[] Dialects = ["openpbr", "bisque", "gltf"];

    private int gestures;

    private void Click(string selector)
    {
        browser.Find(selector).Click();
        gestures++;
    }

    private void Choose(string select, string value)
    {
        browser.Until(
            _ =>
            {
                browser.Choose(select, value);
                return "chosen";
            },
            20,
            $"{value} in {select}"
        );
        gestures++;
    }

    private void ChooseByText(string select, string text)
    {
        browser.ChooseNamed(select, text);
        gestures++;
    }

    private string Open(string look)
    {
        browser.Driver.Navigate().GoToUrl(server.Address + "/looks");
        browser.Find($"[data-look='{look}']").Click();
        browser.Find("[data-lane=base_color]");
        gestures = 0;
        return new Uri(browser.Driver.Url).Segments[^1];
    }

    private async Task<JsonElement> DocumentAsync(string id, Func<JsonElement, bool> holds)
    {
        using var client = await server.SignedInAsync();
        for (var i = 0; i < 480; i++)
        {
            var document = (await client.GetFromJsonAsync<JsonElement>($"looks/{id}")).GetProperty("document");
            if (holds(document))
                return document;
            await Task.Delay(250);
        }
        throw new TimeoutException("The look did not become what the gestures meant: " + await client.GetStringAsync($"looks/{id}"));
    }

    /// <summary>
    /// Mean ΔE between the look and each dialect's own network, on the tile under an even sky. What a dialect approximates is in it; what
    /// is wired wrongly would be far more.
    /// </summary>
    private async Task ComesOutRightAsync(string id, string what)
    {
        using var client = await server.SignedInAsync();
        foreach (var dialect in Dialects)
        {
            var answer = await client.PostAsJsonAsync(
                $"looks/{id}/compare",
                new
                {
                    second = dialect,
                    form = "tile",
                    light = "overcast",
                    size = 96,
                    samples = 32,
                    view = "plain",
                }
            );
            answer.EnsureSuccessStatusCode();
            var mean = (await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("mean").GetDouble();
            output.WriteLine($"{what}, {dialect}: mean ΔE {mean:0.00}");
            Assert.True(mean < 2, $"{what} in {dialect}: mean ΔE {mean:0.00}");
        }
    }

    [Fact]
    public async Task LimewashOverCopperThroughAWearMask()
    {
        browser.SignIn(server.Address);
        var id = Open("verdigris copper pipe");
        ChooseByText("[data-testid=add-layer]", "limewashed wall");
        browser.Find("[data-lane='cover:0:mask']");
        Choose("[data-testid=connect]", "slot:metalness");
        browser.Find("[data-lane='cover:0:mask'] [data-tile=map]");
        Click("[data-lane='cover:0:mask'] [data-testid=gap][data-at='0']");
        Click("[data-step-choice=invert]");
        browser.Find("[data-lane='cover:0:mask'] [data-tile=invert]");
        output.WriteLine($"limewash over copper: {gestures} gestures");
        Assert.True(gestures <= 4, $"{gestures} gestures");
        await DocumentAsync(id, d =>
            d.GetProperty("covers") is var c
            && c.GetArrayLength() == 1
            && c[0].GetProperty("mask").GetProperty("chain").GetProperty("steps").GetArrayLength() == 1
        );
        // In All, each covered row ends with the cover's tile.
        browser.Find("[data-testid=layers] [data-value=all]").Click();
        browser.Find("[data-lane=base_color] [data-covered='0']");
        Assert.Equal("", Axe.Faults(browser));
        await ComesOutRightAsync(id, "limewash over copper");
        // Taken back, it is what it was.
        browser.Test("undo").Click();
        browser.Test("undo").Click();
        browser.Test("undo").Click();
        await DocumentAsync(id, d => d.GetProperty("covers").GetArrayLength() == 0);
    }

    /// <summary>A delivery of six maps and more: dropped, and wired.</summary>
    [Fact]
    public async Task SixMapsAreWired()
    {
        browser.SignIn(server.Address);
        using var client = await server.SignedInAsync();
        async Task<List<string>> PipesAsync() =>
            [
                .. (await client.GetFromJsonAsync<JsonElement>("looks?words=verdigris%20copper%20pipe"))
                    .EnumerateArray()
                    .Select(l => l.GetProperty("id").GetString()!),
            ];
        var before = await PipesAsync();
        gestures = 0;
        browser
            .Driver.FindElement(By.CssSelector("[data-testid=files]"))
            .SendKeys(Path.Combine(server.DemoFolder, "tide_organ_breakwater.zip"));
        gestures++;
        browser.Find("[data-path='verdigris_copper_pipe/verdigris_copper_pipe_normal_dx_1k.png']");
        Click("[data-testid=wire]");
        browser.Find("main[data-view=looks]");
        Assert.Equal(2, gestures);
        var look = Assert.Single((await PipesAsync()).Except(before));
        var document = (await client.GetFromJsonAsync<JsonElement>($"looks/{look}")).GetProperty("document");
        Assert.Equal(6, document.GetProperty("slots").EnumerateObject().Count());
        Assert.True(
            document.GetProperty("lanes").EnumerateObject().Count(l => l.Value.TryGetProperty("chain", out _)) >= 5,
            document.ToString()
        );
    }

    [Fact]
    public async Task TheNormalDirectionIsSwapped()
    {
        browser.SignIn(server.Address);
        var id = Open("knurled steel knob");
        Click("[data-lane=geometry_normal] [data-tile=map]");
        Choose("[data-testid=normal-direction]", "down");
        Assert.Equal(2, gestures);
        await DocumentAsync(id, d =>
            d.GetProperty("lanes")
                .GetProperty("geometry_normal")
                .GetProperty("chain")
                .GetProperty("origin")
                .GetProperty("reading")
                .GetProperty("normalY")
                .GetString() == "down"
        );
        browser.Test("undo").Click();
    }

    [Theory]
    [InlineData("specular_roughness", "roughness-from-base", "pick invert remap")]
    [InlineData("base_color", "occlusion", "occlusion")]
    public async Task CommonStepsTakeTwoGestures(string lane, string chore, string kinds)
    {
        browser.SignIn(server.Address);
        var id = Open("salt worn beam");
        Click($"[data-lane={lane}] [data-testid=lane-head]");
        Click($"[data-testid=chore-{chore}]");
        Assert.Equal(2, gestures);
        await DocumentAsync(id, d =>
            kinds
            == string.Join(
                " ",
                d.GetProperty("lanes")
                    .GetProperty(lane)
                    .GetProperty("chain")
                    .GetProperty("steps")
                    .EnumerateArray()
                    .Select(s => s.GetProperty("kind").GetString())
            )
        );
        browser.Test("undo").Click();
    }

    [Fact]
    public async Task OneHeightFeedsBumpOcclusionAndAMask()
    {
        browser.SignIn(server.Address);
        var id = Open("kelp concrete");
        Click("[data-map=height] [data-testid=map-menu]");
        Click("[data-testid=menu-share]");
        browser.Find("[data-lane='source:height']");
        // Bump, under the normal map.
        Click("[data-lane=geometry_normal] [data-testid=gap][data-at='1']");
        Click("[data-step-choice='combine reliefs']");
        Click("[data-side$='/other'] button");
        Choose("[data-testid=connect]", "source:height");
        browser.Find("[data-side$='/other'] [data-tile=source]");
        // Occlusion.
        browser.Find("[data-testid=find-input]").SendKeys("occlusion" + Keys.Enter);
        gestures++;
        Choose("[data-testid=connect]", "source:height");
        browser.Find("[data-lane=occlusion] [data-tile=source]");
        // A mask: the colour changes where it is high.
        Click("[data-lane=base_color] [data-testid=gap][data-at='0']");
        Click("[data-step-choice=mix]");
        Click("[data-testid=settings] [data-testid=side-amount]");
        Choose("[data-testid=connect]", "source:height");
        browser.Find("//*[@data-lane='source:height'][contains(.,'feeds 3 lanes')]");
        output.WriteLine($"one height feeding three: {gestures} gestures");
        Assert.True(gestures <= 12, $"{gestures} gestures");
        await ComesOutRightAsync(id, "one height feeding bump, occlusion and a mask");
    }

    [Fact]
    public async Task TwoPublishedLooksBlended()
    {
        browser.SignIn(server.Address);
        using (var client = await server.SignedInAsync())
            foreach (var name in new[] { "wet slate sill", "tarred rope" })
                if (
                    (await client.GetFromJsonAsync<JsonElement>("looks"))
                        .EnumerateArray()
                        .FirstOrDefault(l => l.GetProperty("name").GetString() == name)
                        is { ValueKind: JsonValueKind.Object } look
                    && !look.TryGetProperty("version", out _)
                )
                {
                    var request = new HttpRequestMessage(HttpMethod.Post, $"looks/{look.GetProperty("id").GetString()}/versions")
                    {
                        Content = JsonContent.Create(new { note = "for blending" }),
                    };
                    request.Headers.TryAddWithoutValidation("If-Match", $"\"{look.GetProperty("revision").GetInt32()}\"");
                    (await client.SendAsync(request)).EnsureSuccessStatusCode();
                }
        var id = Open("tarred rope");
        ChooseByText("[data-testid=add-layer]", "verdigris copper pipe");
        Choose("[data-testid=connect]", "noise:");
        browser.Find("[data-lane='cover:0:mask'] [data-tile=noise]");
        output.WriteLine($"two published looks blended: {gestures} gestures");
        var document = await DocumentAsync(id, d =>
            d.GetProperty("covers").GetArrayLength() == 1 && d.GetProperty("covers")[0].GetProperty("mask").TryGetProperty("chain", out _)
        );
        Assert.EndsWith("@1", document.GetProperty("covers")[0].GetProperty("pinnedVersion").GetString());
        await ComesOutRightAsync(id, "two published looks blended");
    }

    /// <summary>The lanes of the pipe taken away, then wired again without the mouse: the same document comes out.</summary>
    [Fact]
    public async Task TheVerdigrisPipeByKeyboardAlone()
    {
        browser.SignIn(server.Address);
        var id = Open("verdigris copper pipe");
        using var client = await server.SignedInAsync();
        var before = await client.GetFromJsonAsync<JsonElement>($"looks/{id}");
        var lanes = before
            .GetProperty("document")
            .GetProperty("lanes")
            .EnumerateObject()
            .Where(l => l.Value.TryGetProperty("chain", out _))
            .ToDictionary(l => l.Name, l => l.Value.GetProperty("chain"));
        var take = new HttpRequestMessage(HttpMethod.Post, $"looks/{id}/edits")
        {
            Content = JsonContent.Create(
                new
                {
                    edit = "batch",
                    name = "all lanes taken away",
                    edits = lanes.Keys.Select(l => new { edit = "lane", lane = l }),
                }
            ),
        };
        take.Headers.TryAddWithoutValidation("If-Match", $"\"{before.GetProperty("revision").GetInt32()}\"");
        (await client.SendAsync(take)).EnsureSuccessStatusCode();
        browser.Until(d => d.FindElements(By.CssSelector("[data-lane=base_color]")).Count == 0 ? "gone" : null, 20, "the lanes are gone");
        void Keys_(params string[] keys)
        {
            foreach (var key in keys)
            {
                new Actions(browser.Driver).SendKeys(key).Pause(TimeSpan.FromMilliseconds(120)).Perform();
                gestures++;
            }
        }
        foreach (
            var (words, slot, lane) in new[]
            {
                ("base colour", "base", "base_color"),
                ("base metalness", "metalness", "base_metalness"),
                ("specular roughness", "glossiness", "specular_roughness"),
                ("geometry normal", "normal", "geometry_normal"),
                ("occlusion", "ambient", "occlusion"),
            }
        )
        {
            Keys_("/", words, Keys.Enter);
            browser.Find($"[data-lane={lane}]");
            Keys_("c", slot, Keys.Enter);
            browser.Find($"[data-lane={lane}] [data-tile=map]");
            Keys_(Keys.Escape);
        }
        output.WriteLine($"five lanes by keyboard: {gestures} key groups");
        var after = await DocumentAsync(id, d =>
            d.GetProperty("lanes").EnumerateObject().Count(l => l.Value.TryGetProperty("chain", out _)) == lanes.Count
        );
        foreach (var (name, chain) in lanes)
        {
            var now = after.GetProperty("lanes").GetProperty(name).GetProperty("chain");
            Assert.Equal(
                chain.GetProperty("origin").GetProperty("slot").GetString(),
                now.GetProperty("origin").GetProperty("slot").GetString()
            );
            Assert.Equal(
                chain.GetProperty("origin").GetProperty("reading").GetProperty("space").GetString(),
                now.GetProperty("origin").GetProperty("reading").GetProperty("space").GetString()
            );
            static string Kinds(JsonElement c) =>
                string.Join(" ", c.GetProperty("steps").EnumerateArray().Select(s => s.GetProperty("kind").GetString()));
            Assert.Equal(Kinds(chain), Kinds(now));
        }
        // The copper's normal map points down; connected anew it is not known, and the finding says so: mended by keyboard, too.
        browser.Test("findings-line", 60).SendKeys(Keys.Enter);
        browser.Find("[data-finding='normal.direction'] [data-testid=finding-fix]", 60).SendKeys(Keys.Enter);
        await DocumentAsync(id, d =>
            d.GetProperty("lanes")
                .GetProperty("geometry_normal")
                .GetProperty("chain")
                .GetProperty("origin")
                .GetProperty("reading")
                .TryGetProperty("normalY", out var y)
            && y.GetString() == "down"
        );
        await ComesOutRightAsync(id, "the verdigris pipe");
    }
}
