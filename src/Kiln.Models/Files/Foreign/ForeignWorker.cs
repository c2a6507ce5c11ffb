using Kiln.Models.Children;

namespace Kiln.Models.Files.Foreign;

/// <summary>
/// Reads a file by <see cref="ForeignReader"/> in a child process with limits of time and memory: one that brings it down costs that file.
/// </summary>
public static class ForeignWorker
{
    /// <summary>The verb by which a program of ours is such a child.</summary>
    public const string Verb = "model-worker";

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
        ModelChild.Ask([program, Verb, path], path, output =>
            ModelStream.Read(output, new(Path.GetDirectoryName(Path.GetFullPath(path))!))
        );
}
