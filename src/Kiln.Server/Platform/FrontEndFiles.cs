using System.IO.Compression;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.AspNetCore.StaticFiles;
using Microsoft.Net.Http.Headers;

namespace Kiln.Server.Platform;

/// <summary>
/// The front end's files, compressed for a browser that says it can (RFC 9110, 12.5.3): by the packed copies that its build has made, else
/// on their way. Nothing under /api is: an answer with a secret and with what a stranger chose in it must not betray the one by its length
/// (BREACH, 2013).
/// </summary>
public static class FrontEndFiles
{
    /// <summary>Files whose names change with what they hold are not asked for again.</summary>
    private const string Kept = "public, max-age=31536000, immutable";

    private const string Packed = ".br";

    private static readonly FileExtensionContentTypeProvider Types = new();

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

    public static void UseFrontEndFiles(this WebApplication app)
    {
        app.UseWhen(c => !IsAnswer(c.Request.Path), files => files.UseResponseCompression());
        app.UseDefaultFiles();
        app.Use(
            (context, next) =>
            {
                var request = context.Request;
                if (request.Path.StartsWithSegments("/assets") && TakesPacked(request))
                    if (app.Environment.WebRootFileProvider.GetFileInfo(request.Path + Packed).Exists)
                        request.Path += Packed;
                return next(context);
            }
        );
        app.UseStaticFiles(Options);
    }

    /// <summary>Whatever place of ours is asked for is shown by the one page.</summary>
    public static void MapPage(this IEndpointRouteBuilder app) => app.MapFallbackToFile("index.html", Options);

    private static StaticFileOptions Options
    {
        get
        {
            var types = new FileExtensionContentTypeProvider();
            types.Mappings[Packed] = "application/octet-stream";
            return new() { ContentTypeProvider = types, OnPrepareResponse = Prepare };
        }
    }

    private static void Prepare(StaticFileResponseContext file)
    {
        var headers = file.Context.Response.Headers;
        headers.CacheControl = file.Context.Request.Path.StartsWithSegments("/assets") ? Kept : "no-cache";
        if (!file.File.Name.EndsWith(Packed, StringComparison.Ordinal))
            return;
        headers.ContentEncoding = "br";
        headers.Append(HeaderNames.Vary, HeaderNames.AcceptEncoding);
        if (Types.TryGetContentType(file.File.Name[..^Packed.Length], out var type))
            headers.ContentType = type;
    }

    private static bool TakesPacked(HttpRequest request) =>
        (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method))
        && !request.Path.Value!.EndsWith(Packed, StringComparison.Ordinal)
        && request.GetTypedHeaders().AcceptEncoding.Any(e => e.Value == "br" && e.Quality is not 0);

    private static bool IsAnswer(PathString path) => path.StartsWithSegments("/api") || path.StartsWithSegments("/progress");
}
