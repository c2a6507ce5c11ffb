using System.CommandLine;
using System.Diagnostics;
using System.Numerics;
using System.Text.Json;
using Kiln.Colour;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Writing;

namespace Kiln.Cli.Verbs;

internal static class ColourVerb
{
    private sealed record Options(string From, string? To, string? Display, string? View);

    public static Command Command()
    {
        var from = new Option<string>("--from") { Required = true, Description = "space of the numbers that come in" };
        var to = new Option<string?>("--to") { Description = "space of the numbers that come out" };
        var display = new Option<string?>("--display") { Description = "display to show them on, instead of --to" };
        var view = new Option<string?>("--view") { Description = "view of the display" };
        var config = new Option<string?>("--config")
        {
            Description = "OpenColorIO config whose names are meant; else the one that OCIO names",
        };
        var input = new Option<string?>("--in") { Description = "picture to convert instead of lines of numbers" };
        var output = new Option<string?>("--out") { Description = "where to write it: .exr, .png" };
        var json = new Option<bool>("--json");
        var command = new Command("colour", "Converts lines of three numbers, or a picture, from one colour space to another.")
        {
            from,
            to,
            display,
            view,
            config,
            input,
            output,
            json,
        };
        command.SetAction(
            (parsed, cancel) =>
                CliSession.RunAsync(async session =>
                {
                    var options = new Options(parsed.GetValue(from)!, parsed.GetValue(to), parsed.GetValue(display), parsed.GetValue(view));
                    if (options.To is null && (options.Display is null || options.View is null))
                        throw new ArgumentException("Say where to: --to SPACE, or --display DISPLAY --view VIEW.");
                    var conversion = (parsed.GetValue(config) ?? Environment.GetEnvironmentVariable("OCIO")) is { Length: > 0 } path
                        ? OfConfig(OpenedConfig.Open(path), options)
                        : OfOurs(options);
                    if (parsed.GetValue(input) is { } picture)
                        return await PictureAsync(
                            session,
                            picture,
                            parsed.GetValue(output) ?? throw new ArgumentException("Say where to write the picture: --out FILE."),
                            conversion,
                            options,
                            parsed.GetValue(json),
                            cancel
                        );
                    Lines(conversion.Pixels);
                    return 0;
                })
        );
        return command;
    }

    /// <param name="Ours">The same as one of our transforms, which also takes codes; null where it is none.</param>
    private sealed record Conversion(PixelConversion Pixels, ColourTransform? Ours = null);

    private static Conversion OfOurs(Options o)
    {
        var source = ColourSpace.Find(o.From);
        if (o.To is { } target)
        {
            var transform = ColourTransform.Between(source, ColourSpace.Find(target));
            return new(transform.Apply, transform);
        }
        if (o.Display != "sRGB")
            throw new ArgumentException($"There is no display '{o.Display}' without a config. Known: sRGB.");
        var view = View.Named(o.View!, source);
        return new(
            (pixels, stride) =>
            {
                if (stride == 3)
                {
                    view.Apply(pixels);
                    return;
                }
                for (var i = 0; i + 2 < pixels.Length; i += stride)
                    view.Apply(new Vector3(pixels[i], pixels[i + 1], pixels[i + 2])).CopyTo(pixels[i..]);
            }
        );
    }

    private static Conversion OfConfig(OpenedConfig config, Options o)
    {
        // A name of ours that the config does not have stands for the space that is the same.
        var matching = new Lazy<SpaceMatching>(() => SpaceMatching.Measure(config));
        string Named(string name) =>
            config.Find(name)?.Name
            ?? (ColourSpace.Exists(name) ? matching.Value.NameFor(config, name) : null)
            ?? throw new ArgumentException($"The config has no colour space, alias or role '{name}'.");
        var shown = o.To is null;
        // The studio's own views are there whatever the config has.
        if (
            shown
            && o.Display == "sRGB"
            && config.Config.Displays.All(d => !d.Name.Equals("sRGB", StringComparison.OrdinalIgnoreCase))
            && View.Ids.Contains(o.View)
        )
            return OfOurs(
                o with
                {
                    From = config.Find(o.From) is { } space
                        ? matching.Value.OursFor(space.Name)?.Text
                            ?? throw new ArgumentException(
                                $"'{o.From}' of the config is none of our spaces, so our own view cannot show it."
                            )
                        : o.From,
                }
            );
        var chain = shown ? config.View(Named(o.From), o.Display!, o.View!) : config.Between(Named(o.From), Named(o.To!));
        return new(
            (pixels, stride) =>
            {
                chain.Apply(pixels, stride);
                if (shown)
                    foreach (ref var v in pixels)
                        v = Math.Clamp(v, 0, 1);
            }
        );
    }

    private static void Lines(PixelConversion conversion)
    {
        var number = 0;
        Span<float> three = stackalloc float[3];
        while (Console.In.ReadLine() is { } line)
        {
            number++;
            var parts = line.Split((char[])[' ', '\t', ','], StringSplitOptions.RemoveEmptyEntries);
            if (parts.Length == 0)
                continue;
            if (parts.Length != 3)
                throw new FormatException($"Line {number} is not three numbers: '{line}'.");
            for (var c = 0; c < 3; c++)
                if (!float.TryParse(parts[c], out three[c]))
                    throw new FormatException($"Line {number} is not three numbers: '{line}'.");
            conversion(three, 3);
            Console.WriteLine($"{three[0]:G9} {three[1]:G9} {three[2]:G9}");
        }
    }

    private static async Task<int> PictureAsync(
        CliSession session,
        string input,
        string output,
        Conversion conversion,
        Options o,
        bool json,
        CancellationToken cancel
    )
    {
        var format = PictureFormats.ByExtension(Path.GetExtension(output));
        if (format is not (PictureFormat.OpenExr or PictureFormat.Png))
            throw new ArgumentException($"'{output}': pictures are written as .exr or .png.");
        var clock = Stopwatch.StartNew();
        var picture = await session.Decoder.DecodeAsync(input, cancel: cancel);
        var read = clock.Elapsed.TotalSeconds;
        clock.Restart();
        var type =
            format == PictureFormat.OpenExr
                ? picture.Type == SampleType.F32
                    ? SampleType.F32
                    : SampleType.F16
                : o.To is null
                    ? SampleType.U8
                    : SampleType.U16;
        var converted = conversion.Ours is { } ours
            ? PictureConversion.Convert(picture, ours, type)
            : PictureConversion.Convert(picture, conversion.Pixels, type);
        var convert = clock.Elapsed.TotalSeconds;
        clock.Restart();
        await using (var file = File.Create(output))
            format.Write(file, converted, new(Chromaticities: ChromaticitiesOf(o.To)));
        if (json)
            Console.WriteLine(
                JsonSerializer.Serialize(
                    new
                    {
                        converted.Width,
                        converted.Height,
                        Seconds = new
                        {
                            Read = read,
                            Convert = convert,
                            Write = clock.Elapsed.TotalSeconds,
                        },
                    },
                    CliSession.Json
                )
            );
        return 0;
    }

    /// <summary>What an OpenEXR file says of its colours: the primaries of a linear space of ours.</summary>
    private static Chromaticities? ChromaticitiesOf(string? space) =>
        space is not null && ColourSpace.Exists(space) && ColourSpace.Find(space) is { IsLinear: true, Primaries: { } primaries }
            ? primaries.Chromaticities
            : null;
}
