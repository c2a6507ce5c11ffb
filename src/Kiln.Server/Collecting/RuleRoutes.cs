using System.Security.Claims;
using Kiln.Analysis.Consistency;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Ids;
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
public sealed record RulesVerdict(string? Problem, bool? NameFits, IReadOnlyList<BrokenOtherwise> Effects, int Standing, int Looks);

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
        return MeasureTable.Of(rows, known, pending, await InForceAsync(id, rules));
    }

    internal static async Task<CollectionRules?> InForceAsync(CollectionId id, RuleRepository rules) =>
        (await rules.FindAsync(id))?.Text is { Length: > 0 } text ? CollectionRules.Read(text) : null;
}

/// <summary>Rules of a collection: what a text would change, and keeping it.</summary>
public sealed class RuleTrials(LookListRepository looks, Consistency consistency, RuleRepository ruleRepository, DialectProfiles profiles)
{
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
            return new(e.Message, null, [], 0, 0);
        }
        var rows = await looks.DocumentsAsync(id);
        var (known, _) = await consistency.OfAsync(rows);
        var before = await RuleRoutes.InForceAsync(id, ruleRepository);
        var effects = new List<BrokenOtherwise>();
        var standing = 0;
        foreach (var row in rows)
        {
            if (row.Readable().Look is not { } look)
                continue;
            var of = known.GetValueOrDefault(row.Id);
            var facts = new LookKnowledge(of?.Measures, of?.Lossy ?? [], of?.Bytes ?? 0);
            var old = (before is null ? [] : RuleCheck.Of(before, look, facts)).Select(b => b.Sentence).ToList();
            var now = RuleCheck.Of(rules, look, facts).Select(b => b.Sentence).ToList();
            standing += now.Count == 0 ? 1 : 0;
            if (!old.ToHashSet().SetEquals(now))
                effects.Add(new(row.Id, row.Name, [.. old.Except(now)], [.. now.Except(old)]));
        }
        return new(
            null,
            tried.Name is { Length: > 0 } name && rules.Pattern is { } pattern ? pattern.IsMatch(name) : null,
            effects,
            standing,
            rows.Count
        );
    }
}
