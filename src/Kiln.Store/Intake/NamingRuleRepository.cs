using System.Text;
using System.Text.Json;
using Kiln.Faults;
using Kiln.Intake.Naming;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Pixels;

namespace Kiln.Store.Intake;

/// <summary>A naming rule as the studio keeps it: who made it, why, and whether it is in force.</summary>
public sealed record KeptNamingRule(NamingRuleId Id, NamingRule Rule, bool Enabled, string Author, string Reason, DateTime Created);

/// <summary>Studio rules about names, the oldest first; later ones win about the same phrase.</summary>
public sealed class NamingRuleRepository(Database database)
{
    private sealed record Row(NamingRuleId Id, string Rule, bool Enabled, string Author, string Reason, DateTime Created);

    public async Task<IReadOnlyList<KeptNamingRule>> ListAsync()
    {
        await using var c = await database.OpenAsync();
        return await ListAsync(c);
    }

    private static async Task<IReadOnlyList<KeptNamingRule>> ListAsync(UnitOfWork c)
    {
        var rows = await c.QueryAsync<Row>(
            "select r.id, r.rule, r.enabled, p.display_name as author, r.reason, r.created from naming_rules r join people p on "
                + "p.id = r.author order by r.created, r.id"
        );
        return
        [
            .. rows.Select(r => new KeptNamingRule(
                r.Id,
                JsonSerializer.Deserialize<NamingRule>(r.Rule, LookJson.Options)!,
                r.Enabled,
                r.Author,
                r.Reason,
                r.Created
            )),
        ];
    }

    /// <summary>The rules in force.</summary>
    public async Task<IReadOnlyList<NamingRule>> InForceAsync() => [.. (await ListAsync()).Where(r => r.Enabled).Select(r => r.Rule)];

    public async Task<NamingRuleId> AddAsync(NamingRule rule, PersonId author, string reason)
    {
        var id = Ids.New<NamingRuleId>();
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "insert into naming_rules (id, rule, author, reason) values (@id, @rule, @author, @reason)",
            new
            {
                id,
                rule = JsonSerializer.Serialize(rule, LookJson.Options),
                author,
                reason,
            }
        );
        return id;
    }

    public async Task<bool> SwitchAsync(NamingRuleId id, bool enabled)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("update naming_rules set enabled = @enabled where id = @id", new { id, enabled }) == 1;
    }

    public async Task<bool> DeleteAsync(NamingRuleId id)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("delete from naming_rules where id = @id", new { id }) == 1;
    }

    /// <summary>
    /// Makes the rules those of a list. A rule that stays keeps its author and date, whatever else of it changes; the rest are added and
    /// removed.
    /// </summary>
    /// <param name="seen">The stamp of the rules that the person saw.</param>
    /// <exception cref="NamingConflictException">Somebody changed them in the meantime; nothing was written.</exception>
    public async Task<IReadOnlyList<KeptNamingRule>> ReplaceAsync(IReadOnlyList<StudioNamingRule> rules, string seen, PersonId author)
    {
        await using var c = await database.BeginAsync();
        // One at a time, so that what was compared is what is replaced.
        await c.ExecuteAsync("lock table naming_rules in share row exclusive mode", new { });
        var before = await ListAsync(c);
        if (Stamp(before) != seen)
            throw new NamingConflictException();
        var left = before.ToList();
        foreach (var wanted in rules)
        {
            var json = JsonSerializer.Serialize(wanted.Rule, LookJson.Options);
            if (left.Find(k => JsonSerializer.Serialize(k.Rule, LookJson.Options) == json) is { } kept)
            {
                left.Remove(kept);
                await c.ExecuteAsync(
                    "update naming_rules set enabled = @Enabled, reason = @Reason where id = @Id",
                    new
                    {
                        wanted.Enabled,
                        wanted.Reason,
                        kept.Id,
                    }
                );
            }
            else
                await c.ExecuteAsync(
                    "insert into naming_rules (id, rule, enabled, author, reason, created) "
                        + "values (@id, @json, @Enabled, @author, @Reason, clock_timestamp())",
                    new
                    {
                        id = Ids.New<NamingRuleId>(),
                        json,
                        wanted.Enabled,
                        author,
                        wanted.Reason,
                    }
                );
        }
        foreach (var gone in left)
            await c.ExecuteAsync("delete from naming_rules where id = @Id", new { gone.Id });
        var result = await ListAsync(c);
        await c.CommitAsync();
        return result;
    }

    /// <summary>Changes with every rule that is added, removed, switched or given another reason.</summary>
    public static string Stamp(IReadOnlyList<KeptNamingRule> rules) =>
        ContentHash.Of(Encoding.UTF8.GetBytes(string.Concat(rules.Select(r => $"{r.Id} {r.Enabled} {r.Reason}\n")))).ToString()[..16];
}

/// <summary>Somebody else changed the naming rules in the meantime; nothing was written.</summary>
public sealed class NamingConflictException()
    : KilnException(
        FaultKind.Stale,
        "naming.conflict",
        "Somebody changed the naming rules in the meantime. Nothing of yours was written; look at theirs first."
    );
