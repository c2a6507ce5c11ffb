using System.CommandLine;
using Kiln.Cli;
using Kiln.Cli.Verbs;
using Kiln.Pixels.Decoding;

if (args is ["decode-worker"])
    return DecodeWorker.Run(Console.OpenStandardInput(), Console.OpenStandardOutput());

var root = new RootCommand("Nimble Kiln: PBR maps to correct looks, for every renderer.")
{
    IntakeVerb.Command(), ColourVerb.Command(), WireVerb.Command(), ConvertVerb.Command(), FitVerb.Command(), ProofVerb.Command(), CheckVerb.Command(), DemoVerb.Command(), VerifyVerb.Command(), BatchVerb.Command(),
};
var parsed = root.Parse(args);
if (parsed.Errors.Count > 0)
{
    Console.Error.WriteLine("kiln: " + string.Join(" ", parsed.Errors.Select(e => e.Message)));
    return 2;
}
return await parsed.InvokeAsync(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
