using System.Collections.Concurrent;
using Kiln.Looks.Ids;
using Kiln.Server.People;
using Kiln.Store.People;
using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Platform;

/// <summary>Somebody who has a look open.</summary>
public sealed record PresentPerson(string Name, string DisplayName);

/// <summary>Who has which look open, by connection.</summary>
public sealed class Presence
{
    private readonly ConcurrentDictionary<string, (LookId Look, PresentPerson Person)> open = new();

    public void Enter(string connection, LookId look, PresentPerson person) => open[connection] = (look, person);

    /// <returns>The look that the connection had open; null for none.</returns>
    public LookId? Leave(string connection) => open.TryRemove(connection, out var left) ? left.Look : null;

    public IReadOnlyList<PresentPerson> At(LookId look) =>
        [
            .. open
                .Values.Where(o => o.Look == look)
                .Select(o => o.Person)
                .DistinctBy(p => p.Name)
                .OrderBy(p => p.DisplayName, StringComparer.Ordinal),
        ];
}

/// <summary>Who listens, by the session that let them in: one that ends is cut off.</summary>
public sealed class Listeners(SessionRepository sessions)
{
    private readonly ConcurrentDictionary<string, (SessionId Session, HubCallerContext Context)> open = new();

    public void Add(HubCallerContext context)
    {
        if (context.User is { } user && SessionCookies.SessionOf(user) is { } session)
            open[context.ConnectionId] = (session, context);
        else
            context.Abort();
    }

    public void Remove(string connection) => open.TryRemove(connection, out _);

    /// <summary>Ends the connections of sessions that stand no more.</summary>
    public async Task CloseEndedAsync()
    {
        foreach (var session in open.Values.Select(o => o.Session).Distinct().ToList())
            if (await sessions.StandingAsync(session) is null)
                foreach (var (_, context) in open.Values.Where(o => o.Session == session).ToList())
                    context.Abort();
    }
}

/// <summary>Sessions also end elsewhere: on another server, by the command line.</summary>
public sealed class SessionEndBroadcast(Listeners listeners, ILogger<SessionEndBroadcast> log) : BackgroundService
{
    private static readonly TimeSpan Between = TimeSpan.FromSeconds(20);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Between);
        while (await timer.WaitForNextTickAsync(stoppingToken))
            try
            {
                await listeners.CloseEndedAsync();
            }
            catch (Npgsql.NpgsqlException e)
            {
                log.LogWarning(e, "Whether sessions stand could not be asked; it is asked again");
            }
    }
}

/// <summary>Tells everyone signed in how far deliveries are, when looks change, and who else has a look open.</summary>
public sealed class ProgressHub(Presence presence, Listeners listeners) : Hub
{
    /// <summary>This connection has a look open now; an empty identifier for none.</summary>
    public async Task Watch(LookId look)
    {
        await LeftAsync(presence.Leave(Context.ConnectionId));
        if (look.Value == Guid.Empty)
            return;
        var user = Context.User!;
        presence.Enter(Context.ConnectionId, look, new(user.Identity!.Name!, user.FindFirst("display")?.Value ?? user.Identity.Name!));
        await AnnounceAsync(look);
    }

    public override Task OnConnectedAsync()
    {
        listeners.Add(Context);
        return base.OnConnectedAsync();
    }

    public override async Task OnDisconnectedAsync(Exception? exception)
    {
        listeners.Remove(Context.ConnectionId);
        await LeftAsync(presence.Leave(Context.ConnectionId));
    }

    private Task LeftAsync(LookId? look) => look is { } left ? AnnounceAsync(left) : Task.CompletedTask;

    private Task AnnounceAsync(LookId look) => Clients.All.SendAsync("presence", new { look, people = presence.At(look) });
}

public sealed record DeliveryProgress(DeliveryId Id, string State, string Stage, int Done, int Total);
