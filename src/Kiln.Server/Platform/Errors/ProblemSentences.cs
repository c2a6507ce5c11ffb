using System.Text.Json;
using System.Text.RegularExpressions;
using Kiln.Colour.Configs;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Texts;
using Kiln.Store.Looks;
using Microsoft.AspNetCore.Diagnostics;
using Npgsql;

namespace Kiln.Server.Platform.Errors;

/// <summary>
/// Turns what went wrong into a problem document (RFC 9457) with a stable code and a sentence, without a path of this server in it.
/// </summary>
public sealed partial class ProblemSentences(KilnSettings settings, ILogger<ProblemSentences> log) : IExceptionHandler
{
    // Numbers of errno(3): no space, no quota.
    private const int NoSpace = 28,
        NoQuota = 122;

    [GeneratedRegex("/(?:tmp|var|home|root|usr|work|opt)/[^\\s'\"]*")]
    private static partial Regex ServerPath { get; }

    public async ValueTask<bool> TryHandleAsync(HttpContext context, Exception exception, CancellationToken cancel)
    {
        if (exception is OperationCanceledException && context.RequestAborted.IsCancellationRequested)
            return true;
        var (status, code) = Kind(exception);
        if (status == 500)
            log.LogError(exception, "A request failed: {Path}", context.Request.Path);
        var more = exception switch
        {
            LookConflictException conflict => new Dictionary<string, object?> { ["revision"] = conflict.Revision },
            _ => null,
        };
        if (status == 503)
            context.Response.Headers.RetryAfter = "5";
        await Problems.WriteAsync(context, status, code, status == 413 ? Problems.Largest(context) : Sentence(exception, status), more);
        return true;
    }

    private string Sentence(Exception exception, int status) =>
        status switch
        {
            500 => "Something failed in the server. Nothing was half-written; try again, and tell the administrator if it stays so.",
            503 => "The database does not answer. Nothing was written; try again in a moment.",
            507 => "There is no room left on the server's disk. Nothing was written; tell the administrator.",
            _ => Bare(Sentence(exception)),
        };

    private string Bare(string sentence) =>
        ServerPath.Replace(sentence.Replace(settings.Data, "the data folder", StringComparison.Ordinal), "a file of the server");

    private static string Sentence(Exception exception) =>
        exception switch
        {
            BadHttpRequestException { InnerException: JsonException json } => "The body cannot be read: "
                + JsonFaults.Sentence(json, "The body"),
            BadHttpRequestException bad
                when bad.Message.StartsWith("Failed to bind", StringComparison.Ordinal)
                    || bad.Message.StartsWith("Required parameter", StringComparison.Ordinal) => Parameter(bad.Message),
            NotSupportedException => "The body cannot be read: something in it does not say of a known kind what it is.",
            JsonException json => "The body cannot be read: " + JsonFaults.Sentence(json, "The body"),
            PostgresException { SqlState: "23503" } => "Something that the request names is not there.",
            PostgresException { SqlState: "23505" } => "There is one like this already.",
            PostgresException =>
                "A value of the request cannot be kept: it holds a character, a date or a number beyond what can be stored.",
            _ => exception.Message,
        };

    [GeneratedRegex("[Pp]arameter \"(?:(?<type>[^\"]*)\\s)?(?<name>[A-Za-z0-9_]+)\"(?: from \"(?<value>.*)\")?", RegexOptions.Singleline)]
    private static partial Regex ParameterName { get; }

    private static string Parameter(string message)
    {
        var match = ParameterName.Match(message);
        if (!match.Success)
            return "A value in the address is missing or of the wrong kind.";
        var (name, value) = (match.Groups["name"].Value, match.Groups["value"].Value);
        return message.StartsWith("Required", StringComparison.Ordinal) ? $"The request lacks '{name}'."
            : match.Groups["type"].Value.TrimEnd('?') == nameof(LaneAddress) ? LaneAddress.Fault(value)
            : $"The value of '{name}' in the address is of the wrong kind.";
    }

    /// <summary>
    /// What a person is told of an exception where no problem document can be sent any more; null for what is our own fault.
    /// </summary>
    public static string? SentenceOf(Exception exception) => Kind(exception).Status == 500 ? null : exception.Message;

    private static (int Status, string Code) Kind(Exception exception) =>
        exception switch
        {
            KilnException fault => (StatusOf(fault.Kind), fault.Code),
            FileNotFoundException or DirectoryNotFoundException => (404, "content.missing"),
            // A thing of several kinds that does not say which.
            NotSupportedException { Source: "System.Text.Json" } => (400, "request.invalid"),
            BadHttpRequestException { StatusCode: 413 } => (413, "too-large"),
            BadHttpRequestException bad => (bad.StatusCode, "request.invalid"),
            PostgresException { SqlState: "23503" } => (404, "reference.missing"),
            PostgresException { SqlState: "23505" } => (409, "exists"),
            PostgresException { SqlState: ['2', '2', ..] } => (400, "request.invalid"),
            PostgresException { SqlState: ['5', '7', ..] or ['5', '3', ..] } => (503, "database.away"),
            PostgresException => (500, "server.failed"),
            NpgsqlException => (503, "database.away"),
            ArgumentException or FormatException or OverflowException or JsonException => (400, "request.invalid"),
            InvalidDataException or EndOfStreamException => (422, "file.damaged"),
            PathTooLongException => (400, "request.invalid"),
            IOException io when (io.HResult & 0xFFFF) is NoSpace or NoQuota => (507, "storage.full"),
            _ => (500, "server.failed"),
        };

    private static int StatusOf(FaultKind kind) =>
        kind switch
        {
            FaultKind.Request => 400,
            FaultKind.Missing => 404,
            FaultKind.Taken => 409,
            FaultKind.Stale => 412,
            FaultKind.TooMany => 429,
            _ => 422,
        };
}
