using Kiln.Faults;
using Kiln.Looks.Ids;

namespace Kiln.Store.People;

/// <summary>Too much of one person waits already; the message is a sentence.</summary>
public sealed class TooManyOrdersException(string message) : KilnException(FaultKind.TooMany, "orders.many", message);

/// <summary>
/// How much of one person may wait or be made at a time, so that one person's orders do not keep everybody else's from being made.
/// </summary>
internal static class OrderLimit
{
    public const int Most = 8;

    /// <summary>
    /// Counts a person's unfinished orders; others of the same person wait until the transaction ends, so that many sent at once are
    /// counted too.
    /// </summary>
    /// <param name="unfinished">A query of one number, of @person.</param>
    /// <param name="words">What is ordered, in plural.</param>
    /// <exception cref="TooManyOrdersException">There are as many as may be.</exception>
    public static async Task CheckAsync(UnitOfWork c, PersonId person, string unfinished, string words)
    {
        await c.ExecuteAsync("select pg_advisory_xact_lock(hashtextextended(@key, 0))", new { key = $"orders/{words}/{person}" });
        if (await c.ExecuteScalarAsync<long>(unfinished, new { person }) >= Most)
            throw new TooManyOrdersException($"{Most} {words} of yours are not finished yet; wait for one of them, or cancel it.");
    }
}
