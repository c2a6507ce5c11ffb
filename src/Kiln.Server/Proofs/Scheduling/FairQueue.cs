namespace Kiln.Server.Proofs.Scheduling;

/// <summary>
/// One piece of work at a time. Of those who wait the person goes first who has had least of late, so that many panels of one do not leave
/// another waiting.
/// </summary>
public sealed class FairQueue
{
    /// <summary>What was had so long ago counts half.</summary>
    private const double HalfLifeSeconds = 5;

    private sealed record Waiting(string Person, TaskCompletionSource Go);

    private readonly Lock gate = new();
    private readonly LinkedList<Waiting> waiting = new();
    private readonly Dictionary<string, (double Seconds, long At)> had = [];
    private bool busy;

    public async Task<T> RunAsync<T>(string person, Func<T> piece, CancellationToken cancel)
    {
        await WaitAsync(person, cancel);
        var start = Environment.TickCount64;
        try
        {
            return await Task.Run(piece, cancel);
        }
        finally
        {
            Finished(person, (Environment.TickCount64 - start) / 1000.0);
        }
    }

    private async Task WaitAsync(string person, CancellationToken cancel)
    {
        var own = new Waiting(person, new(TaskCreationOptions.RunContinuationsAsynchronously));
        LinkedListNode<Waiting> place;
        lock (gate)
        {
            if (!busy)
            {
                busy = true;
                return;
            }
            place = waiting.AddLast(own);
        }
        await using var stop = cancel.Register(() =>
        {
            lock (gate)
                if (place.List is not null)
                {
                    waiting.Remove(place);
                    own.Go.TrySetCanceled(cancel);
                }
        });
        await own.Go.Task;
    }

    private void Finished(string person, double seconds)
    {
        lock (gate)
        {
            had[person] = (Had(person) + Math.Max(seconds, 0.001), Environment.TickCount64);
            if (waiting.Count == 0)
            {
                busy = false;
                return;
            }
            var next = waiting.First!;
            for (var node = next.Next; node is not null; node = node.Next)
                if (Had(node.Value.Person) < Had(next.Value.Person))
                    next = node;
            waiting.Remove(next);
            next.Value.Go.TrySetResult();
        }
    }

    private double Had(string person) =>
        had.TryGetValue(person, out var h) ? h.Seconds * Math.Pow(0.5, (Environment.TickCount64 - h.At) / 1000.0 / HalfLifeSeconds) : 0;
}
