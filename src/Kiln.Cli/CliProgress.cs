namespace Kiln.Cli;

/// <summary>
/// How far long work is, on one line of standard error that is written over; nothing where that is no terminal, or where silence was asked
/// for.
/// </summary>
internal static class CliProgress
{
    private const int Between = 200;

    private static long last;
    private static int width;

    /// <summary>Nothing is said of how far work is; faults and remarks are.</summary>
    public static bool Quiet { get; set; }

    private static bool Shows => !Quiet && !Console.IsErrorRedirected;

    /// <summary>At most a few times a second.</summary>
    public static void Say(string words)
    {
        if (!Shows || Environment.TickCount64 - last < Between)
            return;
        last = Environment.TickCount64;
        var line = words.Length > 100 ? words[..100] : words;
        Console.Error.Write('\r' + line.PadRight(width));
        width = line.Length;
    }

    /// <summary>Takes the line away.</summary>
    public static void Clear()
    {
        if (Shows && width > 0)
            Console.Error.Write('\r' + new string(' ', width) + '\r');
        width = 0;
    }
}
