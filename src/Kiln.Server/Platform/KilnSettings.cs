using System.Globalization;

namespace Kiln.Server.Platform;

/// <summary>What the server is told when it starts: --Kiln:Data=…, environment Kiln__Data=…</summary>
/// <param name="MostSamples">Bounds how far proofs of the bench and of walls are refined, for small machines; orders and measurements are
/// not bound by it.</param>
/// <param name="PictureSamples">Samples a pixel of the small pictures of looks, for picking by; fewer for small machines.</param>
/// <param name="Address">Where it is reached, for links that it prints.</param>
/// <param name="CacheMegabytes">What is kept in memory to be asked for again.</param>
/// <param name="WarmsUp">Whether the server does beforehand what the first person would wait for; false for one that lives for
/// minutes.</param>
public sealed record KilnSettings(
    string Data,
    string Database,
    long LargestUpload,
    string? DemoDeliveries,
    string? Telemetry,
    int MostSamples,
    int PictureSamples,
    bool WarmsUp,
    string Address,
    long CacheMegabytes
)
{
    /// <exception cref="SettingException">
    /// A setting that is no number, out of range, or no switch: by its name, with what it may be.
    /// </exception>
    public static KilnSettings Of(IConfiguration c) =>
        new(
            Path.GetFullPath(Text(c, "Data") ?? "var/data"),
            Connection(c),
            Number(c, "LargestUpload", 8L << 30, 1, 1L << 50),
            Text(c, "Demo"),
            c["OTEL_EXPORTER_OTLP_ENDPOINT"],
            (int)Number(c, "MostSamples", 4096, 1, 1 << 20),
            (int)Number(c, "PictureSamples", 10, 1, 4096),
            Switch(c, "WarmsUp", true),
            (c["urls"] ?? c["Urls"] ?? "http://127.0.0.1:5210").Split(';')[0].TrimEnd('/'),
            Number(c, "CacheMegabytes", 2048, 64, 1 << 20)
        );

    private static string Connection(IConfiguration c)
    {
        var text = Text(c, "Database") ?? "Host=127.0.0.1;Port=5432;Username=kiln;Database=kiln";
        try
        {
            Store.Database.Pooled(text, 1);
            return text;
        }
        catch (ArgumentException e)
        {
            throw new SettingException($"Kiln:Database is no connection text of PostgreSQL: {e.Message}");
        }
    }

    private static string? Text(IConfiguration c, string name) => c["Kiln:" + name] is { Length: > 0 } text ? text : null;

    private static long Number(IConfiguration c, string name, long usual, long least, long most) =>
        Text(c, name) is not { } text ? usual
        : long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number >= least && number <= most ? number
        : throw new SettingException($"Kiln:{name} is '{text}'; it is a whole number from {least} to {most}.");

    private static bool Switch(IConfiguration c, string name, bool usual) =>
        Text(c, name)?.ToLowerInvariant() switch
        {
            null => usual,
            "true" => true,
            "false" => false,
            var other => throw new SettingException($"Kiln:{name} is '{other}'; it is true or false."),
        };
}

/// <summary>The server is told something that it cannot be set to.</summary>
public sealed class SettingException(string message) : Exception(message);
