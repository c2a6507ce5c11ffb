using System.CommandLine;
using Kiln.Cli;
using Kiln.Cli.Help;
using Kiln.Models.Files.Foreign;
using Kiln.Models.Packing;
using Kiln.Pixels.Decoding.Workers;

if (args is ["decode-worker"])
    return DecodeWorker.Run(Console.OpenStandardInput(), Console.OpenStandardOutput());
if (args is [ForeignWorker.Verb, var model])
    return ForeignWorker.Run(model, Console.OpenStandardOutput());
if (args is [ModelPacker.Verb, var source, var packed])
    return ModelPacker.Run(source, packed, Console.OpenStandardOutput());
if (args is ["--version"])
{
    Console.WriteLine(ProgramHelp.Version);
    return 0;
}
var root = CommandTree.Root();
var parsed = root.Parse(args.Length == 0 ? ["--help"] : args);
CliProgress.Quiet = parsed.GetValue(ProgramHelp.Quiet);
if (parsed.Errors.Count > 0 && !args.Any(a => a is "--help" or "-h" or "-?"))
{
    Console.Error.WriteLine("kiln: " + string.Join(" ", parsed.Errors.Select(e => e.Message)));
    return 2;
}
return await parsed.InvokeAsync(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
