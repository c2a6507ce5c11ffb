using Kiln.Cli.Verbs;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Packages;
using Kiln.Looks.Edits;

namespace Kiln.Cli;

/// <summary>Networks of one dialect read into looks and written as another; in a folder neither takes the other's names.</summary>
internal sealed class NetworkConversion(CliSession session, DialectProfile source, DialectProfile target, ConfigNames? names)
{
    private readonly Dictionary<string, WrittenNames> written = [];

    /// <summary>Writes one network into a folder.</summary>
    /// <param name="said">What reading its document said of textures.</param>
    /// <param name="isQuiet">Whether the files that are written are left unsaid.</param>
    /// <returns>What the verb answers of it.</returns>
    public async Task<object> WriteAsync(Network network, string folder, IReadOnlyList<string> said, bool isQuiet, CancellationToken cancel)
    {
        var bakery = new Bakery(session.Textures, session);
        var read = await NetworkReading.ReadAsync(source, network, name => names?.OursFor(name) ?? name, bakery, cancel);
        var (look, missing) = MissingMaps.TakenOut(read, session.Has);
        var compiled = await session.Compiler(target, WorkingSpace.Find(network.WorkingSpace), names).CompileAsync(look, cancel);
        var apart = Names(folder).Apart(compiled.Network);
        var files = session.Writer.Files(apart, target);
        WireVerb.WriteAll(files, folder, session);
        string[] remarks =
        [
            .. look.Remarks,
            .. said.Where(s => network.Textures.Any(t => s.Contains($"'{t.Path}'", StringComparison.Ordinal))),
            .. missing,
            .. WireVerb.Renamed(compiled.Network, apart),
        ];
        foreach (var remark in remarks.Except(said))
            Console.Error.WriteLine("kiln: " + remark);
        if (!isQuiet)
            foreach (var line in files.Select(f => f.Path))
                Console.WriteLine(line);
        return new
        {
            name = look.Name,
            files = files.Select(f => f.Path),
            inputs = WireVerb.Inputs(compiled, apart),
            report = WireVerb.Report(compiled.Report),
            remarks,
            findings = Array.Empty<object>(),
        };
    }

    /// <summary>What an earlier run wrote keeps its names.</summary>
    public void Reserve(BatchResult before, string folder)
    {
        var paths = before.Result!.Value.EnumerateArray().SelectMany(l => l.GetProperty("files").EnumerateArray());
        foreach (var path in paths.Select(f => f.GetString()!).Where(p => File.Exists(Path.Combine(folder, p))))
            Names(folder).Reserve(path, CliSession.HashOf(Path.Combine(folder, path)));
    }

    private WrittenNames Names(string folder)
    {
        if (!written.TryGetValue(folder, out var taken))
            written[folder] = taken = new();
        return taken;
    }
}
