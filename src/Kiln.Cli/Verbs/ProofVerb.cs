using System.CommandLine;
using System.Diagnostics;
using Kiln.Cli.Verbs.Models;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Exchange.Documents;
using Kiln.Intake.Wiring;
using Kiln.Models;
using Kiln.Pixels.Decoding;
using Kiln.Proof.Geometry.Models;
using Kiln.Proof.Lights;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;
using Kiln.Proof.Writing;

namespace Kiln.Cli.Verbs;

internal sealed class ProofVerb
{
    private readonly Argument<string?> path = new("FILE|PATH")
    {
        Arity = ArgumentArity.ZeroOrOne,
        Description = "A network's document, or maps; may be left out with --model.",
    };
    private readonly Option<string> dialect = new("--dialect") { Required = true };
    private readonly Option<string> form = new("--form") { DefaultValueFactory = _ => "vessel" };
    private readonly Option<string> light = new("--light") { DefaultValueFactory = _ => "softbox" };
    private readonly Option<string> size = new("--size") { DefaultValueFactory = _ => "512x512" };
    private readonly Option<int> samples = new("--samples") { DefaultValueFactory = _ => 64 };
    private readonly Option<int> seed = new("--seed") { DefaultValueFactory = _ => 1 };
    private readonly Option<float> exposure = new("--exposure");
    private readonly Option<string> view = new("--view") { DefaultValueFactory = _ => "aces1-sdr" };
    private readonly Option<string> background = new("--background")
    {
        DefaultValueFactory = _ => "on",
        Description = "on, blurred or off (transparent).",
    };
    private readonly Option<string> output = new("--out") { Required = true };
    private readonly Option<string?> config = new("--config");
    private readonly Option<string?> layers = new("--layers")
    {
        Description = $"Parts beside the picture in an .exr, or 'all': {string.Join(", ", ProofLayers.Names)}.",
    };
    private readonly Option<bool> denoise = new("--denoise") { Description = "Takes noise out of a .png, for the eye only." };
    private readonly Option<float> lightRotation = new("--turn-light") { Description = "Degrees about the vertical." };
    private readonly Option<string?> camera = new("--camera") { Description = "YAW,PITCH,ZOOM in degrees; zoom 1 shows the whole form." };
    private readonly Option<int> frames = new("--frames")
    {
        DefaultValueFactory = _ => 1,
        Description = "More than 1: a turn around the form, as numbered files or one animated .webp.",
    };
    private readonly Option<string?> one = new("--material")
    {
        Description = "The material to show, by its name; else the first of the file.",
    };
    private readonly Option<string[]> roots = new("--texture-root")
    {
        Description = "A folder in which textures may lie beside the document's own; may be given several times.",
    };
    private readonly Option<string?> model = new("--model")
    {
        Description = $"A model in the form's place ({string.Join(", ", ModelFiles.Endings)}); without maps it has its own materials.",
    };
    private readonly Option<string[]> binds = new("--bind")
    {
        Description = "SET=PART: maps for a part of the model, before what names say; may be given several times.",
    };
    private readonly Option<bool> json = new("--json");

    public static Command Command() => new ProofVerb().Made();

    private Command Made()
    {
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
            model,
            binds,
            json,
        };
        command.SetAction((parsed, cancel) => CliSession.RunAsync(session => RunAsync(session, parsed, cancel)));
        return command;
    }

    private async Task<int> RunAsync(CliSession session, ParseResult parsed, CancellationToken cancel)
    {
        var target = parsed.GetValue(output)!;
        var count = parsed.GetValue(samples) is > 0 and <= 65536 and var n
            ? n
            : throw new ArgumentException("The number of samples is between 1 and 65536.");
        var frameCount = parsed.GetValue(frames) is > 0 and <= 720 and var f
            ? f
            : throw new ArgumentException("A turn has 1 to 720 frames.");
        var (width, height) = Size(parsed.GetValue(size)!);
        var files = new ProofFiles(target, frameCount, Layers(parsed.GetValue(layers)), parsed.GetValue(denoise));
        var behind = parsed.GetValue(background)!;
        if (behind is not ("on" or "blurred" or "off"))
            throw new ArgumentException($"The background is on, blurred or off, not '{behind}'.");
        var clock = Stopwatch.StartNew();
        var subject = await SubjectAsync(session, parsed, cancel);
        var shown = View.Named(parsed.GetValue(view)!, subject.Working.Space, ConfigNames.Open(parsed.GetValue(config)));
        var start = Camera(parsed.GetValue(camera), subject.Usual);
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
            var from = start with { YawDegrees = start.YawDegrees + 360f * frame / frameCount };
            var tracer = subject.Start(request with { Camera = from }, own);
            tracer.Accumulate(count, cancel);
            rays += tracer.Rays;
            files.Add(frame, tracer, subject.Working, shown, parsed.GetValue(exposure));
        }
        files.Finish();
        CliProgress.Clear();
        if (parsed.GetValue(json))
            CliSession.Say(
                new
                {
                    seconds = Math.Round(clock.Elapsed.TotalSeconds, 3),
                    samples = count,
                    rays,
                    @out = target,
                }
            );
        return 0;
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

    private static OrbitCamera Camera(string? text, OrbitCamera usual)
    {
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

    /// <summary>What is proved: a form or a model, with what lies on it.</summary>
    private sealed record Subject(WorkingSpace Working, OrbitCamera Usual, Func<ProofRequest, EnvironmentLight?, PathTracer> Start);

    private async Task<Subject> SubjectAsync(CliSession session, ParseResult parsed, CancellationToken cancel)
    {
        if (parsed.GetValue(model) is not { } file)
        {
            if (parsed.GetValue(path) is null)
                throw new ArgumentException("Say what to prove: a network's document, maps, or a --model.");
            if (parsed.GetValue(binds) is { Length: > 0 })
                throw new ArgumentException("--bind names parts of a --model, which was not given.");
            var material = await MaterialAsync(session, parsed, cancel);
            return new(material.Working, OrbitCamera.For(parsed.GetValue(form)!), (request, own) => request.Start(material, own));
        }
        if (parsed.GetResult(form) is { Implicit: false })
            throw new ArgumentException("--model stands in the form's place; leave --form out.");
        var dressed = await DressedModel.OfAsync(
            session,
            file,
            parsed.GetValue(path),
            parsed.GetValue(binds) ?? [],
            CliSession.Profiles(null).Find(parsed.GetValue(dialect)!),
            ConfigNames.Open(parsed.GetValue(config)),
            cancel
        );
        return new(dressed.Grey.Working, StandingModel.Whole, (request, own) =>
            request.Start(dressed.Standing, dressed.Looks, dressed.Grey, own)
        );
    }

    private async Task<ProofMaterial> MaterialAsync(CliSession session, ParseResult parsed, CancellationToken cancel)
    {
        var path = parsed.GetValue(this.path)!;
        var names = ConfigNames.Open(parsed.GetValue(config));
        var profile = CliSession.Profiles(null).Find(parsed.GetValue(dialect)!);
        // A name that the config does not have may still be one of ours.
        SpaceId Ours(string name) => names?.OursFor(name) ?? name;
        if (NetworkDocuments.IsNetwork(path))
        {
            var networks = new NetworkFiles(session, parsed.GetValue(roots) ?? []).Read(path, profile, parsed.GetValue(one));
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
