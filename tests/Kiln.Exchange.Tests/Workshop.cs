using System.Diagnostics;
using System.Security.Cryptography;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Documents;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Maps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;
using Kiln.Proof.Geometry;

namespace Kiln.Exchange.Tests;

/// <summary>A folder with contents by hash, decoding in this process, and the shipped profiles.</summary>
public sealed class Workshop : IContentFiles, IBakedFiles, IPictureDecoder, IDisposable
{
    public static readonly string[] Dialects =
    [
        "openpbr",
        "standard_surface",
        "gltf",
        "usd_preview",
        "bisque",
        "celadon",
        "tenmoku",
        "saggar",
    ];

    /// <summary>The known surface as it came through the intake, and as it is evaluated under a placement: made once.</summary>
    public Look? Delivered { get; set; }

    public Dictionary<Placement, Look> References { get; } = [];

    public Workshop() => Textures = new(this, this);

    public string Folder { get; } = Directory.CreateTempSubdirectory("kiln-exchange-").FullName;

    public MapTextures Textures { get; }

    public LookWriter Writer => new(Tile(), this, this);

    public DialectProfiles Profiles { get; } = DialectProfiles.Load(DialectProfiles.ShippedFolder());

    public string PathOf(ContentHash content) =>
        Path.Combine(Folder, content.ToString()) is var path && File.Exists(path) ? path : throw new FileNotFoundException("gone");

    public ContentHash Put(byte[] content)
    {
        var hash = ContentHash.Of(content);
        lock (this)
            File.WriteAllBytes(Path.Combine(Folder, hash.ToString()), content);
        return hash;
    }

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        Task.FromResult(DecodeWorker.InProcess(path, longest, DecodeLimits.Default));

    public MapFile Store(string name, ImageBuffer picture)
    {
        var bytes = PictureWriter.Png(picture);
        using var stream = new MemoryStream(bytes);
        return MapFile.Of(Put(bytes), name, HeaderReader.Read(stream, DecodeLimits.Default));
    }

    /// <summary>Writes a network's files into a folder of the workshop; gives its documents, without definitions.</summary>
    public IReadOnlyList<string> Write(Network network, string folder)
    {
        var into = Directory.CreateDirectory(Path.Combine(Folder, "written", folder)).FullName;
        foreach (var file in Writer.Files(network, Profiles.Find(network.Dialect)))
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.Combine(into, file.Path))!);
            using var to = File.Create(Path.Combine(into, file.Path));
            file.CopyTo(to, this);
        }
        return [.. Directory.GetFiles(into).Where(NetworkDocuments.IsNetwork).Order()];
    }

    /// <summary>A written document as it comes in, its files from beside it.</summary>
    public Network Read(string document, string dialect) => ReadAll(document, dialect)[0];

    /// <summary>All materials of a written document.</summary>
    public IReadOnlyList<Network> ReadAll(string document, string dialect)
    {
        return NetworkDocuments.Read(document, Profiles.Find(dialect), Texture, Put, _ => null);

        MapFile? Texture(string path)
        {
            var full = Path.Combine(Path.GetDirectoryName(document)!, path);
            if (!File.Exists(full))
                return null;
            var bytes = File.ReadAllBytes(full);
            using var stream = new MemoryStream(bytes);
            return MapFile.Of(Put(bytes), Path.GetFileName(path), HeaderReader.Read(stream, DecodeLimits.Default));
        }
    }

    public Task<CompiledLook> CompileAsync(Look look, string dialect) =>
        new DialectCompiler(Profiles.Find(dialect), new Bakery(Textures, this)).CompileAsync(look);

    public static CarrierForm Tile()
    {
        var t = Forms.Tile();
        return new("tile", t.Positions, t.Normals, t.Tangents, t.Uvs, t.Indices);
    }

    /// <summary>Runs a program and gives its standard output; fails the test with its errors otherwise.</summary>
    public static string Run(string program, params string[] arguments) => RunWith(program, [], arguments);

    /// <summary>The same with lines on its standard input.</summary>
    public static string RunWith(string program, IEnumerable<string> input, params string[] arguments)
    {
        var start = new ProcessStartInfo(program, arguments)
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using var process = Process.Start(start)!;
        foreach (var line in input)
            process.StandardInput.WriteLine(line);
        process.StandardInput.Close();
        var errors = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, errors.Result + output);
        return output;
    }

    /// <summary>What the outside reader says of MaterialX documents, a line for each that is valid; fails otherwise.</summary>
    /// <param name="asked">Documents, and what is asked for besides.</param>
    public static string[] JudgedByMaterialX(params IEnumerable<string> asked) =>
        Run("node", [Path.Combine(Outside(), "validate-mtlx.mjs"), .. asked]).Split('\n', StringSplitOptions.RemoveEmptyEntries);

    /// <summary>Fails the test where the outside reader does not find the MaterialX document valid.</summary>
    public static void AssertValidMaterialX(params IEnumerable<string> asked) =>
        Assert.All(JudgedByMaterialX(asked), l => Assert.StartsWith("valid: ", l));

    /// <summary>The folder tests/outside with the Node packages of the outside checks.</summary>
    public static string Outside() => Repository.Path("tests", "outside");

    public void Dispose() => Directory.Delete(Folder, recursive: true);
}
