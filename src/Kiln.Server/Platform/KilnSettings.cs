namespace Kiln.Server.Platform;

/// <summary>What the server is told when it starts: --Kiln:Data=…, environment Kiln__Data=…</summary>
/// <param name="MostSamples">Bounds how far proofs of the bench and of walls are refined, for small machines; orders and measurements are
/// not bound by it.</param>
/// <param name="PictureSamples">Samples a pixel of the small pictures of looks, for picking by; fewer for small machines.</param>
/// <param name="Address">Where it is reached, for links that it prints.</param>
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
    string Address
)
{
    public static KilnSettings Of(IConfiguration c) =>
        new(
            Path.GetFullPath(c["Kiln:Data"] ?? "var/data"),
            c["Kiln:Database"] ?? "Host=127.0.0.1;Port=5432;Username=kiln;Database=kiln",
            long.TryParse(c["Kiln:LargestUpload"], out var bytes) ? bytes : 8L << 30,
            c["Kiln:Demo"],
            c["OTEL_EXPORTER_OTLP_ENDPOINT"],
            int.TryParse(c["Kiln:MostSamples"], out var samples) && samples > 0 ? samples : 4096,
            int.TryParse(c["Kiln:PictureSamples"], out var small) && small > 0 ? small : 24,
            c["Kiln:WarmsUp"] != "false",
            (c["urls"] ?? c["Urls"] ?? "http://127.0.0.1:5210").Split(';')[0].TrimEnd('/')
        );
}
