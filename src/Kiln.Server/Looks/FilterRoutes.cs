using System.Text.Json;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Server.Collecting;
using Kiln.Server.Platform.Security;
using Kiln.Store.Looks;

namespace Kiln.Server.Looks;

/// <summary>What is looked for, by a name.</summary>
public sealed record NewFilter(string Name, Dictionary<string, string> Query);

public sealed record FilterInfo(FilterId Id, string Name, Dictionary<string, string> Query);

/// <summary>Looks found, and what people look for again and again.</summary>
public static class FilterRoutes
{
    private const int LongestName = 60,
        MostConditions = 20,
        LongestCondition = 200;

    /// <summary>Looks that a search by measurements cannot see yet are measured from then on, so many at a time.</summary>
    private const int MeasuredAtOnce = 200;

    /// <summary>Says how many looks a search could not see, since they are still being measured.</summary>
    public const string Unmeasured = "X-Kiln-Unmeasured";

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet(
                "/looks",
                async ([AsParameters] LookQuery query, LookListRepository looks, Consistency consistency, HttpResponse response) =>
                {
                    if (query.AsksForMeasures && await looks.UnmeasuredAsync(MeasuredAtOnce) is { Count: > 0 } unseen)
                    {
                        await consistency.OfAsync(unseen);
                        response.Headers[Unmeasured] = unseen.Count.ToString(System.Globalization.CultureInfo.InvariantCulture);
                    }
                    return await looks.FindAsync(query);
                }
            )
            .WithName("listLooks");
        api.MapGet("/looks/finding-codes", (LookListRepository looks) => looks.FindingCodesAsync()).WithName("findingCodes");
        var group = api.MapGroup("/filters");
        group.MapGet("", async (FilterRepository filters, HttpContext http) => await ListAsync(filters, http)).WithName("listFilters");
        group
            .MapPost("", async (NewFilter request, FilterRepository filters, HttpContext http) =>
            {
                var name = request.Name.Trim();
                if (name.Length is 0 or > LongestName || name.Any(char.IsControl))
                    throw new LookException($"A filter needs a name of 1 to {LongestName} characters.");
                if (
                    request.Query.Count is 0 or > MostConditions
                    || request.Query.Any(q => q.Key.Length + q.Value.Length > LongestCondition)
                )
                    throw new LookException("There is nothing in it that could be looked for.");
                if ((await filters.OfAsync(http.User.PersonId())).Count >= FilterRepository.Most)
                    throw new LookException($"At most {FilterRepository.Most} filters are kept; remove one first.");
                await filters.KeepAsync(http.User.PersonId(), name, JsonSerializer.Serialize(request.Query));
                return await ListAsync(filters, http);
            })
            .WithName("keepFilter");
        group
            .MapDelete("/{id:guid}", async (FilterId id, FilterRepository filters, HttpContext http) =>
                await filters.RemoveAsync(http.User.PersonId(), id) ? Results.NoContent() : Results.NotFound()
            )
            .WithName("removeFilter");
    }

    private static async Task<IEnumerable<FilterInfo>> ListAsync(FilterRepository filters, HttpContext http) =>
        (await filters.OfAsync(http.User.PersonId())).Select(f => new FilterInfo(
            f.Id,
            f.Name,
            JsonSerializer.Deserialize<Dictionary<string, string>>(f.Query)!
        ));
}
