using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Kiln.Demo;
using Npgsql;

namespace Kiln.Server.Tests;

/// <summary>A real server process on a free port with a database of its own; it can be killed and started again on the same data.</summary>
public sealed class ServerFixture : IAsyncLifetime
{
    private readonly string database = "kiln_" + Guid.NewGuid().ToString("N")[..10];
    private Process? process;

    public string Folder { get; } = Directory.CreateTempSubdirectory("kiln-server-").FullName;

    public string DemoFolder => Path.Combine(Folder, "demo");

    public string Address { get; private set; } = "";

    private static string Server => Environment.GetEnvironmentVariable("KILN_TEST_DATABASE") ?? throw new InvalidOperationException("KILN_TEST_DATABASE is not set; run ./test, which starts a database.");

    public async Task InitializeAsync()
    {
        DemoDeliveries.Make(DemoFolder, 128);
        await StartAsync();
    }

    /// <param name="again">At the address it had, for whoever waits there.</param>
    public async Task StartAsync(bool again = false)
    {
        if (!again)
        {
            var listener = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
            listener.Start();
            Address = $"http://127.0.0.1:{((IPEndPoint)listener.LocalEndpoint).Port}";
            listener.Stop();
        }
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true, WorkingDirectory = Folder };
        foreach (var a in (string[])[Path.Combine(AppContext.BaseDirectory, "Kiln.Server.dll"), "--urls", Address, $"--Kiln:Data={Path.Combine(Folder, "data")}", $"--Kiln:Database={Server};Database={database}", $"--Kiln:Demo={DemoFolder}", "--webroot", WebRoot()])
            start.ArgumentList.Add(a);
        process = Process.Start(start)!;
        process.OutputDataReceived += (_, _) => { };
        process.ErrorDataReceived += (_, _) => { };
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        using var http = new HttpClient();
        for (var i = 0; i < 400; i++)
        {
            try
            {
                if ((await http.GetAsync(Address + "/healthz")).IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException)
            {
                // Not listening yet.
            }
            await Task.Delay(150);
        }
        throw new InvalidOperationException("The server did not start.");
    }

    /// <summary>The built front end; only the browser tests need it to be there.</summary>
    private static string WebRoot()
    {
        for (var folder = AppContext.BaseDirectory; folder is not null; folder = Path.GetDirectoryName(folder))
            if (Directory.Exists(Path.Combine(folder, "src", "Kiln.Server")))
                return Directory.CreateDirectory(Path.Combine(folder, "src", "Kiln.Server", "wwwroot")).FullName;
        throw new InvalidOperationException("src/Kiln.Server was not found.");
    }

    public void Kill()
    {
        process!.Kill(entireProcessTree: true);
        process.WaitForExit();
    }

    /// <summary>Asks the process to end, as Ctrl+C and a service manager do, and waits until it has.</summary>
    public void Stop()
    {
        using var signal = Process.Start("kill", ["-TERM", process!.Id.ToString(System.Globalization.CultureInfo.InvariantCulture)]);
        process.WaitForExit();
    }

    /// <summary>A client signed in as one of the demo people.</summary>
    public async Task<HttpClient> SignedInAsync(string name = "noor")
    {
        var client = new HttpClient(new HttpClientHandler { CookieContainer = new() }) { BaseAddress = new(Address + "/api/v1/") };
        await TokenAsync(client);
        (await client.PostAsJsonAsync("session", new { name, password = name + "-kiln" })).EnsureSuccessStatusCode();
        await TokenAsync(client);
        return client;
    }

    private static async Task TokenAsync(HttpClient client)
    {
        var session = await client.GetFromJsonAsync<JsonElement>("session");
        client.DefaultRequestHeaders.Remove("X-Kiln-Token");
        client.DefaultRequestHeaders.Add("X-Kiln-Token", session.GetProperty("token").GetString());
    }

    public async Task DisposeAsync()
    {
        Kill();
        await using var connection = new NpgsqlConnection(Server + ";Database=postgres");
        await connection.OpenAsync();
        await using var drop = new NpgsqlCommand($"drop database if exists {database} with (force)", connection);
        await drop.ExecuteNonQueryAsync();
        Directory.Delete(Folder, recursive: true);
    }
}
