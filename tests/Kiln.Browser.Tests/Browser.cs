using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;
using OpenQA.Selenium.Support.UI;

namespace Kiln.Browser.Tests;

/// <summary>Pages show a picture of every look; each class of this project would render them anew.</summary>
internal static class Pictured
{
    [System.Runtime.CompilerServices.ModuleInitializer]
    internal static void First() => DemoState.PicturesFirst = true;
}

/// <summary>One headless Chromium per class.</summary>
public sealed class Browser : IDisposable
{
    private readonly bool drawsBySoftware;
    private readonly ChromeDriverService service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");

    public Browser()
        : this(drawsBySoftware: false) { }

    /// <param name="drawsBySoftware">Whether WebGL is there, drawn by the processor.</param>
    internal Browser(bool drawsBySoftware)
    {
        this.drawsBySoftware = drawsBySoftware;
        Downloads = Directory.CreateTempSubdirectory("kiln-downloads-").FullName;
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        foreach (
            var argument in (string[])
                [
                    "--headless=new",
                    "--no-sandbox",
                    .. drawsBySoftware ? ["--use-angle=swiftshader", "--enable-unsafe-swiftshader"] : new[] { "--disable-gpu" },
                    "--disable-quic",
                    "--no-first-run",
                    "--disable-background-networking",
                    "--disable-component-update",
                    "--disable-sync",
                    "--window-size=1280,943",
                    $"--user-data-dir={Path.Combine(Downloads, "profile")}",
                ]
        )
            options.AddArgument(argument);
        options.AddUserProfilePreference("download.default_directory", Downloads);
        options.SetLoggingPreference(LogType.Browser, LogLevel.Warning);
        service.SuppressInitialDiagnosticInformation = true;
        Driver = new(service, options, TimeSpan.FromMinutes(2));
    }

    public ChromeDriver Driver { get; }

    public string Downloads { get; }

    /// <summary>What the console complained of since it was last asked.</summary>
    public IReadOnlyList<string> Complaints() => [.. Driver.Manage().Logs.GetLog(LogType.Browser).Select(l => l.Message)];

    /// <summary>The element, waited for.</summary>
    public IWebElement Find(string selector, int seconds = 90) =>
        Until(d => d.FindElements(By(selector)).FirstOrDefault(e => e.Displayed), seconds, selector);

    public static By By(string selector) =>
        selector.TrimStart('(').StartsWith("//", StringComparison.Ordinal)
            ? OpenQA.Selenium.By.XPath(selector)
            : OpenQA.Selenium.By.CssSelector(selector);

    public T Until<T>(Func<IWebDriver, T?> condition, int seconds, string what)
    {
        // A wait ends as soon as its condition holds: a short limit gains nothing and fails on a busy machine.
        var wait = new WebDriverWait(Driver, TimeSpan.FromSeconds(Math.Max(seconds, 90))) { Message = what };
        wait.IgnoreExceptionTypes(typeof(StaleElementReferenceException), typeof(NoSuchElementException));
        try
        {
            return wait.Until(condition)!;
        }
        catch (WebDriverTimeoutException e)
        {
            // What a person would have seen instead, for whoever reads the log.
            var page = ((IJavaScriptExecutor)Driver).ExecuteScript(
                "return location.pathname + ': ' + document.body.innerText.replace(/\\s+/g, ' ').slice(-1500)"
            );
            throw new WebDriverTimeoutException($"{e.Message}\nOn the screen: {page}", e);
        }
    }

    /// <summary>
    /// Replaces what a field holds and presses Enter once the field shows it: what the page writes in the meantime may have moved the
    /// selection.
    /// </summary>
    public void Enter(string selector, string text) =>
        Until(
                _ =>
                {
                    var field = Find(selector);
                    field.SendKeys(Keys.Control + "a");
                    field.SendKeys(text);
                    return field.GetAttribute("value") == text ? field : null;
                },
                90,
                $"'{text}' typed into {selector}"
            )
            .SendKeys(Keys.Enter);

    /// <summary>Waits until the page is the same at two looks, half a second apart.</summary>
    public void Settled()
    {
        var before = "";
        Until(
            _ =>
            {
                var now = (string)Driver.ExecuteScript("return document.body.innerHTML")!;
                var same = now == before;
                before = now;
                return same ? "settled" : null;
            },
            90,
            "a page that no longer changes"
        );
    }

    /// <summary>
    /// Picks a slider up by the mouse and moves it, held. What arrives meanwhile may move the panel under the pointer: whoever sees that
    /// the slider stayed lets go and picks it up again.
    /// </summary>
    public void PickUp(string slider, int pixels) =>
        Until(
            _ =>
            {
                Settled();
                var before = Find(slider).GetAttribute("aria-valuenow");
                new Actions(Driver).MoveToElement(Find(slider)).ClickAndHold().MoveByOffset(pixels, 0).Perform();
                Settled();
                if (Find(slider).GetAttribute("aria-valuenow") != before)
                    return "held";
                new Actions(Driver).Release().Perform();
                return null;
            },
            90,
            $"{slider} moved by {pixels} pixels"
        );

    /// <summary>A real drag by HTML drag events: pick up, over, drop, with one data transfer.</summary>
    public void Drag(string from, string to) =>
        Driver.ExecuteScript(
            """
            const [a, b] = [arguments[0], arguments[1]], data = new DataTransfer();
            const fire = (e, type) => e.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: data }));
            fire(a, 'dragstart'); fire(b, 'dragover'); fire(b, 'drop'); fire(a, 'dragend');
            """,
            Find(from),
            Find(to)
        );

    /// <summary>Opens Intake as the demo artist, signing in unless an earlier test of the class did.</summary>
    public void SignIn(string address, string name = "noor")
    {
        Driver.Navigate().GoToUrl(address + "/intake");
        if (Find("//input[@name='name'] | //main[@data-view='intake']//h1").TagName == "h1")
            return;
        Find("input[name=name]").SendKeys(name);
        Find("input[name=password]").SendKeys(name + "-kiln");
        Test("sign-in").Click();
        Find("main[data-view=intake] h1");
        // Hints of the first bench have a test of their own; elsewhere they would lie over what is clicked.
        Driver.ExecuteScript("localStorage.setItem('kiln.benchHints', 'read')");
        // The viewport has tests of its own; elsewhere the processor would draw it for nobody.
        Driver.ExecuteScript($"localStorage.setItem('kiln.viewport', '{(drawsBySoftware ? "on" : "off")}')");
    }

    /// <summary>The element with this test id, waited for.</summary>
    public IWebElement Test(string id, int seconds = 90) => Find($"[data-testid='{id}']", seconds);

    /// <summary>Opens a list and chooses the option with this value, as a person would: by clicking both.</summary>
    public void Choose(string select, string value) => Choose(select, $"[data-value='{value}'], [data-choice='{value}']", "");

    /// <summary>The same for an option that begins with these words: names of looks and files, which are data.</summary>
    public void ChooseNamed(string select, string name) =>
        Choose(select, $"//*[@role='option'][starts-with(normalize-space(.),'{name}')]", name);

    /// <summary>Opens a list that may be added to, and names something new.</summary>
    public void ChooseNew(string select, string name)
    {
        Find(select).Click();
        Find("[cmdk-input]").SendKeys(name);
        Find("[data-choice-new]").Click();
    }

    private void Choose(string select, string option, string name)
    {
        var list = Find(select);
        // A long list is found by typing; an open one is not opened again, which would close it.
        if (list.GetAttribute("data-state") != "open")
            list.Click();
        if (name.Length > 0 && Driver.FindElements(By("[role=dialog] input[role=combobox]")).LastOrDefault() is { } field)
            field.SendKeys(name);
        foreach (var one in option.Split(", "))
            if (option.StartsWith('/') || Driver.FindElements(By("[role=option]" + one)).Count > 0)
            {
                Find(option.StartsWith('/') ? option : "[role=option]" + one).Click();
                return;
            }
        Find(string.Join(", ", option.Split(", ").Select(o => "[role=option]" + o))).Click();
    }

    /// <summary>Chooses in a menu: the button that opens it, then the item.</summary>
    public void Menu(string button, string item)
    {
        Find(button).Click();
        Test(item).Click();
    }

    public void Dispose()
    {
        Driver.Quit();
        service.Dispose();
        Directory.Delete(Downloads, recursive: true);
    }
}
