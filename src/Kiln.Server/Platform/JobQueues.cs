namespace Kiln.Server.Platform;

/// <summary>
/// Jobs by their weight. What a person waits for at the screen (deliveries, pictures) has a worker of its own, which minutes of batches and
/// sheets never hold;
/// the other worker takes the heavy ones, and the light ones when there are none.
/// </summary>
public static class JobQueues
{
    public const string Light = "a-light",
        Heavy = "b-heavy";

    /// <summary>
    /// A change of a job's state takes milliseconds. A server that was killed in the middle of one leaves its lock behind, and the worker
    /// that takes the job up waits for that lock;
    /// by itself it would for ten minutes, with everything behind it.
    /// </summary>
    public static readonly TimeSpan LockLasts = TimeSpan.FromSeconds(15);

    /// <summary>Where jobs of before the queues lie.</summary>
    public const string Before = "default";
}
