namespace Kiln.Cli.Tests;

/// <summary>A folder of networks done one after another, by itself: nothing that was done is done again, nothing that failed holds others
/// back.</summary>
public sealed class BatchResultsTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-batch-").FullName;
    private readonly List<string> asked = [];

    private string Out => Path.Combine(folder, "out");

    private string Results => Path.Combine(Out, "results.json");

    public BatchResultsTests()
    {
        foreach (
            var (name, text) in new[] { ("a.mtlx", "one"), ("b.mtlx", "two"), ("deep/c.mtlx", "three"), ("a_defs.mtlx", "no network") }
        )
            Write(name, text);
    }

    private void Write(string name, string text)
    {
        var path = Path.Combine(folder, "in", name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        File.WriteAllText(path, text);
    }

    private Task<IReadOnlyList<BatchResult>> RunAsync(
        string task = "convert",
        Func<string, object>? one = null,
        Action<BatchResult>? kept = null,
        CancellationToken cancel = default
    ) =>
        BatchResults.RunAsync(
            Path.Combine(folder, "in"),
            Out,
            task,
            path =>
            {
                asked.Add(Path.GetFileName(path));
                return Task.FromResult(one?.Invoke(path) ?? new { done = File.ReadAllText(path) });
            },
            e => e is ArgumentException,
            cancel,
            kept
        );

    [Fact]
    public async Task NetworksAreDoneInOrderAndDefinitionsAreNone()
    {
        var results = await RunAsync();
        Assert.Equal(["a.mtlx", "b.mtlx", "c.mtlx"], asked);
        Assert.Equal(["a.mtlx", "b.mtlx", Path.Combine("deep", "c.mtlx")], results.Select(r => r.File));
        Assert.Equal("three", results[2].Result!.Value.GetProperty("done").GetString());
    }

    [Fact]
    public async Task WhatIsDoneIsTakenOverAndAChangedFileDoneAgain()
    {
        await RunAsync();
        asked.Clear();
        Write("b.mtlx", "changed");
        var kept = new List<string>();
        var results = await RunAsync(kept: r => kept.Add(r.File));
        Assert.Equal(["b.mtlx"], asked);
        Assert.Equal(["a.mtlx", Path.Combine("deep", "c.mtlx")], kept);
        Assert.Equal("changed", results[1].Result!.Value.GetProperty("done").GetString());
    }

    [Fact]
    public async Task ResultsOfAnotherTaskAreNotTakenOver()
    {
        await RunAsync();
        asked.Clear();
        await RunAsync("convert to something else");
        Assert.Equal(3, asked.Count);
    }

    [Fact]
    public async Task OneThatFailsIsASentenceAndTriedAgain()
    {
        object Odd(string path) => path.EndsWith("b.mtlx", StringComparison.Ordinal) ? throw new ArgumentException("It is\nodd.") : "done";
        var results = await RunAsync(one: Odd);
        Assert.Equal([null, "It is odd.", null], results.Select(r => r.Error));
        asked.Clear();
        Assert.All(await RunAsync(), r => Assert.Null(r.Error));
        Assert.Equal(["b.mtlx"], asked);
    }

    [Fact]
    public async Task WhatIsNoSentenceEndsTheRunAndWhatWasDoneIsKept()
    {
        object Broken(string path) => path.EndsWith("b.mtlx", StringComparison.Ordinal) ? throw new InvalidOperationException() : "done";
        await Assert.ThrowsAsync<InvalidOperationException>(() => RunAsync(one: Broken));
        asked.Clear();
        await RunAsync();
        Assert.Equal(["b.mtlx", "c.mtlx"], asked);
        Assert.False(File.Exists(Results + ".part"));
    }

    [Fact]
    public async Task ACancelledRunGoesOnWhereItWas()
    {
        using var cancel = new CancellationTokenSource();
        object Cancels(string path)
        {
            cancel.Cancel();
            return "done";
        }
        await Assert.ThrowsAsync<OperationCanceledException>(() => RunAsync(one: Cancels, cancel: cancel.Token));
        Assert.Equal(["a.mtlx"], asked);
        asked.Clear();
        await RunAsync();
        Assert.Equal(["b.mtlx", "c.mtlx"], asked);
    }

    [Theory]
    [InlineData("")]
    [InlineData("{\"task\":\"convert\",\"files\":[{")]
    [InlineData("[]")]
    public async Task AFileOfResultsThatIsNoneIsSaidAndLeftAlone(string text)
    {
        Directory.CreateDirectory(Out);
        File.WriteAllText(Results, text);
        var e = await Assert.ThrowsAsync<ArgumentException>(() => RunAsync());
        Assert.Contains(Results, e.Message, StringComparison.Ordinal);
        Assert.Empty(asked);
        Assert.Equal(text, File.ReadAllText(Results));
    }

    [Fact]
    public async Task AFolderWithoutNetworksIsASentence()
    {
        Directory.Delete(Path.Combine(folder, "in"), recursive: true);
        Write("a_defs.mtlx", "only definitions");
        var e = await Assert.ThrowsAsync<ArgumentException>(() => RunAsync());
        Assert.StartsWith("There is no network in", e.Message, StringComparison.Ordinal);
    }

    public void Dispose() => Directory.Delete(folder, recursive: true);
}
