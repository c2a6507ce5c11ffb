namespace Kiln.Models.Tests;

/// <summary>Models as the command line reads them: what libassimp reads, in a process of its own.</summary>
internal static class AsRead
{
    public static readonly string Program = Path.Combine(AppContext.BaseDirectory, "Kiln.Cli.dll");

    public static Model Of(string path) => ModelFiles.Read(path, Program);
}
