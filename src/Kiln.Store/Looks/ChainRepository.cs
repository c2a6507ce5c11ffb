using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Store.Looks;

/// <summary>Steps under a name, for use in any lane of any look.</summary>
public sealed record KeptChain(
    ChainId Id,
    string Name,
    [property: JsonPropertyName("words")] string Summary,
    ImmutableArray<Step> Steps,
    string MadeBy,
    DateTime Created
);

/// <summary>The studio's named chains of steps.</summary>
public sealed class ChainRepository(Database database)
{
    private sealed record Row(ChainId Id, string Name, string Summary, string Steps, string MadeBy, DateTime Created);

    public async Task<IReadOnlyList<KeptChain>> ListAsync()
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. (
                await c.QueryAsync<Row>(
                    "select k.id, k.name, k.words as Summary, k.steps, p.display_name as MadeBy, k.created from kept_chains k "
                        + "join people p on p.id = k.made_by order by k.name"
                )
            ).Select(r => new KeptChain(
                r.Id,
                r.Name,
                r.Summary,
                JsonSerializer.Deserialize<ImmutableArray<Step>>(r.Steps, LookJson.Options),
                r.MadeBy,
                r.Created
            )),
        ];
    }

    /// <exception cref="LookException">The name is taken or not fit, or there are no steps that stand by themselves.</exception>
    public async Task<ChainId> KeepAsync(string name, string summary, ImmutableArray<Step> steps, PersonId person)
    {
        if (name.Trim().Length is 0 or > 80 || name.Any(char.IsControl))
            throw new LookException("Saved steps need a name of 1 to 80 characters.");
        if (steps.IsEmpty)
            throw new LookException("There are no steps here to keep.");
        // A chain for every look cannot lean on one look's slots and sources.
        if (steps.SelectMany(StepSides.Chains).Any(LeansOnALook))
            throw new LookException("This chain uses maps or sources of its look in a side row; keep the steps that stand by themselves.");
        await using var c = await database.OpenAsync();
        var id = Ids.New<ChainId>();
        var written = await c.ExecuteAsync(
            "insert into kept_chains (id, name, words, steps, made_by) values (@id, @name, @summary, @steps, @person) on "
                + "conflict (name) do nothing",
            new
            {
                id,
                name = name.Trim(),
                summary = summary.Trim(),
                steps = JsonSerializer.Serialize(steps, LookJson.Options),
                person,
            }
        );
        return written > 0 ? id : throw new LookException($"The studio keeps a chain called '{name.Trim()}' already.");
    }

    public async Task<bool> RemoveAsync(ChainId id)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("delete from kept_chains where id = @id", new { id }) > 0;
    }

    private static bool LeansOnALook(Chain chain) =>
        chain.Origin is SlotOrigin or SourceOrigin || chain.Steps.SelectMany(StepSides.Chains).Any(LeansOnALook);
}
