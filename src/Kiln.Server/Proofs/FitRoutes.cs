using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Analysis.Fit;
using Kiln.Looks.Ids;
using Kiln.Server.Platform.Security;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Proofs;

/// <summary>One line of a fit as it goes: how far it is, or, last, what it found; or a sentence why it ended.</summary>
public sealed record FitLine(FitProgress? Progress = null, FitResult? Result = null, string? Trouble = null);

/// <param name="From">The dialect to be met; null for the look as itself.</param>
public sealed record FitQuery(
    [FromRoute(Name = "id")] LookId Id,
    [FromQuery(Name = "dialect")] string Dialect,
    [FromQuery(Name = "from")] string? From
);

/// <summary>
/// Searches trims for a look in a dialect while the person watches. Nothing is changed by it: what it finds is taken over by an edit.
/// </summary>
public static class FitRoutes
{
    private static readonly JsonSerializerOptions Lines = new(JsonSerializerDefaults.Web)
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    public static void Map(RouteGroupBuilder api) =>
        api.MapPost("/looks/{id:guid}/fit", FitAsync).Produces<FitLine>().RequireAuthorization(Access.Works).WithName("fitTrims");

    private static async Task FitAsync([AsParameters] FitQuery query, TrimFits fits, HttpContext http)
    {
        var cancel = http.RequestAborted;
        var fit = await fits.BeginAsync(query, http.User.Identity!.Name!, cancel);
        http.Response.ContentType = "application/x-ndjson";
        await foreach (var line in fit.ReadAllAsync(cancel))
        {
            await http.Response.WriteAsync(JsonSerializer.Serialize(line, Lines) + "\n", cancel);
            await http.Response.Body.FlushAsync(cancel);
        }
    }
}
