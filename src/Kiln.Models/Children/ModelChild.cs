using System.Diagnostics;
using System.Globalization;

namespace Kiln.Models.Children;

/// <summary>A child process of ours that works on one file of a model, with limits of time and memory.</summary>
internal static class ModelChild
{
    private const int Seconds = 300;
    private const long ResidentBytes = 12L << 30;

    /// <param name="program">The assembly of a program of ours, and the verb and arguments by which it is the child.</param>
    /// <param name="file">Which file it works on.</param>
    /// <param name="read">Reads what the child says from its output.</param>
    /// <exception cref="ModelException">The child died twice, took too long or too much.</exception>
    public static T Ask<T>(IReadOnlyList<string> program, string file, Func<Stream, T> read)
        where T : class =>
        // A child may end for want of what others hold just then: what kills it twice is the file.
        Tried(program, file, read, isLast: false) ?? Tried(program, file, read, isLast: true)!;

    /// <returns>Null where the child died by itself and may be asked once more.</returns>
    private static T? Tried<T>(IReadOnlyList<string> program, string file, Func<Stream, T> read, bool isLast)
        where T : class
    {
        var start = new ProcessStartInfo(
            Path.GetFileNameWithoutExtension(Environment.ProcessPath) == "dotnet" ? Environment.ProcessPath! : "dotnet"
        )
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        foreach (var argument in program)
            start.ArgumentList.Add(argument);
        start.Environment["DOTNET_gcServer"] = "0";
        using var process = Process.Start(start) ?? throw new InvalidOperationException("The process that reads models did not start.");
        process.ErrorDataReceived += (_, _) => { };
        process.BeginErrorReadLine();
        string? because = null;
        var clock = Stopwatch.StartNew();
        using var watch = new Timer(_ => because ??= Check(file, process, clock.Elapsed), null, 100, 100);
        try
        {
            return read(process.StandardOutput.BaseStream);
        }
        catch (EndOfStreamException e)
        {
            if (because is null && !isLast)
                return null;
            process.WaitForExit(1000);
            var status = process.HasExited ? process.ExitCode : -1;
            throw new ModelException(
                because ?? $"The reader crashed on '{Path.GetFileName(file)}' (status {status}); the file is damaged or hostile.",
                e
            );
        }
        finally
        {
            End(process);
        }
    }

    /// <summary>Ends what takes too long or too much; why, where it did.</summary>
    private static string? Check(string file, Process process, TimeSpan passed)
    {
        try
        {
            var resident =
                long.Parse(File.ReadAllText($"/proc/{process.Id}/statm").Split(' ')[1], CultureInfo.InvariantCulture)
                * Environment.SystemPageSize;
            var because =
                passed > TimeSpan.FromSeconds(Seconds) ? $"Reading '{Path.GetFileName(file)}' took longer than {Seconds} s and was stopped."
                : resident > ResidentBytes
                    ? $"Reading '{Path.GetFileName(file)}' needed more than {ResidentBytes >> 30} GB of memory and was stopped."
                : null;
            if (because is not null)
                End(process);
            return because;
        }
        catch (Exception e) when (e is IOException or IndexOutOfRangeException or InvalidOperationException)
        {
            // It has ended.
            return null;
        }
    }

    private static void End(Process process)
    {
        try
        {
            process.Kill();
        }
        catch (InvalidOperationException)
        {
            // It ended by itself in the meantime.
        }
    }
}
