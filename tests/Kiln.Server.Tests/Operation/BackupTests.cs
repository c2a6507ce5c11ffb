using System.Diagnostics;
using Kiln.Store;
using Kiln.Store.Contents;

namespace Kiln.Server.Tests.Operation;

/// <summary>A studio kept and restored on an empty machine holds the same, hash by hash; what is tampered with is found.</summary>
public sealed class BackupTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    private static async Task<(int Exit, string Errors)> ScriptAsync(string name, string database, params string[] arguments)
    {
        var start = new ProcessStartInfo("bash", [Repository.Path("scripts", name), .. arguments]) { RedirectStandardError = true };
        var cluster = new Npgsql.NpgsqlConnectionStringBuilder(ServerProcess.Cluster);
        (start.Environment["PGHOST"], start.Environment["PGPORT"], start.Environment["PGUSER"], start.Environment["PGDATABASE"]) = (
            cluster.Host,
            cluster.Port.ToString(),
            cluster.Username,
            database
        );
        using var process = Process.Start(start)!;
        var errors = await process.StandardError.ReadToEndAsync();
        await process.WaitForExitAsync();
        return (process.ExitCode, errors);
    }

    [Fact]
    public async Task WhatIsRestoredIsWhatWasKept()
    {
        var restored = "kiln_" + Guid.NewGuid().ToString("N")[..10];
        string data = Path.Combine(server.Folder, "data"),
            kept = Path.Combine(server.Folder, "kept"),
            again = Path.Combine(server.Folder, "again");
        Verified before;
        await using (var database = new Database($"{ServerProcess.Cluster};Database={server.Database}"))
            before = await Verification.RunAsync(database, new ContentStore(Path.Combine(data, "contents")));
        Assert.Empty(before.Faults);
        Assert.True(before is { Contents: > 50, Looks: >= 15, Versions: >= 2, Profiles: >= 8 }, before.ToString());

        foreach (var (part, file) in new[] { ("sheets", "hull.html"), ("batches", "001_hull.zip"), ("proofs", "hull.png") })
            await File.WriteAllTextAsync(Path.Combine(Directory.CreateDirectory(Path.Combine(data, part)).FullName, file), part);
        Assert.Equal((0, ""), await ScriptAsync("backup.sh", server.Database, data, kept));
        foreach (var (part, file) in new[] { ("sheets", "hull.html"), ("batches", "001_hull.zip"), ("proofs", "hull.png") })
            Assert.Equal(part, await File.ReadAllTextAsync(Path.Combine(kept, "data", part, file)));
        // Keys and hashes of passwords are in it.
        Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute, File.GetUnixFileMode(kept));
        try
        {
            Assert.Equal((0, ""), await ScriptAsync("restore.sh", restored, kept, again));
            await using var database = new Database($"{ServerProcess.Cluster};Database={restored};Pooling=false");
            var store = new ContentStore(Path.Combine(again, "contents"));
            var after = await Verification.RunAsync(database, store);
            Assert.Empty(after.Faults);
            Assert.Equal(before.Summary, after.Summary);

            // Restored over what is there: refused.
            Assert.NotEqual(0, (await ScriptAsync("restore.sh", restored, kept, again)).Exit);
            Assert.NotEqual(0, (await ScriptAsync("restore.sh", restored, kept, Path.Combine(server.Folder, "third"))).Exit);

            // One bit of one file, one letter of one version, one file gone: each is found.
            var files = Directory.GetFiles(Path.Combine(again, "contents"), "*", SearchOption.AllDirectories).Order().ToList();
            var bytes = await File.ReadAllBytesAsync(files[0]);
            bytes[bytes.Length / 2] ^= 1;
            await File.WriteAllBytesAsync(files[0], bytes);
            File.Delete(files[1]);
            await DemoState.RunAsync("update look_versions set document = replace(document, 'copper', 'cooper')", restored);
            var faults = (await Verification.RunAsync(database, store)).Faults;
            Assert.Contains(faults, f => f.Contains("not what its name says", StringComparison.Ordinal));
            Assert.Contains(faults, f => f.Contains("the file is gone", StringComparison.Ordinal));
            Assert.Contains(faults, f => f.Contains("not what its hash says", StringComparison.Ordinal));
        }
        finally
        {
            await DemoState.RunAsync($"drop database if exists {restored} with (force)");
        }
    }
}
