using System.CommandLine;
using System.CommandLine.Help;
using System.CommandLine.Invocation;
using System.Reflection;

namespace Kiln.Cli.Help;

/// <summary>Help that a person can work from: the name they type, a sentence for every option, examples, exit statuses.</summary>
internal static class ProgramHelp
{
    public static readonly Option<bool> Quiet = new("--quiet", "-q") { Description = "no progress on standard error", Recursive = true };

    /// <summary>The release's, as the changelog has it.</summary>
    public static string Version =>
        typeof(ProgramHelp).Assembly.GetCustomAttribute<AssemblyInformationalVersionAttribute>()!.InformationalVersion.Split('+')[0];

    /// <summary>Sentences for options and arguments that several verbs share; a verb's own sentence comes first.</summary>
    private static readonly Dictionary<string, string> Sentences = new()
    {
        ["--json"] = "one JSON document on standard output and nothing else there",
        ["--profile"] = "a dialect profile of your own (JSON), beside the shipped ones",
        ["--config"] = "OpenColorIO config whose names are meant; else the one that OCIO names",
        ["--out"] = "where to write",
        ["--dialect"] =
            "the dialect: openpbr, standard_surface, gltf, usd_preview, bisque, celadon, tenmoku, saggar, or one given with --profile",
        ["--from"] = "the dialect that the file is written in",
        ["--to"] = "the dialect that is wanted",
        ["--working"] = "the document's working space: acescg or lin_rec709",
        ["--convert-textures"] = "writes colour maps converted to the working space instead of as they are and tagged",
        ["--occlusion"] = "multiplies the occlusion map into the base colour by this amount, 0 to 1",
        ["--rules"] = "thresholds or naming rules of a studio (JSON)",
        ["--form"] = "the object: vessel, tile, sphere, cloth or chart",
        ["--light"] = "the light: overcast, softbox, lowsun, night, furnace, or a lat-long .hdr or .exr picture",
        ["--size"] = "width and height of the picture, such as 512x512",
        ["--samples"] = "samples for each pixel, 1 to 65536",
        ["--seed"] = "the random numbers begin here; the same seed gives the same picture",
        ["--exposure"] = "stops brighter (or darker, below 0); .exr ignores it",
        ["--view"] = "how a .png is displayed: aces1-sdr, plain, or DISPLAY / VIEW of a config; .exr ignores it",
        ["--database"] = "connection string of the server's database",
        ["--data"] = "the server's data folder",
        ["--collection"] = "name of the collection",
        ["PATH"] = "folders, zips or files with maps",
        ["FILE"] = "a network (.mtlx, .glb, .gltf, .usda, .usdc, .usdz), or a folder of them",
        ["FILE|PATH"] = "a network, or maps to be wired first",
        ["FOLDER"] = "the folder to write into",
    };

    /// <summary>Lines as they are typed, by verb.</summary>
    internal static readonly Dictionary<string, string[]> Examples = new()
    {
        ["kiln"] =
        [
            "kiln intake downloads.zip --json",
            "kiln wire maps/ --dialect openpbr --out looks/",
            "kiln convert look.mtlx --from standard_surface --to gltf --out converted/",
            "kiln proof looks/copper.mtlx --dialect openpbr --out copper.png",
        ],
        ["intake"] = ["kiln intake maps/", "kiln intake one.zip two.zip --json"],
        ["wire"] =
        [
            "kiln wire maps/ --dialect gltf --out looks/",
            "kiln wire maps/ --dialect usd_preview --working lin_rec709 --out looks/ --json",
        ],
        ["convert"] =
        [
            "kiln convert look.mtlx --from standard_surface --to openpbr --out converted/",
            "kiln convert scene.glb --from gltf --to usd_preview --material Copper --out converted/",
            "kiln convert networks/ --from openpbr --to gltf --texture-root ../textures --out converted/",
        ],
        ["proof"] =
        [
            "kiln proof looks/copper.mtlx --dialect openpbr --light lowsun --size 800x800 --out copper.png",
            "kiln proof maps/ --dialect gltf --form sphere --samples 256 --out maps.exr",
            "kiln proof maps/ --dialect openpbr --model radio.fbx --bind brass=/Radio/Knob --out radio.png",
            "kiln proof --dialect openpbr --model radio.glb --out radio.png",
        ],
        ["check"] = ["kiln check maps/", "kiln check maps/ --dialect tenmoku --json"],
        ["model"] = ["kiln model radio.obj", "kiln model radio.fbx --json"],
        ["bind"] = ["kiln bind radio.glb --maps downloads.zip", "kiln bind radio.obj --maps maps/ more.zip --json"],
        ["fit"] = ["kiln fit look.mtlx --from openpbr --to celadon"],
        ["colour"] =
        [
            "echo 0.5 0.2 0.1 | kiln colour --from srgb_texture --to acescg",
            "kiln colour --from acescg --display sRGB --view aces1-sdr --in render.exr --out shown.png",
        ],
        ["batch"] =
        [
            "kiln batch --database \"$KILN_DATABASE\" --data var/data --collection \"Field Radio\" --dialect gltf --out packages/",
        ],
        ["verify"] = ["kiln verify --database \"$KILN_DATABASE\" --data var/data"],
        ["people"] = ["kiln people add ada --role admin", "kiln people list"],
        ["add"] = ["kiln people add ada --role admin", "pass show kiln/otto | kiln people add otto --role artist"],
        ["demo"] = ["kiln demo deliveries/"],
        ["completion"] = ["kiln completion bash > ~/.local/share/bash-completion/completions/kiln"],
    };

    /// <summary>Gives every option and argument a sentence, and the root its help and silence.</summary>
    public static Command Explained(Command root)
    {
        root.Add(new HelpOption());
        root.Add(Quiet);
        root.Add(new Option<bool>("--version") { Description = "the release" });
        Describe(root);
        root.Options.OfType<HelpOption>().Single().Action = new WithExamples(
            (HelpAction)root.Options.OfType<HelpOption>().Single().Action!
        );
        return root;
    }

    private static void Describe(Command command)
    {
        foreach (var option in command.Options.Where(o => string.IsNullOrEmpty(o.Description)))
            option.Description = Sentences.GetValueOrDefault(option.Name);
        foreach (var argument in command.Arguments.Where(a => string.IsNullOrEmpty(a.Description)))
            argument.Description = Sentences.GetValueOrDefault(argument.Name);
        foreach (var inner in command.Subcommands)
            Describe(inner);
    }

    private sealed class WithExamples(HelpAction usual) : SynchronousCommandLineAction
    {
        public override int Invoke(ParseResult parsed)
        {
            var result = usual.Invoke(parsed);
            var command = parsed.CommandResult.Command;
            if (Examples.TryGetValue(command.Name, out var lines))
                Console.WriteLine("Examples:\n" + string.Concat(lines.Select(l => $"  {l}\n")));
            Console.WriteLine(
                "Exit status:\n  0  done\n  1  done, with findings of severity error (or faults, or files that failed)\n  2  "
                    + "wrong usage or unreadable input; one line on standard error says what and why\n"
            );
            return result;
        }
    }
}
