using System.Collections.Concurrent;
using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Platform;

/// <summary>Somebody who has a look open.</summary>
public sealed record PresentPerson(string Name, string DisplayName);

/// <summary>Who has which look open, by connection.</summary>
public sealed class Presence
{
    private readonly ConcurrentDictionary<string, (Guid Look, PresentPerson Person)> open = new();

    public void Enter(string connection, Guid look, PresentPerson person) => open[connection] = (look, person);

    /// <returns>The look that the connection had open; null for none.</returns>
    public Guid? Leave(string connection) => open.TryRemove(connection, out var left) ? left.Look : null;

    public IReadOnlyList<PresentPerson> At(Guid look) => [.. open.Values.Where(o => o.Look == look).Select(o => o.Person).DistinctBy(p => p.Name).OrderBy(p => p.DisplayName, StringComparer.Ordinal)];
}

/// <summary>Tells everyone signed in how far deliveries are, when looks change, and who else has a look open.</summary>
public sealed class ProgressHub(Presence presence) : Hub
{
    /// <summary>This connection has a look open now; an empty identifier for none.</summary>
    public async Task Watch(Guid look)
    {
        await LeftAsync(presence.Leave(Context.ConnectionId));
        if (look == Guid.Empty)
            return;
        var user = Context.User!;
        presence.Enter(Context.ConnectionId, look, new(user.Identity!.Name!, user.FindFirst("display")?.Value ?? user.Identity.Name!));
        await ToldAsync(look);
    }

    public override async Task OnDisconnectedAsync(Exception? exception) => await LeftAsync(presence.Leave(Context.ConnectionId));

    private Task LeftAsync(Guid? look) => look is { } left ? ToldAsync(left) : Task.CompletedTask;

    private Task ToldAsync(Guid look) => Clients.All.SendAsync("presence", new { look, people = presence.At(look) });
}

public sealed record DeliveryProgress(Guid Id, string State, string Stage, int Done, int Total);
