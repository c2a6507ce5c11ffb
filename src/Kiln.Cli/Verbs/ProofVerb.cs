using System.CommandLine;
using System.Diagnostics;
using System.Text.Json;
using Kiln.Colour;
using Kiln.Colour.Configs;
using Kiln.Colour.Views;
using Kiln.Exchange.MaterialX;
using Kiln.Looks.Document;
using Kiln.Looks.Wiring;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Writing;
using Kiln.Proof.Lights;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

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
        var background = new Option<string>("--background") { DefaultValueFactory = _ => "on" };
        var output = new Option<string>("--out") { Required = true };
        var config = new Option<string?>("--config");
        var json = new Option<bool>("--json");
        var command = new Command("proof", "Renders a network, or maps wired for a dialect, on a form under a light.")
        {
            path, dialect, form, light, size, samples, seed, exposure, view, background, output, config, json,
        };
        command.SetAction((parsed, cancel) => CliSession.RunAsync(async session =>
        {
            var target = parsed.GetValue(output)!;
            if (Path.GetExtension(target) is not (".png" or ".exr"))
                throw new ArgumentException($"A proof is written as .png or .exr, not '{Path.GetFileName(target)}'.");
            var (width, height) = Size(parsed.GetValue(size)!);
            var count = parsed.GetValue(samples) is > 0 and <= 65536 and var n ? n : throw new ArgumentException("The number of samples is between 1 and 65536.");
            var clock = Stopwatch.StartNew();
            var material = await MaterialAsync(session, parsed.GetValue(path)!, parsed.GetValue(dialect)!, ConfigNames.Open(parsed.GetValue(config)), cancel);
            var shown = View.Named(parsed.GetValue(view)!, material.Working.Space, ConfigNames.Open(parsed.GetValue(config)));
            var request = new ProofRequest(parsed.GetValue(form)!, parsed.GetValue(light)!, width, height, Seed: (uint)parsed.GetValue(seed), Background: parsed.GetValue(background) != "off");
            var tracer = request.Start(material, await OwnLightAsync(session, request.Light));
            tracer.Accumulate(count, cancel);
            var picture = tracer.Picture();
            if (Path.GetExtension(target) == ".exr")
            {
                using var stream = File.Create(target);
                ColourTransform.Between(material.Working.Space, ColourSpace.AcesCg).Apply(picture.Samples<float>(), picture.ChannelCount);
                ExrWriter.Write(stream, picture, Primaries.Ap1.Chromaticities);
            }
            else
            {
                await File.WriteAllBytesAsync(target, PictureWriter.Png(shown.Apply(picture, parsed.GetValue(exposure))), cancel);
            }
            if (parsed.GetValue(json))
                Console.WriteLine(JsonSerializer.Serialize(new { seconds = Math.Round(clock.Elapsed.TotalSeconds, 3), samples = tracer.Samples, rays = tracer.Rays, @out = target }, CliSession.Json));
            return 0;
        }));
        return command;
    }

    private static async Task<ProofMaterial> MaterialAsync(CliSession session, string path, string dialect, ConfigNames? names, CancellationToken cancel)
    {
        var profile = CliSession.Profiles(null).Find(dialect);
        // A name that the config does not have may still be one of ours.
        string Ours(string name) => names?.OursFor(name) ?? name;
        if (Path.GetExtension(path) is ".glb" or ".gltf" or ".usda" or ".usd")
            throw new LaterException("reading glTF and USD networks comes in a later version; MaterialX documents and maps are read.");
        if (Path.GetExtension(path) == ".mtlx")
        {
            using var document = File.OpenRead(path);
            var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
            var network = MaterialXReader.Read(document, dialect, p => Texture(session, folder, p));
            return await ProofMaterial.OfNetworkAsync(network, profile, session.Textures, spaceOf: Ours, cancel: cancel);
        }
        var (intake, _) = await session.IntakeAsync([path], cancel, config: names);
        if (intake.Sets.IsEmpty)
            throw new ArgumentException($"No surface was found in '{path}'.");
        if (intake.Sets.Length > 1)
            Console.Error.WriteLine($"kiln: {intake.Sets.Length} surfaces found; the proof shows '{intake.Sets[0].Name}'.");
        var compiled = await session.Compiler(profile, names: names).CompileAsync(SetWiring.Wire(intake.Sets[0]), cancel);
        return await ProofMaterial.OfNetworkAsync(compiled.Network, profile, session.Textures, spaceOf: Ours, cancel: cancel);
    }

    private static MapFile? Texture(CliSession session, string folder, string path)
    {
        var full = Path.GetFullPath(Path.Combine(folder, path));
        if (!full.StartsWith(folder + Path.DirectorySeparatorChar, StringComparison.Ordinal))
            throw new ExchangeException($"The texture path '{path}' leads out of the document's folder.");
        if (!File.Exists(full))
            throw new ExchangeException($"The texture '{path}' is not there.");
        using var stream = File.OpenRead(full);
        var facts = HeaderReader.Read(stream, DecodeLimits.Default);
        stream.Position = 0;
        var content = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(stream));
        session.Add(content, full);
        return MapFile.Of(content, Path.GetFileName(full), facts);
    }

    private static async Task<EnvironmentLight?> OwnLightAsync(CliSession session, string light)
    {
        if (LightRoom.Ids.Contains(light))
            return null;
        if (!File.Exists(light))
            throw new ArgumentException($"There is no light '{light}'. Known: {string.Join(", ", LightRoom.Ids)}, or the path of an .hdr or .exr picture.");
        var picture = (await session.Decoder.DecodeAsync(light)).As(SampleType.F32);
        ColourTransform.Between(ColourSpace.LinRec709, ColourSpace.AcesCg).Apply(picture.Samples<float>(), picture.ChannelCount);
        return EnvironmentLight.Of(picture);
    }

    private static (int, int) Size(string text)
    {
        var parts = text.Split('x');
        return parts.Length == 2 && int.TryParse(parts[0], out var w) && int.TryParse(parts[1], out var h) ? (w, h) : throw new ArgumentException($"A size is written WxH, such as 512x512, not '{text}'.");
    }
}
