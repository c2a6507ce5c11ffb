using System.CommandLine;
using System.Numerics;
using Kiln.Colour;
using Kiln.Colour.Views;

namespace Kiln.Cli.Verbs;

internal static class ColourVerb
{
    public static Command Command()
    {
        var from = new Option<string>("--from") { Required = true, Description = "space of the numbers that come in" };
        var to = new Option<string?>("--to");
        var display = new Option<string?>("--display");
        var view = new Option<string?>("--view");
        var config = new Option<string?>("--config");
        var input = new Option<string?>("--in");
        var output = new Option<string?>("--out");
        var json = new Option<bool>("--json");
        var command = new Command("colour", "Converts lines of three numbers from one colour space to another.") { from, to, display, view, config, input, output, json };
        command.SetAction((parsed, cancel) => CliSession.RunAsync(session =>
        {
            if (parsed.GetValue(config) is not null || Environment.GetEnvironmentVariable("OCIO") is { Length: > 0 })
                throw new LaterException("OpenColorIO configs come in a later version; leave --config out and unset OCIO.");
            if (parsed.GetValue(input) is not null || parsed.GetValue(output) is not null)
                throw new LaterException("converting whole pictures comes in a later version; send lines of numbers.");
            var source = ColourSpace.Find(parsed.GetValue(from)!);
            Func<Vector3, Vector3> convert;
            if (parsed.GetValue(to) is { } target)
                convert = ColourTransform.Between(source, ColourSpace.Find(target)).Apply;
            else if (parsed.GetValue(display) is { } shown && parsed.GetValue(view) is { } name)
                convert = shown == "sRGB" ? View.Named(name, source) is var v ? c => v.Apply(c) : null! : throw new ArgumentException($"There is no display '{shown}' without a config. Known: sRGB.");
            else
                throw new ArgumentException("Say where to: --to SPACE, or --display sRGB --view VIEW.");
            var number = 0;
            while (Console.In.ReadLine() is { } line)
            {
                number++;
                var parts = line.Split((char[])[' ', '\t', ','], StringSplitOptions.RemoveEmptyEntries);
                if (parts.Length == 0)
                    continue;
                if (parts.Length != 3 || !parts.All(p => float.TryParse(p, out float value)))
                    throw new FormatException($"Line {number} is not three numbers: '{line}'.");
                var r = convert(new(float.Parse(parts[0]), float.Parse(parts[1]), float.Parse(parts[2])));
                Console.WriteLine($"{r.X:G9} {r.Y:G9} {r.Z:G9}");
            }
            return Task.FromResult(0);
        }));
        return command;
    }
}
