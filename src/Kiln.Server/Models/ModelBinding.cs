using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Overrides;
using Kiln.Models;
using Kiln.Models.Binding;
using Kiln.Models.Uvs;
using Kiln.Server.Intake;
using Kiln.Server.Platform;
using Kiln.Store.Models;
using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Models;

/// <summary>Which look lies on which part: by names, or because a person says so.</summary>
public sealed class ModelBinding(ModelRepository models, PartSettingsRepository settings, IHubContext<ProgressHub> hub)
{
    private const int MostParts = 10_000;

    private static readonly string[] Projections = [.. Enum.GetNames<ProjectionKind>().Select(k => k.ToLowerInvariant())];

    /// <summary>What names say of looks that were made of a delivery, on the models that came with it. What is not sure is asked.</summary>
    public async Task ByNameAsync(DeliveryId delivery, IReadOnlyList<WiredLook> looks)
    {
        foreach (var model in await models.ListAsync(delivery))
            await NamedAsync(model.Id, looks);
    }

    /// <summary>Tells all who look at a model of the delivery.</summary>
    public async Task TellAsync(DeliveryId delivery)
    {
        foreach (var model in await models.ListAsync(delivery))
            await TellAsync(model.Id);
    }

    /// <summary>The same for one model and all looks of the studio.</summary>
    public async Task ByNameAsync(ModelId model)
    {
        await NamedAsync(model, [.. (await models.LooksAsync()).Select(l => new WiredLook(l.Id, l.Name))]);
        await TellAsync(model);
    }

    /// <summary>The same for all models.</summary>
    public async Task ByNameAsync()
    {
        foreach (var model in await models.ListAsync())
            await ByNameAsync(model.Id);
    }

    /// <summary>Looks that have one name are all asked about.</summary>
    private async Task NamedAsync(ModelId model, IReadOnlyList<WiredLook> looks)
    {
        var named = looks.GroupBy(l => l.Name).ToDictionary(g => g.Key, g => g.Select(l => l.Id).ToArray());
        if (named.Count == 0)
            return;
        var parts = await models.PartsAsync(model);
        var said = new NameBinding(named.Keys).Of([.. parts.Select(p => new ModelPart(p.Path, p.Name, p.Material, [], [], [], null))]);
        var bound = said.Bindings.Select(b =>
            named[b.Set] is [var only]
                ? new NamedPart(b.Part, only, b.Confidence, [.. b.Evidence], [])
                : new NamedPart(b.Part, null, null, [], named[b.Set])
        );
        var asked = said.Questions.Select(q => new NamedPart(q.Part, null, null, [], [.. q.Candidates.SelectMany(c => named[c])]));
        await models.BindByNameAsync(model, bound.Concat(asked));
    }

    /// <returns>The parts that somebody else changed meanwhile; then nothing is changed.</returns>
    /// <exception cref="ArgumentException">No part is named, or too many.</exception>
    public async Task<IReadOnlyList<string>> PutOnAsync(ModelId model, IReadOnlyList<PartChange> parts, LookId? look)
    {
        if (parts.Count is 0 or > MostParts)
            throw new ArgumentException($"Say 1 to {MostParts} parts.");
        var changed = await models.PutOnAsync(model, [.. parts.DistinctBy(p => p.Path)], look);
        if (changed.Count == 0)
            await TellAsync(model);
        return changed;
    }

    /// <returns>The parts that somebody else changed meanwhile; then nothing is changed.</returns>
    /// <exception cref="ArgumentException">No part is named, or too many, or a projection that there is not.</exception>
    /// <exception cref="LookException">An override cannot be.</exception>
    public async Task<IReadOnlyList<string>> SettleAsync(ModelId model, IReadOnlyList<PartSettingsChange> changes)
    {
        if (changes.Count is 0 or > MostParts)
            throw new ArgumentException($"Say 1 to {MostParts} parts.");
        foreach (var change in changes)
        {
            PartOverrides.Check(change.Now.Own);
            if (change.Now.Projection is { } kind && !Projections.Contains(kind))
                throw new ArgumentException($"There is no projection '{kind}'; {string.Join(", ", Projections)} are.");
        }
        var changed = await settings.ChangeAsync(model, [.. changes.DistinctBy(p => p.Path)]);
        if (changed.Count == 0)
            await TellAsync(model);
        return changed;
    }

    /// <summary>Tells all who look at the model.</summary>
    public Task TellAsync(ModelId model) => hub.Clients.All.SendAsync("model", new { Id = model });
}
