using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Net;

namespace Kiln.Testing.Servers;

/// <summary>The server as a process of its own, over a folder (data, demo) and a database.</summary>
public sealed class ServerProcess(string folder, string database)
{
    private const int LastLinesKept = 40;

    private readonly ConcurrentQueue<string> said = new();
    private Process? process;

    /// <summary>How the tests' PostgreSQL cluster is reached, without a database's name.</summary>
    public static string Cluster =>
        Environment.GetEnvironmentVariable("KILN_TEST_DATABASE")
        ?? throw new InvalidOperationException("KILN_TEST_DATABASE is not set; run ./test, which starts a database.");

    /// <summary>Where this one looks for the cluster; the tests' own unless a test says otherwise.</summary>
    public string Host { get; init; } = Cluster;

    public static string FreeAddress()
    {
        var listener = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        var port = ((IPEndPoint)listener.LocalEndpoint).Port;
        listener.Stop();
        return $"http://127.0.0.1:{port}";
    }

    /// <summary>The last lines it wrote.</summary>
    public IEnumerable<string> Said => said;

    /// <summary>
    /// Starts it and waits until it answers; when it ends instead, or says nothing for minutes, its last words are in the exception.
    /// </summary>
    /// <param name="demo">With the demo's people and data; without, the studio is empty.</param>
    public async Task StartAsync(string address, bool demo = true)
    {
        var start = new ProcessStartInfo("dotnet")
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = folder,
        };
        foreach (
            var a in (string[])
                [
                    Path.Combine(AppContext.BaseDirectory, "Kiln.Server.dll"),
                    "--urls",
                    address,
                    $"--Kiln:Data={Path.Combine(folder, "data")}",
                    $"--Kiln:Database={Host};Database={database}",
                    "--webroot",
                    WebRoot(),
                ]
        )
            start.ArgumentList.Add(a);
        if (demo)
            start.ArgumentList.Add($"--Kiln:Demo={Path.Combine(folder, "demo")}");
        process = Process.Start(start)!;
        process.OutputDataReceived += (_, e) => Keep(e.Data);
        process.ErrorDataReceived += (_, e) => Keep(e.Data);
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        using var http = new HttpClient();
        for (var waited = Stopwatch.StartNew(); waited.Elapsed < TimeSpan.FromMinutes(4) && !process.HasExited; await Task.Delay(150))
        {
            try
            {
                if ((await http.GetAsync(address + "/healthz")).IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException)
            {
                // Not listening yet.
            }
        }
        var what = process.HasExited ? $"ended with {process.ExitCode}" : "did not answer within four minutes";
        throw new InvalidOperationException($"The server {what}:\n{string.Join('\n', said)}");
    }

    public void Kill()
    {
        process!.Kill(entireProcessTree: true);
        process.WaitForExit();
    }

    /// <summary>Asks the process to end, as Ctrl+C and a service manager do, and waits until it has.</summary>
    public void Stop()
    {
        using var signal = Process.Start("kill", ["-TERM", process!.Id.ToString(CultureInfo.InvariantCulture)]);
        process.WaitForExit();
    }

    private void Keep(string? line)
    {
        if (line is null)
            return;
        said.Enqueue(line);
        while (said.Count > LastLinesKept)
            said.TryDequeue(out _);
    }

    /// <summary>The built front end; only the browser tests need it to be there.</summary>
    private static string WebRoot() => Directory.CreateDirectory(Path.Combine(Repository.Path("src", "Kiln.Server"), "wwwroot")).FullName;
}
