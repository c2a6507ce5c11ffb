using System.Security.Claims;
using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Looks.Ids;
using Kiln.Looks.Texts;
using Kiln.Server.Platform.Security;
using Kiln.Store.Intake;

namespace Kiln.Server.Intake;

public sealed record NewNamingRule(NamingRule Rule, string? Reason);

public sealed record RuleSwitch(bool Enabled);

/// <param name="Deliveries">How many past deliveries would be read otherwise.</param>
public sealed record RuleEffect(int Files, int Deliveries, IReadOnlyList<NamingChange> Changes);

/// <summary>The studio's naming rules as one text.</summary>
/// <param name="Stamp">Of the rules it was written from; it goes back with the text that replaces them.</param>
public sealed record NamingText(string Text, string Stamp);

public sealed record TriedNamingText(string Text);

/// <summary>What a text would change in the rules, and in the files of past deliveries.</summary>
/// <param name="Added">Rules that are new, as sentences; likewise those that go, and those that are switched.</param>
public sealed record NamingTextVerdict(
    IReadOnlyList<TextProblem> Problems,
    IReadOnlyList<string> Added,
    IReadOnlyList<string> Removed,
    IReadOnlyList<string> Switched,
    RuleEffect Effect
);

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
        group.MapGet("/rules/text", async (NamingRuleRepository rules) => Text(await rules.ListAsync())).WithName("namingRuleText");
        group
            .MapPost("/rules/try", (TriedNamingText tried, NamingRuleRepository rules, DeliveryRepository deliveries) =>
                TryTextAsync(tried.Text, rules, deliveries)
            )
            .WithName("tryNamingRules");
        group
            .MapPut("/rules/text", async (NamingText request, NamingRuleRepository rules, ClaimsPrincipal user) =>
            {
                var (wanted, problems) = NamingRuleText.Read(request.Text);
                return problems is [var first, ..]
                    ? throw new DeliveryException($"Line {first.Line}: {first.Sentence}")
                    : Text(await rules.ReplaceAsync(wanted, request.Stamp, user.PersonId()));
            })
            .RequireAuthorization(Access.Works)
            .WithName("keepNamingRules");
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

    private static NamingText Text(IReadOnlyList<KeptNamingRule> rules) =>
        new(NamingRuleText.Write(rules.Select(r => new StudioNamingRule(r.Rule, r.Enabled, r.Reason))), NamingRuleRepository.Stamp(rules));

    private static async Task<NamingTextVerdict> TryTextAsync(string text, NamingRuleRepository rules, DeliveryRepository deliveries)
    {
        var (wanted, problems) = NamingRuleText.Read(text);
        if (problems.Count > 0)
            return new(problems, [], [], [], new(0, 0, []));
        var kept = (await rules.ListAsync()).Select(r => new StudioNamingRule(r.Rule, r.Enabled)).ToList();
        // Rules are compared by what they say.
        var (before, after) = (kept.ToLookup(r => r.Rule.Sentence), wanted.ToLookup(r => r.Rule.Sentence));
        return new(
            [],
            [.. after.Where(r => !before.Contains(r.Key)).Select(r => r.Key)],
            [.. before.Where(r => !after.Contains(r.Key)).Select(r => r.Key)],
            [
                .. after
                    .Where(r => before.Contains(r.Key) && before[r.Key].Last().Enabled != r.Last().Enabled)
                    .Select(r => $"{r.Key}: {(r.Last().Enabled ? "on" : "off")}"),
            ],
            await EffectAsync(InForce(kept), InForce(wanted), deliveries)
        );
    }

    private static NamingTables InForce(IEnumerable<StudioNamingRule> rules) =>
        NamingTables.With([.. rules.Where(r => r.Enabled).Select(r => r.Rule)]);

    private static async Task<RuleEffect> EffectAsync(NamingRule rule, NamingRuleRepository rules, DeliveryRepository deliveries)
    {
        if (rule.Fault is { } fault)
            throw new DeliveryException(fault);
        var inForce = await rules.InForceAsync();
        return await EffectAsync(NamingTables.With(inForce), NamingTables.With([.. inForce, rule]), deliveries);
    }

    private static async Task<RuleEffect> EffectAsync(NamingTables before, NamingTables after, DeliveryRepository deliveries)
    {
        var changes = new List<(DeliveryId Delivery, NamingChange Change)>();
        foreach (var (delivery, name, path) in await deliveries.PathsAsync())
            changes.AddRange(NamingEffects.Between(before, after, [path]).Select(c => (delivery, c with { Path = $"{name}: {c.Path}" })));
        return new(changes.Count, changes.Select(c => c.Delivery).Distinct().Count(), [.. changes.Take(MostChanges).Select(c => c.Change)]);
    }
}
