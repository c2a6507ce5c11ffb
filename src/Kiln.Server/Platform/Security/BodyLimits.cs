using Microsoft.AspNetCore.Http.Metadata;

namespace Kiln.Server.Platform.Security;

/// <summary>
/// How much a route takes, refused before it is read: JSON 1 MB (the server's default), documents 16 MB, files by the studio's setting.
/// </summary>
public static class BodyLimits
{
    public const long Json = 1L << 20,
        Document = 16L << 20;

    private sealed record Limit(long? MaxRequestBodySize) : IRequestSizeLimitMetadata;

    /// <summary>Texts that people write or export: configs, profiles, sheets.</summary>
    public static TBuilder TakesDocuments<TBuilder>(this TBuilder route)
        where TBuilder : IEndpointConventionBuilder => route.WithMetadata(new Limit(Document));

    /// <summary>Files of any size up to the studio's setting.</summary>
    public static TBuilder TakesFiles<TBuilder>(this TBuilder route)
        where TBuilder : IEndpointConventionBuilder
    {
        // The setting is known to the application only; until then the route says that it has one.
        return route.WithMetadata(new Files());
    }

    public sealed record Files;

    /// <summary>Applies the setting to routes that take files.</summary>
    public static Task ApplyAsync(HttpContext context, RequestDelegate next)
    {
        if (
            context.GetEndpoint()?.Metadata.GetMetadata<Files>() is not null
            && context.Features.Get<Microsoft.AspNetCore.Http.Features.IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } size
        )
            size.MaxRequestBodySize = context.RequestServices.GetRequiredService<KilnSettings>().LargestUpload;
        return next(context);
    }
}
