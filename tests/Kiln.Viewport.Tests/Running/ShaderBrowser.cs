using System.Numerics;
using System.Runtime.InteropServices;
using System.Text.Json;
using Kiln.Looks.Evaluation;
using Kiln.Viewport.Graphs;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace Kiln.Viewport.Tests.Running;

/// <summary>Headless Chromium on software GL, in which the shaders run that the core writes: one for all tests of this project.</summary>
public sealed class ShaderBrowser : IDisposable
{
    private readonly ChromeDriverService service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
    private readonly string profile = Directory.CreateTempSubdirectory("kiln-shaders-").FullName;
    private readonly ChromeDriver driver;
    private static readonly string Script = Text("run-shader.js"),
        Linking = Text("link-program.js");

    public ShaderBrowser()
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new",
            "--no-sandbox",
            "--use-angle=swiftshader",
            "--enable-unsafe-swiftshader",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            $"--user-data-dir={profile}"
        );
        service.SuppressInitialDiagnosticInformation = true;
        driver = new(service, options, TimeSpan.FromMinutes(5));
        driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromMinutes(5);
    }

    private static string Text(string resource)
    {
        using var stream = typeof(ShaderBrowser).Assembly.GetManifestResourceStream(resource)!;
        return new StreamReader(stream).ReadToEnd();
    }

    /// <summary>What the graphics processor says against a program; empty where it takes it.</summary>
    public string Link(string vertex, string fragment)
    {
        var said = (IReadOnlyList<object>)driver.ExecuteScript(Linking, vertex, fragment)!;
        return (string)said[0] is { Length: > 0 } fault ? fault
            : (long)said[1] > 0 ? ""
            : "It has no uniforms at all.";
    }

    /// <summary>A grid of points that a shader reads, four numbers each.</summary>
    public sealed record Points(string Name, Vector4[] Values);

    /// <summary>An array of maps with the pictures of its layers.</summary>
    public sealed record MapPictures(MapArray Array, IReadOnlyList<MapTexture> Pictures);

    /// <summary>Square tables of single numbers, a layer each.</summary>
    public sealed record Layers(string Name, int Side, float[] Values);

    /// <summary>
    /// Runs a fragment shader once for every point and root; the shader writes <c>written</c> and reads point i as
    /// <c>texelFetch(name, ivec2(gl_FragCoord.xy), 0)</c>.
    /// </summary>
    /// <param name="fragment">With its version line.</param>
    /// <returns>For each root, what it wrote at every point.</returns>
    public Vector4[][] Run(
        string fragment,
        int roots,
        IReadOnlyList<Points> inputs,
        IReadOnlyDictionary<string, IReadOnlyList<Vector4>> numbers,
        IEnumerable<MapPictures> arrays,
        IReadOnlyDictionary<string, float[]>? matrices = null,
        params IEnumerable<Layers> tables
    )
    {
        var count = inputs[0].Values.Length;
        var (width, height) = (Math.Min(count, 256), (count + 255) / 256);
        var rows = numbers.ToDictionary(n => n.Key, n => MemoryMarshal.Cast<Vector4, float>(n.Value.ToArray()).ToArray());
        var spec = new
        {
            fragment,
            roots,
            width,
            height,
            inputs = inputs.Select(i => new
            {
                name = i.Name,
                width,
                height,
                data = Data(Padded(i.Values, width * height)),
            }),
            numbers = rows,
            matrices,
            arrays = arrays.Select(Described).Concat(tables.Select(Described)),
        };
        var written = (IReadOnlyCollection<object>)driver.ExecuteScript(Script, JsonSerializer.Serialize(spec))!;
        return [.. written.Select(w => MemoryMarshal.Cast<byte, Vector4>(Convert.FromBase64String((string)w))[..count].ToArray())];
    }

    private static object Described(MapPictures maps) =>
        new
        {
            name = ShaderMaps.Name(maps.Array.Number),
            width = maps.Array.Width,
            height = maps.Array.Height,
            components = maps.Array.Components,
            repeats = maps.Array.Repeats,
            levels = maps.Pictures[0].Levels,
            layers = maps.Pictures.Select(t => Enumerable.Range(0, t.Levels).Select(l => Level(t, l))),
        };

    private static object Described(Layers tables) =>
        new
        {
            name = tables.Name,
            width = tables.Side,
            height = tables.Side,
            components = 1,
            repeats = false,
            levels = 1,
            layers = tables
                .Values.Chunk(tables.Side * tables.Side)
                .Select(t => new object[][] { [tables.Side, tables.Side, Convert.ToBase64String(MemoryMarshal.AsBytes(t.AsSpan()))] }),
        };

    private static object[] Level(MapTexture texture, int level)
    {
        var (width, height) = texture.Size(level);
        var texels = new float[width * height * texture.Components];
        for (var y = 0; y < height; y++)
            texture.Read(level, y, 0, texels.AsSpan(y * width * texture.Components, width * texture.Components));
        return [width, height, Convert.ToBase64String(MemoryMarshal.AsBytes(texels.AsSpan()))];
    }

    private static Vector4[] Padded(Vector4[] values, int count) => [.. values, .. new Vector4[count - values.Length]];

    private static string Data(Vector4[] values) => Convert.ToBase64String(MemoryMarshal.AsBytes(values.AsSpan()));

    public void Dispose()
    {
        driver.Quit();
        service.Dispose();
        Directory.Delete(profile, recursive: true);
    }
}

[CollectionDefinition(Name)]
public sealed class Shaders : ICollectionFixture<ShaderBrowser>
{
    public const string Name = "shaders";
}
