using System.Text.Json;
using Kiln.Intake.Naming;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;

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
}
