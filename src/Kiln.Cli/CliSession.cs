using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Analysis.Findings;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.MaterialX;
using Kiln.Exchange.Packages;
using Kiln.Faults;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Looks.Evaluation;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Proof.Geometry;

namespace Kiln.Cli;

/// <summary>What the verbs work with: decoding processes, a staging folder that is gone afterwards, contents by hash.</summary>
internal sealed class CliSession : IContentFiles, IBakedFiles, IAsyncDisposable
{
    private readonly Dictionary<ContentHash, string> contents = [];
    private readonly Lock gate = new();

    public CliSession()
    {
        Staging = Directory.CreateTempSubdirectory("kiln-").FullName;
        Decoder = DecodeWorkerPool.OfThisProgram(assembly: Program);
        Textures = new(Decoder, this);
        Measuring = new(Decoder, this);
        Writer = new(TileCarrier(), this, Decoder);
    }

    /// <summary>What child processes are started from.</summary>
    public static string Program => typeof(CliSession).Assembly.Location;

    public string Staging { get; }

    public DecodeWorkerPool Decoder { get; }

    public MapTextures Textures { get; }

    public MapMeasuring Measuring { get; }

    public LookWriter Writer { get; }

    public static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>The answer of a verb as JSON.</summary>
    public static void Say(object answer) => Console.WriteLine(JsonSerializer.Serialize(answer, Json));

    public async Task<(IntakeResult Result, DeliveryListing Listing)> IntakeAsync(
        IReadOnlyList<string> paths,
        CancellationToken cancel,
        IReadOnlyList<NamingRule>? rules = null,
        ConfigNames? config = null
    )
    {
        var listing = DeliveryListing.Read(paths, Path.Combine(Staging, "unpacked"), cancel: cancel);
        foreach (var file in listing.Files)
            contents[file.Content] = file.LocalPath;
        var name = Path.GetFileNameWithoutExtension(Path.TrimEndingDirectorySeparator(Path.GetFullPath(paths[0])));
        var result = await new IntakeAnalysis(Decoder, NamingTables.With(rules ?? []), config: config ?? ConfigNames.Open(null)).RunAsync(
            listing,
            name,
            new IntakeSteps(),
            cancel
        );
        CliProgress.Clear();
        return (result, listing);
    }

    /// <summary>Told at once and in order, which the framework's own does not promise.</summary>
    private sealed class IntakeSteps : IProgress<IntakeProgress>
    {
        public void Report(IntakeProgress value) => CliProgress.Say($"{value.Stage}: {value.Done} of {value.Total}");
    }

    public static DialectProfiles Profiles(string? extra) => DialectProfiles.Load(DialectProfiles.ShippedFolder(), extra);

    public DialectCompiler Compiler(
        DialectProfile profile,
        WorkingSpace? working = null,
        ConfigNames? names = null,
        bool convertTextures = false
    ) =>
        new(
            profile,
            new Bakery(Textures, this),
            new CompileOptions((working ?? WorkingSpace.AcesCg).Id, names is null ? null : names.NameOf, convertTextures)
        );

    public static CarrierForm TileCarrier()
    {
        var tile = Forms.Tile();
        return new("tile", tile.Positions, tile.Normals, tile.Tangents, tile.Uvs, tile.Indices);
    }

    public string PathOf(ContentHash content)
    {
        lock (gate)
            return contents.TryGetValue(content, out var path) ? path : throw new ContentMissingException("The content is gone.");
    }

    public bool Has(ContentHash content)
    {
        lock (gate)
            return contents.TryGetValue(content, out var path) && File.Exists(path);
    }

    public ContentHash Put(byte[] content)
    {
        var hash = ContentHash.Of(content);
        lock (gate)
        {
            if (!contents.ContainsKey(hash))
            {
                var path = Path.Combine(Staging, "baked_" + hash);
                File.WriteAllBytes(path, content);
                contents[hash] = path;
            }
        }
        return hash;
    }

    /// <summary>SHA-256 of a file.</summary>
    public static ContentHash HashOf(string path)
    {
        using var stream = File.OpenRead(path);
        return ContentHash.Of(stream);
    }

    public void Add(ContentHash content, string path)
    {
        lock (gate)
            contents[content] = path;
    }

    public async ValueTask DisposeAsync()
    {
        await Decoder.DisposeAsync();
        Directory.Delete(Staging, recursive: true);
    }

    /// <summary>Whether an exception says in a sentence what a person can mend.</summary>
    public static bool IsSentence(Exception e) =>
        e is KilnException or ArgumentException or FormatException or IOException or UnauthorizedAccessException or Npgsql.NpgsqlException;

    /// <summary>Runs a verb; what a person can mend becomes one line on standard error and exit status 2.</summary>
    public static async Task<int> RunAsync(Func<CliSession, Task<int>> verb)
    {
        await using var session = new CliSession();
        try
        {
            return await verb(session);
        }
        catch (Exception e) when (IsSentence(e))
        {
            CliProgress.Clear();
            Console.Error.WriteLine("kiln: " + e.Message.ReplaceLineEndings(" "));
            return 2;
        }
    }
}
