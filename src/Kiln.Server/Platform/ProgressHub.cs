using Microsoft.AspNetCore.SignalR;

namespace Kiln.Server.Platform;

/// <summary>Tells everyone signed in how far deliveries are, and when looks change.</summary>
public sealed class ProgressHub : Hub;

public sealed record DeliveryProgress(Guid Id, string State, string Stage, int Done, int Total);
