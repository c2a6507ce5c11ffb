using Kiln.Colour;
using Kiln.Dialects.Profiles;
using Kiln.Exchange;
using Kiln.Judge.Consistency;
using Kiln.Looks.Document;
using Kiln.Looks.Intake;
using Kiln.Pixels;
using Kiln.Store;
using Kiln.Store.Archives;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Platform;

/// <summary>Turns what went wrong into a problem document (RFC 9457) with a stable code and a sentence.</summary>
public sealed class ProblemSentences(IProblemDetailsService problems, ILogger<ProblemSentences> log) : IExceptionHandler
{
    public async ValueTask<bool> TryHandleAsync(HttpContext context, Exception exception, CancellationToken cancel)
    {
        if (exception is OperationCanceledException && context.RequestAborted.IsCancellationRequested)
            return true;
        var (status, code) = Kind(exception);
        if (status == 500)
            log.LogError(exception, "A request failed: {Path}", context.Request.Path);
        context.Response.StatusCode = status;
        var sentence = status == 500 ? "Something failed in the server. Nothing was half-written; try again, and tell the administrator if it stays so." : exception.Message;
        var details = new ProblemDetails { Status = status, Title = sentence, Type = $"urn:kiln:{code}" };
        details.Extensions["code"] = code;
        if (exception is LookConflictException conflict)
            details.Extensions["revision"] = conflict.Revision;
        return await problems.TryWriteAsync(new() { HttpContext = context, ProblemDetails = details, Exception = exception });
    }

    /// <summary>What a person is told of an exception where no problem document can be sent any more; null for what is our own fault.</summary>
    public static string? SentenceOf(Exception exception) => Kind(exception).Status == 500 ? null : exception.Message;

    private static (int Status, string Code) Kind(Exception exception) => exception switch
    {
        LookConflictException => (412, "look.conflict"),
        RulesConflictException => (412, "rules.conflict"),
        RuleException => (422, "rules.invalid"),
        LookException => (422, "look.invalid"),
        ArchiveException => (422, "archive.invalid"),
        DeliveryException => (422, "delivery.invalid"),
        PictureException => (422, "picture.unreadable"),
        ExchangeException => (422, "package.invalid"),
        ConfigException => (422, "config.invalid"),
        ProfileException => (422, "dialect.unknown"),
        FileNotFoundException => (404, "content.missing"),
        BadHttpRequestException bad => (bad.StatusCode, "request.invalid"),
        ArgumentException or FormatException or System.Text.Json.JsonException => (400, "request.invalid"),
        IOException => (507, "storage.failed"),
        _ => (500, "server.failed"),
    };
}
