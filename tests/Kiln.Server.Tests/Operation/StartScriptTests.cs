using System.Diagnostics;
using System.Net;
using System.Net.Sockets;

namespace Kiln.Server.Tests.Operation;

/// <summary>./start as people call it: once in a folder, stopped however it is told to, and with a database that comes late.</summary>
public sealed class StartScriptTests
{
    private static Process Start(string folder, string address)
    {
        var start = new ProcessStartInfo("bash", [Repository.Path("start"), "--empty", "--port", new Uri(address).Port.ToString()])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["KILN_FOLDER"] = folder;
        return Process.Start(start)!;
    }

    private static async Task<bool> AnswersAsync(string address)
    {
        using var http = new HttpClient();
        try
        {
            return (await http.GetAsync(address + "/healthz")).IsSuccessStatusCode;
        }
        catch (HttpRequestException)
        {
            return false;
        }
    }

    private static async Task UntilAsync(Func<Task<bool>> condition, string what)
    {
        for (var i = 0; i < 1200; i++, await Task.Delay(100))
            if (await condition())
                return;
        throw new TimeoutException(what);
    }

    private static void Signal(Process process, string signal) => Process.Start("kill", [signal, process.Id.ToString()]).WaitForExit();

    /// <summary>
    /// The second start in a folder says where the first one is and leaves it alone; interrupted twice, in either order, nothing of it
    /// stays.
    /// </summary>
    [Fact]
    public async Task OneServerAFolderAndNothingLeftBehind()
    {
        var folder = Directory.CreateTempSubdirectory("kiln-start-").FullName;
        File.SetUnixFileMode(folder, (UnixFileMode)0b111_101_101);
        try
        {
            var address = ServerProcess.FreeAddress();
            using var first = Start(folder, address);
            var errors = first.StandardError.ReadToEndAsync();
            await UntilAsync(async () => first.HasExited || await AnswersAsync(address), "the first start answers");
            Assert.False(first.HasExited, first.HasExited ? await errors : "");

            using var second = Start(folder, ServerProcess.FreeAddress());
            var said = await second.StandardError.ReadToEndAsync();
            await second.WaitForExitAsync();
            Assert.Equal(1, second.ExitCode);
            Assert.Contains(address, said, StringComparison.Ordinal);
            Assert.True(await AnswersAsync(address));

            Signal(first, "-INT");
            Signal(first, "-TERM");
            await first.WaitForExitAsync(new CancellationTokenSource(TimeSpan.FromSeconds(60)).Token);
            Assert.False(await AnswersAsync(address));
            Assert.False(File.Exists(Path.Combine(folder, "postgres", "postmaster.pid")));
            Assert.Equal("", await File.ReadAllTextAsync(Path.Combine(folder, "start.lock")));
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    /// <summary>A database that does not answer yet is waited for, with a sentence; then the server is ready.</summary>
    [Fact]
    public async Task ALateDatabaseIsWaitedFor()
    {
        var cluster = new Npgsql.NpgsqlConnectionStringBuilder(ServerProcess.Cluster);
        var place = new Uri(ServerProcess.FreeAddress());
        var folder = Directory.CreateTempSubdirectory("kiln-late-").FullName;
        var database = "kiln_late_" + Guid.NewGuid().ToString("N")[..10];
        using var closing = new CancellationTokenSource();
        var process = new ServerProcess(folder, database) { Host = $"Host=127.0.0.1;Port={place.Port};Username={cluster.Username}" };
        try
        {
            var address = ServerProcess.FreeAddress();
            var started = process.StartAsync(address, demo: false);
            await UntilAsync(
                () =>
                    Task.FromResult(
                        process.Said.Any(l =>
                            l.Contains("database", StringComparison.OrdinalIgnoreCase)
                            && l.Contains("wait", StringComparison.OrdinalIgnoreCase)
                        )
                    ),
                "it says that it waits"
            );
            Assert.False(started.IsCompleted);
            Assert.DoesNotContain(process.Said, l => l.Contains("   at ", StringComparison.Ordinal));
            using var listener = new TcpListener(IPAddress.Loopback, place.Port);
            listener.Start();
            _ = PassedOnAsync(listener, cluster, closing.Token);
            await started;
            Assert.True(await AnswersAsync(address));
            // Gone again: the server lives, and says that it is not ready.
            listener.Stop();
            await closing.CancelAsync();
            await UntilAsync(async () => !await AnswersAsync(address), "it says that the database is away");
        }
        finally
        {
            process.Kill();
            await closing.CancelAsync();
            await DemoState.RunAsync($"drop database if exists {database} with (force)");
            Directory.Delete(folder, recursive: true);
        }
    }

    private static async Task PassedOnAsync(TcpListener listener, Npgsql.NpgsqlConnectionStringBuilder to, CancellationToken cancel)
    {
        while (!cancel.IsCancellationRequested)
        {
            var from = await listener.AcceptTcpClientAsync(cancel);
            var there = new TcpClient();
            await there.ConnectAsync(to.Host!, to.Port, cancel);
            var (a, b) = (from.GetStream(), there.GetStream());
            _ = a.CopyToAsync(b, cancel).ContinueWith(_ => there.Close(), TaskScheduler.Default);
            _ = b.CopyToAsync(a, cancel).ContinueWith(_ => from.Close(), TaskScheduler.Default);
        }
    }
}
