using System.Collections.Concurrent;

namespace Kiln.Server.Proofs;

/// <summary>
/// The bounded queue of interactive proofs: one is rendered at a time on all cores, a viewer's newest request cancels the older one.
/// </summary>
public sealed class ProofDesk
{
    private readonly SemaphoreSlim renderer = new(1);
    private readonly ConcurrentDictionary<string, CancellationTokenSource> newest = new();

    /// <summary>Ends the viewer's older request and gives the token of the new one.</summary>
    public CancellationTokenSource Begin(string viewer, CancellationToken request)
    {
        var own = CancellationTokenSource.CreateLinkedTokenSource(request);
        newest.AddOrUpdate(viewer, own, (_, older) =>
        {
            try
            {
                older.Cancel();
            }
            catch (ObjectDisposedException)
            {
                // It had ended already.
            }
            return own;
        });
        return own;
    }

    public void End(string viewer, CancellationTokenSource own) => newest.TryRemove(new(viewer, own));

    /// <summary>Runs one piece of rendering; between pieces others get their turn.</summary>
    public async Task<T> TurnAsync<T>(Func<T> piece, CancellationToken cancel)
    {
        await renderer.WaitAsync(cancel);
        try
        {
            return await Task.Run(piece, cancel);
        }
        finally
        {
            renderer.Release();
        }
    }
}
