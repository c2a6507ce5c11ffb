using System.Diagnostics;

namespace Kiln.Testing;

/// <summary>The program as a person starts it.</summary>
public static class CommandLine
{
    public static (int Status, string Output, string Errors) Run(string input, params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet")
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, "Kiln.Cli.dll"));
        foreach (var a in arguments)
            start.ArgumentList.Add(a);
        start.Environment.Remove("OCIO");
        using var process = Process.Start(start)!;
        process.StandardInput.Write(input);
        process.StandardInput.Close();
        var errors = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output, errors.Result);
    }
}
