using Microsoft.AspNetCore.Routing.Template;

namespace Kiln.Server.Platform.Errors;

/// <summary>
/// What no route of the API answers: a method that its address does not take (405, with those that it does), or an address without a route
/// (404). Never a page.
/// </summary>
public static class UnknownPlaces
{
    public static void Map(WebApplication app) =>
        app.Map("/api/{**rest}", (HttpContext http, EndpointDataSource endpoints) => Answer(http, endpoints)).ExcludeFromDescription();

    private static IResult Answer(HttpContext http, EndpointDataSource endpoints)
    {
        var methods = endpoints
            .Endpoints.OfType<RouteEndpoint>()
            .Where(e => Matches(e, http.Request.Path))
            .SelectMany(e => e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? [])
            .Distinct()
            .Order(StringComparer.Ordinal)
            .ToList();
        if (methods.Count == 0)
            return Problems.Of(404, "not-found", "There is nothing here under this address.");
        var allowed = string.Join(", ", methods);
        http.Response.Headers.Allow = allowed;
        return Problems.Of(405, "method", $"{http.Request.Method} is not possible here; {allowed} is.");
    }

    private static bool Matches(RouteEndpoint endpoint, PathString path)
    {
        var values = new RouteValueDictionary();
        return endpoint.RoutePattern.RawText is { } text
            && !text.Contains("{**rest}", StringComparison.Ordinal)
            && !text.Contains("{*path:nonfile}", StringComparison.Ordinal)
            && new TemplateMatcher(TemplateParser.Parse(text.TrimStart('/')), new()).TryMatch(path, values)
            && !text.StartsWith("openapi", StringComparison.Ordinal)
            && endpoint.RoutePattern.Parameters.All(p =>
                p.ParameterPolicies.All(policy => policy.Content is not "guid" || Guid.TryParse(values[p.Name]?.ToString(), out _))
            );
    }
}
