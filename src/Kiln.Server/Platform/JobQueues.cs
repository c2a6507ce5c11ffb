namespace Kiln.Server.Platform;

/// <summary>
/// Jobs by their weight. What a person waits for at the screen (deliveries, pictures) has a worker of its own, which minutes of batches and sheets never hold;
/// the other worker takes the heavy ones, and the light ones when there are none.
/// </summary>
public static class JobQueues
{
    public const string Light = "a-light", Heavy = "b-heavy";

    /// <summary>Where jobs of before the queues lie.</summary>
    public const string Before = "default";
}
