using System.Diagnostics;
using System.IO.Compression;
using System.Net.Http.Json;
using System.Text.Json;

namespace Kiln.Server.Tests.Operation;

/// <summary>The verbs that go to a server's database and data instead of the server.</summary>
public sealed class CommandLineTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    /// <summary>
    /// The program as it is built by itself: beside the server's libraries it would look for some of them in the wrong place.
    /// </summary>
    private static string Program()
    {
        var own = new DirectoryInfo(AppContext.BaseDirectory);
        var (framework, configuration) = (own.Name, own.Parent!.Name);
        while (!Directory.Exists(Path.Combine(own.FullName, "src", "Kiln.Cli")))
            own = own.Parent!;
        return Path.Combine(own.FullName, "src", "Kiln.Cli", "bin", configuration, framework, "Kiln.Cli.dll");
    }

    private async Task<(int Exit, string Output, string Errors)> RunAsync(params string[] arguments)
    {
        var start = new ProcessStartInfo(
            "dotnet",
            [
                Program(),
                .. arguments,
                "--database",
                $"{ServerProcess.Cluster};Database={server.Database}",
                "--data",
                Path.Combine(server.Folder, "data"),
            ]
        )
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using var process = Process.Start(start)!;
        var (output, errors) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync();
        return (process.ExitCode, await output, await errors);
    }

    /// <summary>
    /// Two looks of one name are two packages; each has the bytes that the server gives; a look whose map is gone is a sentence and keeps
    /// none back.
    /// </summary>
    [Fact]
    public async Task ACollectionIsWrittenWithoutTheServer()
    {
        var client = await server.SignedInAsync();
        var collection = (
            await (await client.PostAsJsonAsync("collections", new { name = "at night" })).Content.ReadFromJsonAsync<JsonElement>()
        )
            .GetProperty("id")
            .GetString();
        var rubber = (await client.GetFromJsonAsync<JsonElement>("looks"))
            .EnumerateArray()
            .First(l => l.GetProperty("name").GetString() == "rubber foot")
            .GetProperty("id")
            .GetString();
        var package = await client.GetByteArrayAsync($"looks/{rubber}/package?dialect=openpbr");
        var twin = (
            await (
                await client.PostAsync(
                    "looks/packages?name=look.zip",
                    new ByteArrayContent(package) { Headers = { ContentType = new("application/octet-stream") } }
                )
            ).Content.ReadFromJsonAsync<JsonElement>()
        )[0]
            .GetProperty("id")
            .GetString();
        foreach (var look in (string?[])[rubber, twin])
            (await client.PutAsync($"collections/{collection}/looks/{look}", null)).EnsureSuccessStatusCode();

        var folder = Path.Combine(server.Folder, "written");
        string[] batch = ["batch", "--drafts", "--collection", "at night", "--dialect", "openpbr", "--out", folder];
        var (exit, output, errors) = await RunAsync([.. batch, "--json"]);
        Assert.True(exit == 0, errors);
        var files = JsonDocument
            .Parse(output)
            .RootElement.GetProperty("looks")
            .EnumerateArray()
            .Select(l => l.GetProperty("file").GetString()!)
            .ToList();
        Assert.Equal(["rubber_foot_2_openpbr.zip", "rubber_foot_openpbr.zip"], files.Order(StringComparer.Ordinal));
        using (var zip = ZipFile.OpenRead(Path.Combine(folder, "rubber_foot_openpbr.zip")))
        using (var theirs = new ZipArchive(new MemoryStream(package)))
            foreach (
                var entry in theirs.Entries.Where(e =>
                    e.Name.EndsWith(".mtlx", StringComparison.Ordinal) || e.FullName.StartsWith("textures/", StringComparison.Ordinal)
                )
            )
                Assert.Equal(Bytes(entry), Bytes(zip.GetEntry(entry.FullName)!));

        var content = (await client.GetFromJsonAsync<JsonElement>($"looks/{rubber}"))
            .GetProperty("document")
            .GetProperty("slots")
            .EnumerateObject()
            .First()
            .Value.GetProperty("file")
            .GetProperty("content")
            .GetString()!;
        var stored = Directory
            .EnumerateFiles(Path.Combine(server.Folder, "data", "contents"), content, SearchOption.AllDirectories)
            .Single();
        File.Move(stored, stored + ".away");
        var broken = await RunAsync(batch);
        Assert.Equal(1, broken.Exit);
        Assert.DoesNotContain("Exception", broken.Errors, StringComparison.Ordinal);
        Assert.Contains("rubber foot", broken.Errors, StringComparison.Ordinal);
        Assert.Equal(1, (await RunAsync("verify")).Exit);
        File.Move(stored + ".away", stored);
        var verified = await RunAsync("verify");
        Assert.Equal(0, verified.Exit);
        Assert.Contains("all as they were written", verified.Output, StringComparison.Ordinal);

        Assert.Contains(
            "There is no collection 'no such'",
            (await RunAsync("batch", "--collection", "no such", "--dialect", "openpbr", "--out", folder)).Errors,
            StringComparison.Ordinal
        );
    }

    private static byte[] Bytes(ZipArchiveEntry entry)
    {
        using var stream = entry.Open();
        using var memory = new MemoryStream();
        stream.CopyTo(memory);
        return memory.ToArray();
    }
}
