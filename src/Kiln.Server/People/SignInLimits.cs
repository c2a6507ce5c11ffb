using System.Threading.RateLimiting;
using Kiln.Server.Platform.Errors;

namespace Kiln.Server.People;

/// <summary>
/// Tries to sign in, counted by address and by account apart: whoever guesses from one address keeps nobody else out, and an account cannot
/// be tried from many.
/// </summary>
public sealed class SignInLimits : IDisposable
{
    private const int AMinuteFromOneAddress = 20,
        AMinuteForOneAccount = 60;
    private static readonly TimeSpan Window = TimeSpan.FromMinutes(1);

    private readonly PartitionedRateLimiter<string> byAddress = Limiter(AMinuteFromOneAddress),
        byAccount = Limiter(AMinuteForOneAccount);

    private static PartitionedRateLimiter<string> Limiter(int most) =>
        PartitionedRateLimiter.Create<string, string>(key =>
            RateLimitPartition.GetFixedWindowLimiter(key, _ => new() { PermitLimit = most, Window = Window })
        );

    /// <summary>Null where it may be tried; else the answer, which says when to try again.</summary>
    public IResult? Refusal(HttpContext http, string account)
    {
        using var address = byAddress.AttemptAcquire(SessionCookies.AddressOf(http));
        if (!address.IsAcquired)
            return Wait(
                http,
                address,
                "too-many-sign-ins",
                "Too many have tried to sign in from here within a minute. Wait a minute, then try again."
            );
        using var person = byAccount.AttemptAcquire(account);
        return person.IsAcquired
            ? null
            : Wait(http, person, "too-many-sign-ins", "This account was tried too often within a minute. Wait a minute, then try again.");
    }

    private static IResult Wait(HttpContext http, RateLimitLease lease, string code, string sentence)
    {
        var seconds = lease.TryGetMetadata(MetadataName.RetryAfter, out var after)
            ? (int)Math.Ceiling(after.TotalSeconds)
            : (int)Window.TotalSeconds;
        http.Response.Headers.RetryAfter = Math.Max(1, seconds).ToString(System.Globalization.CultureInfo.InvariantCulture);
        return Problems.Of(429, code, sentence);
    }

    public void Dispose()
    {
        byAddress.Dispose();
        byAccount.Dispose();
    }
}
