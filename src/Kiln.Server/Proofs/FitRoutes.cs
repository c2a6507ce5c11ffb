using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Analysis.Fit;

namespace Kiln.Server.Proofs;

/// <summary>One line of a fit as it goes: how far it is, or, last, what it found; or a sentence why it ended.</summary>
public sealed record FitLine(FitProgress? Progress = null, FitResult? Result = null, string? Trouble = null);

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
        api.MapPost("/looks/{id:guid}/fit", FitAsync).Produces<FitLine>().RequireAuthorization("artist").WithName("fitTrims");

    /// <param name="from">The dialect to be met; null for the look as itself.</param>
    private static async Task FitAsync(Guid id, string dialect, string? from, TrimFits fits, HttpContext http)
    {
        var cancel = http.RequestAborted;
        var fit = await fits.BeginAsync(id, dialect, from, http.User.Identity!.Name!, cancel);
        http.Response.ContentType = "application/x-ndjson";
        await foreach (var line in fit.ReadAllAsync(cancel))
        {
            await http.Response.WriteAsync(JsonSerializer.Serialize(line, Lines) + "\n", cancel);
            await http.Response.Body.FlushAsync(cancel);
        }
    }
}
