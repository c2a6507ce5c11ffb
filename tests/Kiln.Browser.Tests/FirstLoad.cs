using System.Globalization;
using Xunit.Abstractions;

namespace Kiln.Browser.Tests;

/// <summary>
/// What a browser that was never here has to fetch before a view stands, on the wire (PerformanceResourceTiming of the W3C).
/// </summary>
public sealed class FirstLoad(ServerFixture server, Browser browser, ITestOutputHelper output)
    : IClassFixture<ServerFixture>,
        IClassFixture<Browser>
{
    /// <summary>Bytes of scripts and styles: as they came, and unpacked.</summary>
    private (long Came, long Unpacked) Fetched(string path, string there)
    {
        browser.Driver.ExecuteCdpCommand("Network.clearBrowserCache", []);
        browser.Driver.Navigate().GoToUrl(server.Address + path);
        browser.Find(there);
        browser.Settled();
        long Sum(string of) =>
            Convert.ToInt64(
                browser.Driver.ExecuteScript(
                    """
                    return performance.getEntriesByType('resource').filter(e => /\.(js|css)$/.test(e.name))
                      .reduce((n, e) => n + e[arguments[0]], 0)
                    """,
                    of
                ),
                CultureInfo.InvariantCulture
            );
        return (Sum("encodedBodySize"), Sum("decodedBodySize"));
    }

    [Fact]
    public void ScriptsAndStylesComeCompressedAndAreFew()
    {
        var signIn = Fetched("/looks", "[name=password]");
        browser.SignIn(server.Address, "ada");
        var looks = Fetched("/looks", "[data-look='sail canvas']");
        var one = browser.Driver.ExecuteScript(
            "return (await (await fetch('/api/v1/looks')).json()).find(l => l.name === 'sail canvas').id"
        );
        var bench = Fetched($"/looks/{one}", "[data-testid=findings-line], [data-samples]");
        output.WriteLine($"sign-in {signIn}, looks {looks}, bench {bench}");
        Assert.InRange(signIn.Came, 10_000, 200_000);
        Assert.InRange(looks.Came, signIn.Came, 200_000);
        foreach (var (came, unpacked) in new[] { signIn, looks, bench })
            Assert.True(came < unpacked / 2, $"{came} of {unpacked} bytes came");
    }

    /// <summary>A compressed file is told from a plain one by caches; answers with data stay as they are.</summary>
    [Fact]
    public async Task OnlyFilesOfTheFrontEndAreCompressedAndOnlyForWhoAsks()
    {
        using var plain = new HttpClient { BaseAddress = new(server.Address) };
        using var packing = new HttpClient { BaseAddress = new(server.Address) };
        packing.DefaultRequestHeaders.AcceptEncoding.ParseAdd("br, gzip");
        var page = await plain.GetStringAsync("/");
        var script = System.Text.RegularExpressions.Regex.Match(page, "/assets/[^\"]+\\.js").Value;
        using var unpacked = await plain.GetAsync(script);
        using var packed = await packing.GetAsync(script);
        Assert.Empty(unpacked.Content.Headers.ContentEncoding);
        Assert.Equal(["br"], packed.Content.Headers.ContentEncoding);
        Assert.Contains("Accept-Encoding", packed.Headers.Vary);
        Assert.Contains("immutable", packed.Headers.CacheControl!.ToString(), StringComparison.Ordinal);
        using var brotli = new System.IO.Compression.BrotliStream(
            await packed.Content.ReadAsStreamAsync(),
            System.IO.Compression.CompressionMode.Decompress
        );
        using var reader = new StreamReader(brotli);
        Assert.Equal(await unpacked.Content.ReadAsStringAsync(), await reader.ReadToEndAsync());
        using var answer = await packing.GetAsync("/api/v1/session");
        Assert.Empty(answer.Content.Headers.ContentEncoding);
        using var pageAgain = await packing.GetAsync("/looks");
        Assert.Equal("no-cache", pageAgain.Headers.CacheControl?.ToString());
    }
}
