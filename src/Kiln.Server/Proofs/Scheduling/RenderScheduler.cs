using System.Collections.Concurrent;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels;
using Kiln.Proof.Rendering;

namespace Kiln.Server.Proofs.Scheduling;

/// <summary>A picture that a viewer has before it: light in a working space, and how it was displayed.</summary>
public sealed record ShownProof(ImageBuffer Light, WorkingSpace Working, View View, float Exposure);

/// <summary>
/// Shares the processors out among all that is rendered, by who waits for it: one of a rank at a time on all cores, one of a higher rank
/// before it. A viewer's newest request cancels the older one.
/// </summary>
public sealed class RenderScheduler
{
    private const int MostShown = 64;

    private readonly ConcurrentDictionary<string, (CancellationTokenSource Own, TaskCompletionSource Ended)> newest = new();
    private readonly ConcurrentDictionary<string, (ShownProof Proof, long Used)> shown = new();
    private long clock;

    /// <summary>
    /// Ends the viewer's older request and gives the token of the new one, and when the older one has let go of its picture.
    /// </summary>
    public (CancellationTokenSource Own, TaskCompletionSource Ended, Task OlderEnded) Begin(string viewer, CancellationToken request)
    {
        var own = CancellationTokenSource.CreateLinkedTokenSource(request);
        var (ended, olderEnded) = (new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously), Task.CompletedTask);
        newest.AddOrUpdate(viewer, (own, ended), (_, older) =>
        {
            try
            {
                older.Own.Cancel();
                olderEnded = older.Ended.Task;
            }
            catch (ObjectDisposedException)
            {
                // It had ended already.
            }
            return (own, ended);
        });
        return (own, ended, olderEnded);
    }

    /// <summary>Remembers the newest picture of a viewer, so that its pixels can be asked for.</summary>
    public void Keep(string viewer, ShownProof proof)
    {
        shown[viewer] = (proof, Interlocked.Increment(ref clock));
        foreach (var old in shown.OrderByDescending(s => s.Value.Used).Skip(MostShown))
            shown.TryRemove(old.Key, out _);
    }

    /// <summary>The newest picture of a viewer; null when there is none, or not any more.</summary>
    public ShownProof? Shown(string viewer) => shown.TryGetValue(viewer, out var kept) ? kept.Proof : null;

    public void End(string viewer, TaskCompletionSource ended)
    {
        ended.TrySetResult();
        if (newest.TryGetValue(viewer, out var last) && last.Ended == ended)
            newest.TryRemove(new(viewer, last));
    }

    /// <summary>How long rendering stands still after something urgent: a moving slider asks again at once.</summary>
    private const int Lingering = 150;

    private readonly LinkedList<(string Key, PathTracer Tracer)> suspended = new();
    private const int MostSuspended = 6;

    /// <summary>A proof that somebody began and left, to go on with; it is theirs alone until it is given back.</summary>
    public PathTracer? Resume(string key)
    {
        lock (suspended)
        {
            var found = suspended.FirstOrDefault(b => b.Key == key);
            if (found.Tracer is not null)
                suspended.Remove(found);
            return found.Tracer;
        }
    }

    /// <summary>Puts a proof aside, finished or not.</summary>
    public void Suspend(string key, PathTracer tracer)
    {
        lock (suspended)
        {
            suspended.AddFirst((key, tracer));
            while (suspended.Count > MostSuspended)
                suspended.RemoveLast();
        }
    }

    private int urgent;
    private long lastUrgent = long.MinValue / 2;

    /// <summary>Whether something small is being made that a person waits for, or was just now; rendering then stands still.</summary>
    public bool IsUrgent => Volatile.Read(ref urgent) > 0 || Environment.TickCount64 - Volatile.Read(ref lastUrgent) < Lingering;

    /// <summary>Runs something small before all rendering.</summary>
    public async Task<T> UrgentAsync<T>(Func<Task<T>> work)
    {
        Interlocked.Increment(ref urgent);
        try
        {
            return await work();
        }
        finally
        {
            Volatile.Write(ref lastUrgent, Environment.TickCount64);
            Interlocked.Decrement(ref urgent);
        }
    }

    private readonly SemaphoreSlim small = new(1);

    /// <summary>The right to make one small picture until it is given back; others of a wall wait for theirs.</summary>
    public async Task<IDisposable> SmallPictureSlotAsync(CancellationToken cancel)
    {
        await small.WaitAsync(cancel);
        return new Released(small);
    }

    private sealed class Released(SemaphoreSlim held) : IDisposable
    {
        public void Dispose() => held.Release();
    }

    private readonly FairQueue[] queues = [new(), new(), new()];

    /// <summary>How many of each rank wait or are rendered.</summary>
    private readonly int[] present = new int[3];

    /// <summary>For how long a batch stands behind what is shared out before it has a piece of its own, in milliseconds.</summary>
    private const int Patience = 1000;

    /// <summary>Runs one piece of rendering; between pieces others get their turn.</summary>
    /// <param name="piece">Stands still while what it is given says yes, which it asks every few milliseconds.</param>
    /// <param name="person">Who waits for it; people of a rank take turns.</param>
    public async Task<T> RenderAsync<T>(
        Func<Func<bool>, T> piece,
        CancellationToken cancel,
        RenderRank rank = RenderRank.Shared,
        string person = ""
    )
    {
        Interlocked.Increment(ref present[(int)rank]);
        try
        {
            var behind = Behind(rank);
            while (behind())
                await Task.Delay(Lingering / 10, cancel);
            return await queues[(int)rank].RunAsync(person, () => piece(Holding(rank)), cancel);
        }
        finally
        {
            Interlocked.Decrement(ref present[(int)rank]);
        }
    }

    /// <summary>The same for a piece too short to stand still.</summary>
    public Task<T> RenderAsync<T>(Func<T> piece, CancellationToken cancel, RenderRank rank = RenderRank.Shared, string person = "") =>
        RenderAsync(_ => piece(), cancel, rank, person);

    private Func<bool> Holding(RenderRank rank)
    {
        var behind = Behind(rank);
        return () => IsUrgent || behind();
    }

    /// <summary>Says whether a rank before this one has something to do; of what is shared out, for as long as patience lasts.</summary>
    private Func<bool> Behind(RenderRank rank)
    {
        var since = Environment.TickCount64;
        return () =>
            rank > RenderRank.Awaited && Volatile.Read(ref present[(int)RenderRank.Awaited]) > 0
            || rank > RenderRank.Shared
                && Volatile.Read(ref present[(int)RenderRank.Shared]) > 0
                && Environment.TickCount64 - since < Patience;
    }
}
