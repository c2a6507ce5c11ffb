using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Kiln.Pixels;
using Kiln.Pixels.Writing;

namespace Kiln.Browser.Tests;

/// <summary>
/// A studio without the demo: the first admin by the link that the server prints, people invited, and the whole job done by somebody who is
/// not the admin.
/// </summary>
public sealed class EmptyStudio : IClassFixture<Browser>, IAsyncLifetime
{
    private const string Words = "three kettles on a shelf";

    private readonly Browser browser;
    private readonly string database = "kiln_" + Guid.NewGuid().ToString("N")[..10];
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-empty-").FullName;
    private readonly string address = ServerProcess.FreeAddress();
    private readonly ServerProcess server;

    public EmptyStudio(Browser browser)
    {
        this.browser = browser;
        server = new(folder, database);
    }

    public async Task InitializeAsync()
    {
        await DemoState.RunAsync($"create database {database}");
        await server.StartAsync(address, demo: false);
    }

    public async Task DisposeAsync()
    {
        server.Kill();
        await DemoState.RunAsync($"drop database if exists {database} with (force)");
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task FromTheFirstLinkToAWiredLook()
    {
        // Nobody of the demo gets in.
        using (var http = new HttpClient { BaseAddress = new(address + "/api/v1/") })
        {
            http.DefaultRequestHeaders.Add(
                "X-Kiln-Token",
                (await http.GetFromJsonAsync<JsonElement>("session")).GetProperty("token").GetString()
            );
            Assert.Equal(
                HttpStatusCode.Unauthorized,
                (await http.PostAsJsonAsync("session", new { name = "ada", password = "ada-kiln" })).StatusCode
            );
        }

        // The first admin, by the printed link; it is good once.
        var line = Assert.Single(server.Said, l => l.Contains("First admin: ", StringComparison.Ordinal));
        var link = line[(line.IndexOf("First admin: ", StringComparison.Ordinal) + "First admin: ".Length)..];
        Begin(link, "ines");
        Assert.Equal("", Axe.Faults(browser));
        browser.Driver.Navigate().GoToUrl(address + "/studio/people");
        var artist = Invite("tove", "artist");
        var lead = Invite("sunniva", "lead");
        Assert.Equal("", Axe.Faults(browser));
        SignOut();
        browser.Driver.Navigate().GoToUrl(link);
        browser.Find("//main//p[@role='alert']");

        // The artist: files in, a look out.
        Begin(artist, null);
        browser.Driver.ExecuteScript("localStorage.setItem('kiln.benchHints', 'read')");
        // An empty list leads on: to the guide, and to a delivery of the demo.
        browser.Find("[data-guide-link=first-look]").Click();
        browser.Find("//aside[@aria-label='Guide']//h2[.='A first look in ten minutes']");
        browser.Test("demo-delivery").Click();
        browser.Find("[data-path='verdigris_copper_pipe/verdigris_copper_pipe_normal_dx_1k.png']", 60);
        Assert.Equal("", Axe.Faults(browser));
        browser.Test("guide-close").Click();
        browser.Driver.Navigate().GoToUrl(address + "/intake");
        browser.Find("main[data-view=intake] h1");
        var zip = Path.Combine(folder, "maps.zip");
        await File.WriteAllBytesAsync(zip, Delivery());
        browser.Driver.FindElement(Browser.By("[data-testid=files]")).SendKeys(zip);
        browser.Find("[data-role=roughness]", 60);
        browser.ChooseNew("[data-testid=collection]", "First things");
        browser.Test("wire").Click();
        // One look is opened at once.
        browser.Find("[data-lane=specular_roughness]");
        var look = browser.Driver.Url;
        browser.Test("publish").Click();
        browser.Test("version-note").SendKeys("first of all");
        browser.Test("version-add").Click();
        browser.Find("//li[contains(.,'first of all')]");
        SignOut();

        // The lead publishes it.
        Begin(lead, null);
        browser.Driver.Navigate().GoToUrl(look);
        browser.Test("publish").Click();
        browser.Find("//li[contains(.,'first of all')]");
        browser.Test("version-publish").Click();
        browser.Until(
            d => d.FindElements(Browser.By("[data-testid=version-publish]")).Count == 0 ? "published" : null,
            30,
            "the version is published"
        );
    }

    /// <summary>Chooses a password where the link leads; a name too when it is nobody's yet.</summary>
    private void Begin(string link, string? name)
    {
        browser.Driver.Navigate().GoToUrl(link);
        // A change of what follows the # alone does not load the page again.
        browser.Driver.Navigate().Refresh();
        browser.Find("input[name=new-password]").SendKeys(Words + " of " + (name ?? "the studio"));
        if (name is not null)
            browser.Find("input[name=name]").SendKeys(name);
        browser.Find("input[name=password-again]").SendKeys(Words + " of " + (name ?? "the studio"));
        browser.Test("begin").Click();
        browser.Find("main[data-view=intake] h1");
    }

    private string Invite(string name, string role)
    {
        browser.Find("input[name=person-name]").SendKeys(name);
        browser.Choose("[data-testid=person-role]", role);
        browser.Test("person-add").Click();
        browser.Find($"[data-testid=person-{name}]");
        return browser.Until(
            _ => browser.Find("//p[@role='status' and contains(.,'" + name + "')]//span[@data-testid='link']").Text,
            30,
            "the link"
        );
    }

    private void SignOut()
    {
        browser.Menu("[data-testid=person-menu]", "sign-out");
        browser.Find("input[name=password]");
    }

    /// <summary>Two maps of one surface, as a person would download them.</summary>
    private static byte[] Delivery()
    {
        using var bytes = new MemoryStream();
        using (var archive = new System.IO.Compression.ZipArchive(bytes, System.IO.Compression.ZipArchiveMode.Create, leaveOpen: true))
            foreach (
                var (name, picture) in (ReadOnlySpan<(string, byte[])>)
                    [("pressed_felt_basecolor.png", Weave(150, 90, 8)), ("pressed_felt_roughness.png", Weave(170, 40, 0))]
            )
            {
                using var to = archive.CreateEntry(name).Open();
                to.Write(picture);
            }
        return bytes.ToArray();
    }

    private static byte[] Weave(int middle, int swing, int tint)
    {
        const int Side = 64;
        var samples = new byte[Side * Side * 3];
        for (var at = 0; at < samples.Length; at++)
        {
            var (x, y) = (at / 3 % Side, at / 3 / Side);
            samples[at] = (byte)(middle + swing * Math.Sin(x * 0.7) * Math.Cos(y * 0.5) - tint * (at % 3));
        }
        return PictureWriter.Png(new(Side, Side, ImageBuffer.Rgb, SampleType.U8, samples));
    }
}
