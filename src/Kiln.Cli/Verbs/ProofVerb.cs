using System.CommandLine;
using System.Diagnostics;
using System.Text.Json;
using Kiln.Colour;
using Kiln.Colour.Configs;
using Kiln.Colour.Views;
using Kiln.Exchange;
using Kiln.Exchange.Documents;
using Kiln.Exchange.MaterialX;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Writing;
using Kiln.Proof.Lights;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;
using Kiln.Proof.Writing;

namespace Kiln.Cli.Verbs;

internal static class ProofVerb
{
    public static Command Command()
    {
        var path = new Argument<string>("FILE|PATH");
        var dialect = new Option<string>("--dialect") { Required = true };
        var form = new Option<string>("--form") { DefaultValueFactory = _ => "vessel" };
        var light = new Option<string>("--light") { DefaultValueFactory = _ => "softbox" };
        var size = new Option<string>("--size") { DefaultValueFactory = _ => "512x512" };
        var samples = new Option<int>("--samples") { DefaultValueFactory = _ => 64 };
        var seed = new Option<int>("--seed") { DefaultValueFactory = _ => 1 };
        var exposure = new Option<float>("--exposure");
        var view = new Option<string>("--view") { DefaultValueFactory = _ => "aces1-sdr" };
        var background = new Option<string>("--background")
        {
            DefaultValueFactory = _ => "on",
            Description = "on, blurred or off (transparent).",
        };
        var output = new Option<string>("--out") { Required = true };
        var config = new Option<string?>("--config");
        var layers = new Option<string?>("--layers")
        {
            Description = $"Parts beside the picture in an .exr, or 'all': {string.Join(", ", ProofLayers.Names)}.",
        };
        var denoise = new Option<bool>("--denoise") { Description = "Takes noise out of a .png, for the eye only." };
        var lightRotation = new Option<float>("--turn-light") { Description = "Degrees about the vertical." };
        var camera = new Option<string?>("--camera") { Description = "YAW,PITCH,ZOOM in degrees; zoom 1 shows the whole form." };
        var frames = new Option<int>("--frames")
        {
            DefaultValueFactory = _ => 1,
            Description = "More than 1: a turn around the form, as numbered files or one animated .webp.",
        };
        var one = new Option<string?>("--material") { Description = "The material to show, by its name; else the first of the file." };
        var roots = new Option<string[]>("--texture-root")
        {
            Description = "A folder in which textures may lie beside the document's own; may be given several times.",
        };
        var json = new Option<bool>("--json");
        var command = new Command("proof", "Renders a network, or maps wired for a dialect, on a form under a light.")
        {
            path,
            dialect,
            form,
            light,
            size,
            samples,
            seed,
            exposure,
            view,
            background,
            output,
            config,
            layers,
            denoise,
            lightRotation,
            camera,
            frames,
            one,
            roots,
            json,
        };
        command.SetAction(
            (parsed, cancel) =>
                CliSession.RunAsync(async session =>
                {
                    var target = parsed.GetValue(output)!;
                    var (width, height) = Size(parsed.GetValue(size)!);
                    var count = parsed.GetValue(samples) is > 0 and <= 65536 and var n
                        ? n
                        : throw new ArgumentException("The number of samples is between 1 and 65536.");
                    var parts = Layers(parsed.GetValue(layers));
                    var frameCount = parsed.GetValue(frames) is > 0 and <= 720 and var f
                        ? f
                        : throw new ArgumentException("A turn has 1 to 720 frames.");
                    var files = new ProofFiles(target, frameCount, parts, parsed.GetValue(denoise));
                    var behind = parsed.GetValue(background)!;
                    if (behind is not ("on" or "blurred" or "off"))
                        throw new ArgumentException($"The background is on, blurred or off, not '{behind}'.");
                    var clock = Stopwatch.StartNew();
                    var material = await MaterialAsync(
                        session,
                        parsed.GetValue(path)!,
                        parsed.GetValue(dialect)!,
                        ConfigNames.Open(parsed.GetValue(config)),
                        parsed.GetValue(one),
                        parsed.GetValue(roots) ?? [],
                        cancel
                    );
                    var shown = View.Named(parsed.GetValue(view)!, material.Working.Space, ConfigNames.Open(parsed.GetValue(config)));
                    var start = Camera(parsed.GetValue(camera), parsed.GetValue(form)!);
                    var request = new ProofRequest(
                        parsed.GetValue(form)!,
                        parsed.GetValue(light)!,
                        width,
                        height,
                        start,
                        parsed.GetValue(lightRotation),
                        (uint)parsed.GetValue(seed),
                        behind != "off",
                        files.NeedsLayers,
                        behind == "blurred"
                    );
                    var own = await OwnLightAsync(session, request.Light);
                    long rays = 0;
                    for (var frame = 0; frame < frameCount; frame++)
                    {
                        CliProgress.Say($"proof {frame + 1} of {frameCount}");
                        var tracer = (
                            request with
                            {
                                Camera = start with { YawDegrees = start.YawDegrees + 360f * frame / frameCount },
                            }
                        ).Start(material, own);
                        tracer.Accumulate(count, cancel);
                        rays += tracer.Rays;
                        files.Add(frame, tracer, material.Working, shown, parsed.GetValue(exposure));
                    }
                    files.Finish();
                    CliProgress.Clear();
                    if (parsed.GetValue(json))
                        Console.WriteLine(
                            JsonSerializer.Serialize(
                                new
                                {
                                    seconds = Math.Round(clock.Elapsed.TotalSeconds, 3),
                                    samples = count,
                                    rays,
                                    @out = target,
                                },
                                CliSession.Json
                            )
                        );
                    return 0;
                })
        );
        return command;
    }

    private static string[] Layers(string? text) =>
        text switch
        {
            null => [],
            "all" => [.. ProofLayers.Names],
            _ =>
            [
                .. text.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                    .Select(name =>
                        ProofLayers.Names.Contains(name)
                            ? name
                            : throw new ArgumentException(
                                $"A proof has no layer '{name}'. Known: {string.Join(", ", ProofLayers.Names)}, or all."
                            )
                    ),
            ],
        };

    private static OrbitCamera Camera(string? text, string form)
    {
        var usual = OrbitCamera.For(form);
        if (text is null)
            return usual;
        var numbers = text.Split(',')
            .Select(t =>
                float.TryParse(t, System.Globalization.CultureInfo.InvariantCulture, out var v) && float.IsFinite(v)
                    ? v
                    : throw new ArgumentException($"A camera is written YAW,PITCH,ZOOM, such as 30,15,1, not '{text}'.")
            )
            .ToList();
        return numbers.Count == 3
            ? new(numbers[0], numbers[1], usual.Zoom * numbers[2])
            : throw new ArgumentException($"A camera is written YAW,PITCH,ZOOM, such as 30,15,1, not '{text}'.");
    }

    private static async Task<ProofMaterial> MaterialAsync(
        CliSession session,
        string path,
        string dialect,
        ConfigNames? names,
        string? material,
        IReadOnlyList<string> roots,
        CancellationToken cancel
    )
    {
        var profile = CliSession.Profiles(null).Find(dialect);
        // A name that the config does not have may still be one of ours.
        string Ours(string name) => names?.OursFor(name) ?? name;
        if (NetworkDocuments.IsNetwork(path))
        {
            var networks = new NetworkFiles(session, roots).Read(path, profile, material);
            if (networks.Count > 1)
                Console.Error.WriteLine(
                    $"kiln: {networks.Count} materials found; the proof shows '{networks[0].Material}'. --material picks another."
                );
            return await ProofMaterial.OfNetworkAsync(networks[0], profile, session.Textures, spaceOf: Ours, cancel: cancel);
        }
        var (intake, _) = await session.IntakeAsync([path], cancel, config: names);
        if (intake.Sets.IsEmpty)
            throw new ArgumentException($"No surface was found in '{path}'.");
        if (intake.Sets.Length > 1)
            Console.Error.WriteLine($"kiln: {intake.Sets.Length} surfaces found; the proof shows '{intake.Sets[0].Name}'.");
        var compiled = await session.Compiler(profile, names: names).CompileAsync(SetWiring.Wire(intake.Sets[0]), cancel);
        return await ProofMaterial.OfNetworkAsync(compiled.Network, profile, session.Textures, spaceOf: Ours, cancel: cancel);
    }

    private static async Task<EnvironmentLight?> OwnLightAsync(CliSession session, string light)
    {
        if (LightRoom.Ids.Contains(light))
            return null;
        if (!File.Exists(light))
            throw new ArgumentException(
                $"There is no light '{light}'. Known: {string.Join(", ", LightRoom.Ids)}, or the path of an .hdr or .exr picture."
            );
        var (own, bad) = EnvironmentLight.OfPerson(await session.Decoder.DecodeAsync(light, LightRoom.Finest));
        if (bad > 0)
            Console.Error.WriteLine($"kiln: {bad} numbers of '{Path.GetFileName(light)}' are no light and count as black.");
        return own;
    }

    private static (int, int) Size(string text)
    {
        var parts = text.Split('x');
        return parts.Length == 2 && int.TryParse(parts[0], out var w) && int.TryParse(parts[1], out var h)
            ? (w, h)
            : throw new ArgumentException($"A size is written WxH, such as 512x512, not '{text}'.");
    }
}
