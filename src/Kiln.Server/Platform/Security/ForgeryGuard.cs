using Kiln.Server.Platform.Errors;
using Microsoft.AspNetCore.Antiforgery;

namespace Kiln.Server.Platform.Security;

/// <summary>Every request of the API that changes something carries the token that GET /session gave out.</summary>
public static class ForgeryGuard
{
    public static async Task CheckAsync(HttpContext context, RequestDelegate next)
    {
        var changes =
            !HttpMethods.IsGet(context.Request.Method)
            && !HttpMethods.IsHead(context.Request.Method)
            && context.Request.Path.StartsWithSegments("/api");
        if (changes)
            try
            {
                await context.RequestServices.GetRequiredService<IAntiforgery>().ValidateRequestAsync(context);
            }
            catch (AntiforgeryValidationException)
            {
                await Problems.WriteAsync(
                    context,
                    400,
                    "token",
                    "The page's token is missing or old; reload the page and repeat what you did."
                );
                return;
            }
        await next(context);
    }
}
