namespace Kiln.Server.Platform;

/// <summary>
/// What stops the work at hand: of a request, that nobody waits for its answer any more. The database asks for it whenever it is opened,
/// so that no query goes on for somebody who has left. Jobs and what others wait for too go on to their end.
/// </summary>
public static class WorkAtHand
{
    private static readonly AsyncLocal<CancellationToken> Token = new();

    public static CancellationToken Stops => Token.Value;

    /// <summary>Everything that a request does, as middleware.</summary>
    public static async Task OfRequestAsync(HttpContext http, RequestDelegate next)
    {
        Token.Value = http.RequestAborted;
        await next(http);
    }

    /// <summary>On a thread of its own and to its end, whoever asked for it first: others wait for it, or nobody does.</summary>
    /// <param name="cancel">What stops it all the same.</param>
    public static Task<T> Apart<T>(Func<Task<T>> work, CancellationToken cancel = default) =>
        Task.Run(
            () =>
            {
                Token.Value = CancellationToken.None;
                return work();
            },
            cancel
        );

    /// <inheritdoc cref="Apart{T}(Func{Task{T}}, CancellationToken)"/>
    public static Task Apart(Func<Task> work, CancellationToken cancel = default) =>
        Apart(
            async () =>
            {
                await work();
                return true;
            },
            cancel
        );
}
