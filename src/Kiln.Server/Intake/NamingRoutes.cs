using System.Security.Claims;
using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Looks.Ids;
using Kiln.Server.Platform.Security;
using Kiln.Store.Intake;

namespace Kiln.Server.Intake;

public sealed record NewNamingRule(NamingRule Rule, string? Reason);

public sealed record RuleSwitch(bool Enabled);

/// <param name="Deliveries">How many past deliveries would be read otherwise.</param>
public sealed record RuleEffect(int Files, int Deliveries, IReadOnlyList<NamingChange> Changes);

public sealed record TryName(string Name, NamingRule? With);

/// <summary>A name read by the rules in force: its tokens, and what it may mean, the likeliest first.</summary>
public sealed record TriedName(
    IReadOnlyList<ReadToken> Tokens,
    string Surface,
    string Likely,
    IReadOnlyList<string> Meanings,
    int? Resolution,
    int? Bits,
    int? Udim,
    int? Level
);

/// <param name="Phrases">Role to the phrases that name it, as shipped.</param>
public sealed record ShippedVocabulary(IReadOnlyDictionary<string, IReadOnlyList<string>> Phrases);

/// <summary>The studio's naming rules: seen, tried, added with a look at what they would change, switched off.</summary>
public static class NamingRoutes
{
    private const int MostChanges = 100;

    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/naming");
        group.MapGet("/rules", (NamingRuleRepository rules) => rules.ListAsync()).WithName("listNamingRules");
        group.MapGet("/words", () => new ShippedVocabulary(NamingTables.Shipped.PhrasesByMeaning())).WithName("shippedNamingWords");
        group
            .MapPost("/try", async (TryName request, NamingRuleRepository rules) =>
                Try(request.Name, NamingTables.With([.. await rules.InForceAsync(), .. Extra(request.With)]))
            )
            .WithName("tryName");
        group
            .MapPost("/effect", async (NamingRule rule, NamingRuleRepository rules, DeliveryRepository deliveries) =>
                await EffectAsync(rule, rules, deliveries)
            )
            .WithName("namingRuleEffect");
        group
            .MapPost("/rules", async (NewNamingRule request, NamingRuleRepository rules, ClaimsPrincipal user) =>
            {
                if (request.Rule.Fault is { } fault)
                    throw new DeliveryException(fault);
                await rules.AddAsync(request.Rule, user.PersonId(), request.Reason ?? "");
                return await rules.ListAsync();
            })
            .RequireAuthorization(Access.Works)
            .WithName("addNamingRule");
        group
            .MapPost("/rules/{id:guid}/switch", async (NamingRuleId id, RuleSwitch change, NamingRuleRepository rules) =>
                await rules.SwitchAsync(id, change.Enabled) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Works)
            .WithName("switchNamingRule");
        group
            .MapDelete("/rules/{id:guid}", async (NamingRuleId id, NamingRuleRepository rules) =>
                await rules.DeleteAsync(id) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Works)
            .WithName("deleteNamingRule");
    }

    private static NamingRule[] Extra(NamingRule? rule) =>
        rule is null ? []
        : rule.Fault is { } fault ? throw new DeliveryException(fault)
        : [rule];

    private static TriedName Try(string name, NamingTables tables)
    {
        if (name.Length is 0 or > 400)
            throw new DeliveryException("Type a file name of at most 400 characters.");
        var reading = NameReading.Of(name, tables);
        return new(
            reading.Tokens,
            reading.Candidates.Count > 0 ? reading.Candidates[0].Surface : reading.BareSurface,
            NamingEffects.Explanation(name, tables),
            [
                .. reading
                    .Candidates.OrderByDescending(c => c.Claim.Strength * c.Position)
                    .Select(c => $"{c.Claim.Meaning} (“{c.Phrase}”{(c.Claim.IsStudioRule ? ", studio rule" : "")}), surface “{c.Surface}”"),
            ],
            reading.Resolution,
            reading.Bits,
            reading.Udim,
            reading.Level
        );
    }

    private static async Task<RuleEffect> EffectAsync(NamingRule rule, NamingRuleRepository rules, DeliveryRepository deliveries)
    {
        if (rule.Fault is { } fault)
            throw new DeliveryException(fault);
        var inForce = await rules.InForceAsync();
        var (before, after) = (NamingTables.With(inForce), NamingTables.With([.. inForce, rule]));
        var changes = new List<(DeliveryId Delivery, NamingChange Change)>();
        foreach (var (delivery, name, path) in await deliveries.PathsAsync())
            changes.AddRange(NamingEffects.Between(before, after, [path]).Select(c => (delivery, c with { Path = $"{name}: {c.Path}" })));
        return new(changes.Count, changes.Select(c => c.Delivery).Distinct().Count(), [.. changes.Take(MostChanges).Select(c => c.Change)]);
    }
}
