using System.Text.Json;
using System.Text.RegularExpressions;
using OpenQA.Selenium;

namespace Kiln.Browser.Tests;

/// <summary>
/// Every view in both themes: no finding of axe-core at all, and no word or identifier on the screen that people do not use
/// (vocabulary: plain words first).
/// </summary>
public sealed partial class EveryView(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    /// <summary>Words of the code for which the interface has others, and words that practitioners stumbled over.</summary>
    private static readonly string[] CodeWords =
    [
        "dialect",
        "dialects",
        "cover",
        "ground",
        "relief",
        "house",
        "chain is kept",
        "kept chains",
        "lay a",
        "laid on",
        "keep and write",
        "put away",
        "hold this picture",
        "beside it",
        "low rows",
        "turn light",
        "seen from",
        "hand in",
        "handed in",
        "waits for",
        "leave it",
        "leave out",
        "take off",
        "taken off",
        "forget",
        "bring in",
        "in force",
        "wired under",
        "matt",
    ];

    /// <summary>
    /// Identifiers: of views, lights and spaces, and of roles and fields, which are written in one word with capitals or underscores
    /// inside.
    /// </summary>
    [GeneratedRegex(@"\b(aces1-sdr\S*|acescg|lowsun|[a-z]+[A-Z][A-Za-z]*|[a-z0-9]+_[a-z0-9_]+)\b")]
    private static partial Regex Identifier();

    /// <summary>The standards' own names, and everything that is data: names of files, of deliveries and what files hold.</summary>
    [GeneratedRegex(@"\bglTF\b|\bsRGB\b|\bxyY\b|\S+\.(png|jpe?g|exr|tiff?|tga|hdr|zip|txt|ocio|csv)\b|…\S+")]
    private static partial Regex Data();

    private (string Name, string Path, string There)[] Views()
    {
        string First(string list, string? name = null)
        {
            var text = (string)
                browser.Driver.ExecuteScript(
                    "const x = new XMLHttpRequest(); x.open('GET', '/api/v1/' + arguments[0], false); x.send(); return x.responseText",
                    list
                )!;
            return JsonDocument
                .Parse(text)
                .RootElement.EnumerateArray()
                .First(e => name is null || e.GetProperty("name").GetString() == name)
                .GetProperty("id")
                .GetString()!;
        }
        var layered = First("looks", "limewash over copper");
        return
        [
            ("intake", "/intake", "h1"),
            ("sorting table", $"/intake/{First("deliveries", "shoreline_scans_v2")}", "[data-testid=wire]"),
            ("sorting table with a question", $"/intake/{First("deliveries", "Tide Organ Timber and Slate")}", "[data-question]"),
            ("looks", "/looks", "[data-look='sail canvas']"),
            ("bench", $"/looks/{First("looks", "knurled steel knob")}", "[data-testid=findings-line], [data-samples]"),
            ("bench with layers", $"/looks/{layered}", "[data-testid=layers] [data-value='0']"),
            ("variants", $"/looks/{layered}/variants", "[data-testid=variant-add]"),
            ("models", "/models", "[data-testid=model-picture]"),
            ("compare", "/compare", "[data-testid=add-row]"),
            ("collections", "/collections", "h1"),
            ("collection", $"/collections/{First("collections")}", "[data-look]"),
            ("table of a collection", $"/collections/{First("collections")}?view=Table", "tbody tr"),
            ("rules of a collection", $"/collections/{First("collections")}?view=Rules", "[data-testid=rule-row-maps]"),
            ("naming rules", "/studio", "[data-testid=naming-add]"),
            ("colour", "/studio/colour", "[data-testid=chart-check]"),
            ("renderers", "/studio/renderers", "[data-testid=open-bisque]"),
            ("saved steps", "/studio/steps", "h1"),
            ("people", "/studio/people", "h2"),
        ];
    }

    /// <summary>What is read or heard of the page, without what is data: text in fixed width, and fields.</summary>
    private string Text() =>
        (string)
            browser.Driver.ExecuteScript(
                """
                const data = '.font-mono, [data-given], pre, code, textarea, td, [data-testid=pipeline] b, [data-testid=renderer]';
                const hidden = [...document.querySelectorAll(data)].map(e => [e, e.style.display]);
                hidden.forEach(([e]) => { e.style.display = 'none'; });
                const text = document.body.innerText;
                hidden.forEach(([e, was]) => { e.style.display = was; });
                const named = [...document.querySelectorAll('[aria-label], [placeholder]')].filter(e => !e.closest(data))
                  .flatMap(e => [e.getAttribute('aria-label'), e.getAttribute('placeholder')]).filter(Boolean);
                return [text, ...named].join('\n');
                """
            )!;

    private static IEnumerable<string> Faults(string view, string text)
    {
        foreach (var line in text.Split('\n').Distinct())
        {
            var said = Data().Replace(line, " ");
            foreach (Match m in Identifier().Matches(said))
                yield return $"{view}: '{m.Value}' in “{line.Trim()}”";
            foreach (var word in CodeWords.Where(w => Regex.IsMatch(said, $@"\b{Regex.Escape(w)}\b", RegexOptions.IgnoreCase)))
                yield return $"{view}: '{word}' in “{line.Trim()}”";
        }
    }

    [Theory]
    [InlineData("day")]
    [InlineData("night")]
    public void HasNoAccessibilityFinding(string theme)
    {
        browser.SignIn(server.Address, "ada");
        browser.Driver.ExecuteScript("localStorage.setItem('kiln.theme', arguments[0])", theme);
        var faults = new List<string>();
        foreach (var (name, path, there) in Views())
        {
            browser.Driver.Navigate().GoToUrl(server.Address + path);
            browser.Find(there);
            Assert.Equal(theme, browser.Driver.ExecuteScript("return document.documentElement.dataset.theme"));
            if (Axe.Faults(browser) is { Length: > 0 } found)
                faults.Add($"{name}: {found}");
            if ((bool)browser.Driver.ExecuteScript("const m = document.querySelector('main'); return m.scrollWidth > m.clientWidth")!)
                faults.Add($"{name}: a horizontal scroll bar at 1280 pixels");
            foreach (var tab in name == "bench" ? (string[])["view", "findings"] : [])
            {
                browser.Test("tab-" + tab).Click();
                if (Axe.Faults(browser) is { Length: > 0 } more)
                    faults.Add($"{name}, {tab}: {more}");
            }
        }
        if (faults.Count > 0)
            Assert.Fail(string.Join('\n', faults));
    }

    [Fact]
    public void SpeaksPlainWords()
    {
        browser.SignIn(server.Address, "ada");
        var faults = new List<string>();
        void Look(string name) => faults.AddRange(Faults(name, Text()));
        foreach (var (name, path, there) in Views())
        {
            browser.Driver.Navigate().GoToUrl(server.Address + path);
            browser.Find(there);
            Look(name);
            if (!name.StartsWith("bench", StringComparison.Ordinal))
                continue;
            foreach (var tab in (string[])["view", "findings"])
            {
                browser.Test("tab-" + tab).Click();
                Look($"{name}, {tab}");
            }
            browser.Test("bench-menu").Click();
            browser.Test("menu-keys");
            Look($"{name}, menu");
            browser.Test("menu-keys").Click();
            browser.Test("keys");
            Look($"{name}, keys");
            browser.Driver.FindElement(By.TagName("body")).SendKeys(Keys.Escape);
            browser.Test("publish").Click();
            browser.Test("version-note");
            Look($"{name}, publish");
        }
        if (faults.Count > 0)
            Assert.Fail(string.Join('\n', faults.Distinct()));
    }

    [Fact]
    public void OtherWordsWouldBeFound() =>
        Assert.Equal(
            [
                "x: 'aces1-sdr' in “view aces1-sdr”",
                "x: 'baseColor' in “baseColor of tile.png”",
                "x: 'cover' in “Lay a cover on”",
                "x: 'lay a' in “Lay a cover on”",
            ],
            Faults("x", "view aces1-sdr\nbaseColor of tile.png\nLay a cover on\nsRGB and glTF\n…er_roughness").Order(StringComparer.Ordinal)
        );
}
