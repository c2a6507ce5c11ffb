using System.Collections.Concurrent;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels;
using Kiln.Proof.Rendering;

namespace Kiln.Server.Proofs.Scheduling;

/// <summary>A picture that a viewer has before it: light in a working space, and how it was displayed.</summary>
public sealed record ShownProof(ImageBuffer Light, WorkingSpace Working, View View, float Exposure);

/// <summary>
/// The bounded queue of interactive proofs: one is rendered at a time on all cores, a viewer's newest request cancels the older one.
/// </summary>
public sealed class RenderScheduler
{
    private readonly FairQueue renderer = new();
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

    private int eager;

    /// <summary>Runs one piece of rendering; between pieces others get their turn.</summary>
    /// <param name="person">Who waits for it; people take turns.</param>
    /// <param name="isEager">Somebody has nothing before them yet: small pictures of walls and sheets stand back for these.</param>
    public async Task<T> RenderAsync<T>(Func<T> piece, CancellationToken cancel, bool isEager = false, string person = "")
    {
        if (!isEager)
        {
            while (Volatile.Read(ref eager) > 0)
                await Task.Delay(Lingering / 10, cancel);
            return await renderer.RunAsync(person, piece, cancel);
        }
        Interlocked.Increment(ref eager);
        try
        {
            return await renderer.RunAsync(person, piece, cancel);
        }
        finally
        {
            Interlocked.Decrement(ref eager);
        }
    }
}
