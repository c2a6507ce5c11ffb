using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Platform.Errors;

/// <summary>
/// Problem documents (RFC 9457): always application/problem+json, always with a stable code and a sentence, whatever the client says it
/// accepts.
/// </summary>
public static class Problems
{
    private static readonly System.Text.Json.JsonSerializerOptions Json = new(System.Text.Json.JsonSerializerDefaults.Web)
    {
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull,
    };

    /// <summary>An answer of a route.</summary>
    public static IResult Of(int status, string code, string sentence) =>
        Results.Json(Document(status, code, sentence), Json, "application/problem+json", status);

    /// <summary>Answers and ends the request.</summary>
    public static Task WriteAsync(
        HttpContext context,
        int status,
        string code,
        string sentence,
        IReadOnlyDictionary<string, object?>? more = null
    )
    {
        context.Response.StatusCode = status;
        var details = Document(status, code, sentence);
        foreach (var (name, value) in more ?? new Dictionary<string, object?>())
            details.Extensions[name] = value;
        return context.Response.WriteAsJsonAsync(details, Json, "application/problem+json");
    }

    /// <summary>A body for answers that have none: of the framework, or of a route that says only that something is not there.</summary>
    public static Task FillAsync(HttpContext context)
    {
        var (code, sentence) = context.Response.StatusCode switch
        {
            401 => ("sign-in", "Sign in first."),
            403 => ("role", "Your role does not allow this."),
            404 => ("not-found", "There is nothing here under this address."),
            405 => ("method", $"{context.Request.Method} is not possible here; {context.Response.Headers.Allow} is."),
            413 => ("too-large", Largest(context)),
            415 => ("content-type", "The body is of a kind that is not read here; JSON is sent as application/json."),
            429 => ("too-many", "Too many requests; wait a little."),
            >= 500 => ("server.failed", "Something failed in the server. Nothing was half-written."),
            _ => ("request.invalid", "The request cannot be understood."),
        };
        return WriteAsync(context, context.Response.StatusCode, code, sentence);
    }

    public static string Largest(HttpContext context) =>
        context.Features.Get<IHttpMaxRequestBodySizeFeature>()?.MaxRequestBodySize is { } most
            ? $"The body is too large; at most {Size(most)} are taken here."
            : "The body is too large.";

    private static string Size(long bytes) =>
        bytes >= 1L << 30 ? $"{bytes >> 30} GB"
        : bytes >= 1 << 20 ? $"{bytes >> 20} MB"
        : $"{bytes >> 10} kB";

    private static ProblemDetails Document(int status, string code, string sentence)
    {
        var details = new ProblemDetails
        {
            Status = status,
            Title = sentence,
            Type = $"urn:kiln:{code}",
        };
        details.Extensions["code"] = code;
        return details;
    }
}
