using System.Net.Http.Json;
using System.Text.Json;
using Kiln.Demo;
using Npgsql;

namespace Kiln.Testing.Servers;

/// <summary>
/// What a server holds right after its first start with the demo: made once for a test project by a real server, then copied for every
/// class.
/// Bringing the demo in takes ten seconds of both processors; twenty classes doing it anew starved one another.
/// </summary>
public static class DemoState
{
    /// <summary>Whether the state holds a picture of every look. Set before the first copy.</summary>
    public static bool PicturesFirst { get; set; }

    private static readonly Lazy<Task<(string Folder, string Database)>> Made = new(MakeAsync);

    /// <summary>Copies the state's files into a folder and its database into a new one of the given name.</summary>
    public static async Task CopyAsync(string folder, string database)
    {
        var (source, template) = await Made.Value;
        foreach (var file in Directory.EnumerateFiles(source, "*", SearchOption.AllDirectories))
        {
            var copy = Path.Combine(folder, Path.GetRelativePath(source, file));
            Directory.CreateDirectory(Path.GetDirectoryName(copy)!);
            File.Copy(file, copy);
        }
        await RunAsync($"create database {database} template {template}");
    }

    public static async Task RunAsync(string statement, string database = "postgres")
    {
        await using var connection = new NpgsqlConnection($"{ServerProcess.Cluster};Database={database};Pooling=false");
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(statement, connection);
        await command.ExecuteNonQueryAsync();
    }

    private static async Task PicturedAsync(string address)
    {
        using var client = await ServerFixture.SignedInAsync(address, "noor");
        foreach (var look in (await client.GetFromJsonAsync<JsonElement>("looks")).EnumerateArray())
            await client.GetByteArrayAsync($"looks/{look.GetProperty("id").GetString()}/picture?size=200");
    }

    private static async Task<(string Folder, string Database)> MakeAsync()
    {
        var folder = Directory.CreateTempSubdirectory("kiln-demo-state-").FullName;
        var database = "kiln_state_" + Guid.NewGuid().ToString("N")[..10];
        AppDomain.CurrentDomain.ProcessExit += (_, _) => Directory.Delete(folder, recursive: true);
        DemoDeliveries.Make(Path.Combine(folder, "demo"), 128);
        var process = new ServerProcess(folder, database);
        var address = ServerProcess.FreeAddress();
        await process.StartAsync(address);
        // Pages of the browser tests show a picture of every look; each class would render them anew.
        if (PicturesFirst)
            await PicturedAsync(address);
        process.Stop();
        return (folder, database);
    }
}
