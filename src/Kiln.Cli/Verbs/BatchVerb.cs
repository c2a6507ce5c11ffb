using System.CommandLine;
using System.Text.Json;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Proof.Rendering;
using Kiln.Store;
using Kiln.Store.Collections;
using Kiln.Store.Contents;
using Kiln.Store.Looks;

namespace Kiln.Cli.Verbs;

/// <summary>
/// A collection of a server as packages of one dialect, written without the server: errors are kept by look, and the others are written all
/// the same.
/// </summary>
internal static class BatchVerb
{
    public static Command Command()
    {
        var database = new Option<string>("--database") { Required = true };
        var data = new Option<string>("--data") { Required = true };
        var collection = new Option<string>("--collection") { Required = true };
        var dialect = new Option<string>("--dialect") { Required = true };
        var output = new Option<string>("--out") { Required = true };
        var profile = new Option<string?>("--profile");
        var config = new Option<string?>("--config");
        var drafts = new Option<bool>("--drafts")
        {
            Description =
                "writes looks as they are now; without it, the newest published version of each, and looks without one are left out",
        };
        var json = new Option<bool>("--json");
        var command = new Command("batch", "Writes a collection of a server's database as packages of a dialect.")
        {
            database,
            data,
            collection,
            dialect,
            output,
            profile,
            config,
            drafts,
            json,
        };
        command.SetAction(
            (parsed, cancel) =>
                CliSession.RunAsync(async session =>
                {
                    var names = ConfigNames.Open(parsed.GetValue(config));
                    var profiles = CliSession.Profiles(parsed.GetValue(profile));
                    var target = profiles.Find(parsed.GetValue(dialect)!);
                    await using var opened = new Database(parsed.GetValue(database)!);
                    var store = new ContentStore(Path.Combine(parsed.GetValue(data)!, "contents"));
                    var textures = new MapTextures(session.Decoder, store);
                    var writer = new LookWriter(CliSession.TileCarrier(), store, session.Decoder);
                    var wanted = (await new CollectionRepository(opened).ListAsync()).FirstOrDefault(c =>
                        c.Name == parsed.GetValue(collection)
                    ) ?? throw new ArgumentException($"There is no collection '{parsed.GetValue(collection)}' in that database.");
                    Directory.CreateDirectory(parsed.GetValue(output)!);
                    var results = new List<object>();
                    var failed = 0;
                    // Two looks may be called alike; neither takes the other's place.
                    var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
                    foreach (var row in await new LookListRepository(opened).DocumentsAsync(wanted.Id))
                    {
                        try
                        {
                            var versions = new VersionRepository(opened);
                            int? number = parsed.GetValue(drafts)
                                ? null
                                : await versions.PublishedAsync(row.Id)
                                    ?? throw new LookException("no version of it is published; --drafts writes it as it is");
                            var version = number is { } n ? await versions.FindAsync(row.Id, n) : null;
                            var around = await new LookContextRepository(opened).OfLookAsync(row.Id);
                            var look = version?.Rendered ?? row.Look().Under(around.Trims);
                            var working = version is null ? around.Space.Id : version.Context.WorkingSpace;
                            // A version is written by the profiles and names of its time.
                            DialectProfile Profile(string id) =>
                                version is not null && version.Context.Profiles.TryGetValue(id, out var text)
                                    ? DialectProfile.Read(text, id)
                                    : profiles.Find(id);
                            Func<string, string>? nameOf =
                                version is not null ? space => version.Context.SpaceNames.GetValueOrDefault(space, space)
                                : names is null ? null
                                : names.NameOf;
                            Task<CompiledLook> As(string id, Look of) =>
                                new DialectCompiler(
                                    Profile(id),
                                    new Bakery(textures, store),
                                    new CompileOptions(working, nameOf)
                                ).CompileAsync(of, cancel);
                            var all = await CompiledVariant.AllAsync(
                                look,
                                l => As(target.Id, l),
                                target.Beside is { } beside ? l => As(beside, l) : null
                            );
                            var compiled = all[0].Compiled;
                            var stem = FreeNames.Of(compiled.Network.Material, n => taken.Contains(n.Replace(' ', '_'))).Replace(' ', '_');
                            taken.Add(stem);
                            var path = Path.Combine(parsed.GetValue(output)!, $"{stem}_{target.Id}.zip");
                            var preview = await PreviewPicture.RenderAsync(
                                compiled.Network,
                                target,
                                textures,
                                name => names?.OursFor(name) ?? name,
                                cancel: cancel
                            );
                            await using (var file = File.Create(path))
                                PackageWriter.Write(file, look, all, writer.PackageFiles(all, target), store, preview);
                            results.Add(
                                new
                                {
                                    name = row.Name,
                                    version = number,
                                    file = Path.GetFileName(path),
                                    report = WireVerb.Report(compiled.Report),
                                }
                            );
                            if (!parsed.GetValue(json))
                                Console.WriteLine($"{row.Name} ({(number is { } v ? $"version {v}" : "draft")}): {Path.GetFileName(path)}");
                        }
                        catch (Exception e) when (CliSession.IsSentence(e))
                        {
                            failed++;
                            results.Add(new { name = row.Name, error = e.Message });
                            Console.Error.WriteLine($"{row.Name}: {e.Message}");
                        }
                    }
                    if (parsed.GetValue(json))
                        Console.WriteLine(JsonSerializer.Serialize(new { looks = results }, CliSession.Json));
                    return failed > 0 ? 1 : 0;
                })
        );
        return command;
    }
}
