using System.Diagnostics;
using System.Globalization;

namespace Kiln.Models.Files.Foreign;

/// <summary>
/// Reads a file by <see cref="ForeignReader"/> in a child process with limits of time and memory: one that brings it down costs that file.
/// </summary>
public static class ForeignWorker
{
    /// <summary>The verb by which a program of ours is such a child.</summary>
    public const string Verb = "model-worker";

    private const int Seconds = 300;
    private const long ResidentBytes = 12L << 30;

    /// <summary>The body of the child: writes the model, or a sentence, to its output.</summary>
    public static int Run(string path, Stream output)
    {
        try
        {
            ModelStream.Write(output, ForeignReader.InProcess(path));
        }
        catch (Exception e) when (e is ModelException or IOException or UnauthorizedAccessException)
        {
            ModelStream.WriteError(output, e.Message);
        }
        catch (OutOfMemoryException)
        {
            ModelStream.WriteError(output, $"'{Path.GetFileName(path)}' needs more memory than there is.");
        }
        return 0;
    }

    /// <param name="program">The assembly of a program that has <see cref="Verb"/>.</param>
    /// <exception cref="ModelException">It cannot be read.</exception>
    internal static Model Read(string path, string program) =>
        // A child may end for want of what others hold just then: what kills it twice is the file.
        Tried(path, program, isLast: false) ?? Tried(path, program, isLast: true)!;

    /// <returns>Null where the child died by itself and may be asked once more.</returns>
    private static Model? Tried(string path, string program, bool isLast)
    {
        var start = new ProcessStartInfo(
            Path.GetFileNameWithoutExtension(Environment.ProcessPath) == "dotnet" ? Environment.ProcessPath! : "dotnet"
        )
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        foreach (var argument in new[] { program, Verb, path })
            start.ArgumentList.Add(argument);
        start.Environment["DOTNET_gcServer"] = "0";
        using var process = Process.Start(start) ?? throw new InvalidOperationException("The process that reads models did not start.");
        process.ErrorDataReceived += (_, _) => { };
        process.BeginErrorReadLine();
        string? because = null;
        var clock = Stopwatch.StartNew();
        using var watch = new Timer(_ => because ??= Check(path, process, clock.Elapsed), null, 100, 100);
        try
        {
            return ModelStream.Read(process.StandardOutput.BaseStream, new(Path.GetDirectoryName(Path.GetFullPath(path))!));
        }
        catch (EndOfStreamException e)
        {
            if (because is null && !isLast)
                return null;
            process.WaitForExit(1000);
            var status = process.HasExited ? process.ExitCode : -1;
            throw new ModelException(
                because ?? $"The reader crashed on '{Path.GetFileName(path)}' (status {status}); the file is damaged or hostile.",
                e
            );
        }
        finally
        {
            End(process);
        }
    }

    /// <summary>Ends what takes too long or too much; why, where it did.</summary>
    private static string? Check(string path, Process process, TimeSpan passed)
    {
        try
        {
            var resident =
                long.Parse(File.ReadAllText($"/proc/{process.Id}/statm").Split(' ')[1], CultureInfo.InvariantCulture)
                * Environment.SystemPageSize;
            var because =
                passed > TimeSpan.FromSeconds(Seconds) ? $"Reading '{Path.GetFileName(path)}' took longer than {Seconds} s and was stopped."
                : resident > ResidentBytes
                    ? $"Reading '{Path.GetFileName(path)}' needed more than {ResidentBytes >> 30} GB of memory and was stopped."
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
