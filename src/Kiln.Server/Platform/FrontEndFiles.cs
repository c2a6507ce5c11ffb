using System.IO.Compression;
using Microsoft.AspNetCore.ResponseCompression;

namespace Kiln.Server.Platform;

/// <summary>
/// The front end's files, compressed on their way for a browser that says it can (RFC 9110, 12.5.3). Nothing under /api is: an answer with
/// a secret and with what a stranger chose in it must not betray the one by its length (BREACH, 2013).
/// </summary>
public static class FrontEndFiles
{
    /// <summary>Files whose names change with what they hold are not asked for again.</summary>
    private const string Kept = "public, max-age=31536000, immutable";

    public static void AddFrontEndFiles(this IServiceCollection services)
    {
        services.AddResponseCompression(o =>
        {
            // They are the same for everybody.
            o.EnableForHttps = true;
            o.MimeTypes = ["text/html", "text/css", "text/javascript", "application/javascript", "application/json", "image/svg+xml"];
        });
        services.Configure<BrotliCompressionProviderOptions>(o => o.Level = CompressionLevel.Optimal);
        services.Configure<GzipCompressionProviderOptions>(o => o.Level = CompressionLevel.Optimal);
    }

    public static void UseFrontEndFiles(this IApplicationBuilder app)
    {
        app.UseWhen(c => !IsAnswer(c.Request.Path), files => files.UseResponseCompression());
        app.UseDefaultFiles();
        app.UseStaticFiles(Caching);
    }

    /// <summary>Whatever place of ours is asked for is shown by the one page.</summary>
    public static void MapPage(this IEndpointRouteBuilder app) => app.MapFallbackToFile("index.html", Caching);

    private static StaticFileOptions Caching =>
        new()
        {
            OnPrepareResponse = file =>
                file.Context.Response.Headers.CacheControl = file.Context.Request.Path.StartsWithSegments("/assets") ? Kept : "no-cache",
        };

    private static bool IsAnswer(PathString path) => path.StartsWithSegments("/api") || path.StartsWithSegments("/progress");
}
