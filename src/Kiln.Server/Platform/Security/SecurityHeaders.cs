namespace Kiln.Server.Platform.Security;

/// <summary>
/// A strict content security policy; inline style attributes are allowed for the positioning of menus, nothing else. Set as the answer
/// begins, so that errors have the headers too,
/// which start with an empty answer.
/// </summary>
public static class SecurityHeaders
{
    public static Task AddAsync(HttpContext context, RequestDelegate next)
    {
        context.Response.OnStarting(() =>
        {
            var h = context.Response.Headers;
            h.ContentSecurityPolicy =
                "default-src 'none'; script-src 'self'; style-src 'self'; style-src-attr 'unsafe-inline'; img-src 'self' blob: "
                + "data:; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";
            h.XContentTypeOptions = "nosniff";
            h["Referrer-Policy"] = "no-referrer";
            h["Cross-Origin-Opener-Policy"] = "same-origin";
            return Task.CompletedTask;
        });
        return next(context);
    }
}
