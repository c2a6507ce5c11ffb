using System.Security.Claims;
using Kiln.Analysis.Consistency;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Ids;
using Kiln.Looks.Readings;
using Kiln.Server.Platform.Security;
using Kiln.Store.Collections;
using Kiln.Store.Looks;

namespace Kiln.Server.Collecting;

/// <param name="Name">What is looked at, for the try-it line; null for none.</param>
public sealed record TriedRules(string Text, string? Name = null);

/// <summary>A look whose rules would be kept or broken otherwise.</summary>
public sealed record BrokenOtherwise(LookId Id, string Name, IReadOnlyList<string> Mended, IReadOnlyList<string> Broken);

/// <param name="Problem">Why the text cannot be read; null where it can.</param>
/// <param name="NameFits">Whether the tried name follows the pattern; null without either.</param>
/// <param name="Standing">Looks that keep every rule of the text, of how many.</param>
/// <param name="Breaking">Names of the looks that break a rule of the text, by the rule's identifier.</param>
/// <param name="Pending">Looks that are still being measured: rules about numbers do not know them yet.</param>
public sealed record RulesVerdict(
    string? Problem,
    bool? NameFits,
    IReadOnlyList<BrokenOtherwise> Effects,
    int Standing,
    int Looks,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Breaking,
    int Pending
);

/// <summary>One of a rule's fixed words.</summary>
public sealed record RuleChoice(string Id, string Label);

/// <summary>A rule as a form shows it, with what the looks of the collection have.</summary>
/// <param name="Choices">The words of a rule that is made of such; empty for others.</param>
/// <param name="Values">Numbers that the looks have, from the least, at most <see cref="RuleTrials.MostValues"/>, evenly taken.</param>
public sealed record RuleFieldFacts(
    string Id,
    string Label,
    string Group,
    RuleFieldKind Kind,
    string Unit,
    string Asks,
    IReadOnlyList<RuleChoice> Choices,
    IReadOnlyList<double> Values
);

public sealed record NewRules(string Text, int Revision);

/// <summary>The table of a collection and its rules: read by all, tried by all, set by leads.</summary>
public static class RuleRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/collections/{id:guid}");
        group.MapGet("/table", TableAsync).WithName("collectionTable");
        group
            .MapGet("/table.csv", async (CollectionId id, LookListRepository looks, Consistency consistency, RuleRepository rules) =>
                Results.Text(MeasureTable.Csv(await TableAsync(id, looks, consistency, rules)), "text/csv; charset=utf-8")
            )
            .WithName("collectionTableCsv");
        group
            .MapGet("/rules", async (CollectionId id, RuleRepository rules) =>
                await rules.FindAsync(id) ?? new RulesRow(0, "", "", DateTime.UnixEpoch)
            )
            .WithName("collectionRules");
        group.MapGet("/rules/fields", (CollectionId id, RuleTrials rules) => rules.FieldsAsync(id)).WithName("collectionRuleFields");
        group
            .MapPost("/rules/try", (CollectionId id, TriedRules tried, RuleTrials rules) => rules.TryAsync(id, tried))
            .WithName("tryRules");
        group
            .MapPut("/rules", (CollectionId id, NewRules request, RuleTrials rules, ClaimsPrincipal user) =>
                rules.KeepAsync(id, request, user.PersonId())
            )
            .RequireAuthorization(Access.Leads)
            .WithName("keepRules");
    }

    private static async Task<CollectionTable> TableAsync(
        CollectionId id,
        LookListRepository looks,
        Consistency consistency,
        RuleRepository rules
    )
    {
        var rows = await looks.DocumentsAsync(id);
        var (known, pending) = await consistency.OfAsync(rows);
        var asked = await InForceAsync(id, rules);
        return MeasureTable.Of(
            rows,
            known,
            pending,
            (row, look) => asked is null ? [] : RuleCheck.Of(asked, look, consistency.Knowledge(known.GetValueOrDefault(row.Id))),
            asked is not null
        );
    }

    internal static async Task<CollectionRules?> InForceAsync(CollectionId id, RuleRepository rules) =>
        (await rules.FindAsync(id))?.Text is { Length: > 0 } text ? CollectionRules.Read(text) : null;
}

/// <summary>Rules of a collection: what a text would change, and keeping it.</summary>
public sealed class RuleTrials(LookListRepository looks, Consistency consistency, RuleRepository ruleRepository, DialectProfiles profiles)
{
    public const int MostValues = 200;

    /// <summary>Every rule that there is, and where the looks of the collection stand.</summary>
    public async Task<IReadOnlyList<RuleFieldFacts>> FieldsAsync(CollectionId id)
    {
        var rows = await looks.DocumentsAsync(id);
        var (known, _) = await consistency.OfAsync(rows);
        var facts = rows.Select(r => (r.Readable().Look, Known: consistency.Knowledge(known.GetValueOrDefault(r.Id))))
            .Where(r => r.Look is not null)
            .ToList();
        return
        [
            .. RuleFields.All.Select(field => new RuleFieldFacts(
                field.Id,
                field.Label,
                field.Group,
                field.Kind,
                field.Unit,
                field.Asks,
                Choices(field.Id),
                Evenly([.. facts.SelectMany(f => field.ValuesOf(f.Look!, f.Known)).Select(v => v.Value).Where(double.IsFinite).Order()])
            )),
        ];
    }

    private IReadOnlyList<RuleChoice> Choices(string field) =>
        field switch
        {
            "maps" or "leastBits" => [.. MapRoles.All.Select(r => new RuleChoice(r.Id(), r.Label()))],
            "readings" => [.. ColourSpace.All.Where(s => !s.IsRaw).Select(s => new RuleChoice(s.Id.Text, s.Label))],
            "dialects" => [.. profiles.All.Select(p => new RuleChoice(p.Id, p.Title))],
            _ => [],
        };

    private static IReadOnlyList<double> Evenly(List<double> sorted) =>
        sorted.Count <= MostValues
            ? sorted
            : [.. Enumerable.Range(0, MostValues).Select(i => sorted[(int)((long)i * (sorted.Count - 1) / (MostValues - 1))])];

    /// <exception cref="RulesConflictException">Somebody kept others in the meantime.</exception>
    public Task<RulesRow> KeepAsync(CollectionId id, NewRules request, PersonId person)
    {
        // Asked for by name, so that one that is not here is told now.
        foreach (var dialect in CollectionRules.Read(request.Text).Dialects ?? [])
            profiles.Find(dialect);
        return ruleRepository.KeepAsync(id, request.Revision, request.Text, person);
    }

    public async Task<RulesVerdict> TryAsync(CollectionId id, TriedRules tried)
    {
        CollectionRules rules;
        try
        {
            rules = CollectionRules.Read(tried.Text);
        }
        catch (RuleException e)
        {
            return new(e.Message, null, [], 0, 0, new Dictionary<string, IReadOnlyList<string>>(), 0);
        }
        var rows = await looks.DocumentsAsync(id);
        var (known, pending) = await consistency.OfAsync(rows);
        var before = await RuleRoutes.InForceAsync(id, ruleRepository);
        var effects = new List<BrokenOtherwise>();
        var breaking = new Dictionary<string, List<string>>();
        var standing = 0;
        foreach (var row in rows)
        {
            if (row.Readable().Look is not { } look)
                continue;
            var facts = consistency.Knowledge(known.GetValueOrDefault(row.Id));
            var old = (before is null ? [] : RuleCheck.Of(before, look, facts)).Select(b => b.Sentence).ToList();
            var broken = RuleCheck.Of(rules, look, facts);
            foreach (var rule in broken.Select(b => b.Rule).Distinct())
                (breaking.TryGetValue(rule, out var names) ? names : breaking[rule] = []).Add(row.Name);
            var now = broken.Select(b => b.Sentence).ToList();
            standing += now.Count == 0 ? 1 : 0;
            if (!old.ToHashSet().SetEquals(now))
                effects.Add(new(row.Id, row.Name, [.. old.Except(now)], [.. now.Except(old)]));
        }
        return new(
            null,
            tried.Name is { Length: > 0 } name && rules.Pattern is { } pattern ? pattern.IsMatch(name) : null,
            effects,
            standing,
            rows.Count,
            breaking.ToDictionary(b => b.Key, b => (IReadOnlyList<string>)b.Value),
            pending
        );
    }
}
