using System.Diagnostics;
using System.Security.Cryptography;

namespace Kiln.Testing;

/// <summary>
/// How long something takes, by what the same machine needs at the same time for a known amount of work: the SHA-256 (FIPS 180-4) of some
/// megabytes. What only waited for a busy machine is tried again.
/// </summary>
public static class Yardstick
{
    private const int Tries = 4,
        MegabytesHashed = 64;

    /// <summary>The most that anything small and hostile may cost: the hash of a gigabyte, one to five seconds.</summary>
    public const double Soon = 1024;

    /// <summary>Fails where an action takes longer than the hash of so many megabytes, the quickest of four tries each.</summary>
    public static void Within(double megabytes, string what, Action action) => Check(megabytes, what, () => Quickest(action, 1));

    /// <inheritdoc cref="Within(double, string, Action)"/>
    /// <param name="taken">What the first try took, where it was made already.</param>
    public static void Within(double megabytes, string what, TimeSpan taken, Action again)
    {
        var first = true;
        Check(megabytes, what, () =>
        {
            var now = first ? taken : Quickest(again, 1);
            first = false;
            return now;
        });
    }

    /// <summary>The hash of so many megabytes on this machine, now.</summary>
    public static TimeSpan Hashing(double megabytes)
    {
        var bytes = new byte[MegabytesHashed << 20];
        return Quickest(() => SHA256.HashData(bytes), 2) * (megabytes / MegabytesHashed);
    }

    private static void Check(double megabytes, string what, Func<TimeSpan> take)
    {
        var (quickest, limit) = (TimeSpan.MaxValue, TimeSpan.Zero);
        for (var i = 0; i < Tries; i++)
        {
            var taken = take();
            quickest = taken < quickest ? taken : quickest;
            var now = Hashing(megabytes);
            limit = now > limit ? now : limit;
            if (quickest <= limit)
                return;
        }
        Assert.Fail($"{what} took {quickest.TotalSeconds:0.00} s; the SHA-256 of {megabytes:0} MB takes {limit.TotalSeconds:0.00} s here.");
    }

    private static TimeSpan Quickest(Action action, int times)
    {
        var quickest = TimeSpan.MaxValue;
        for (var i = 0; i < times; i++)
        {
            var clock = Stopwatch.StartNew();
            action();
            quickest = clock.Elapsed < quickest ? clock.Elapsed : quickest;
        }
        return quickest;
    }
}

/// <summary>Of many inputs the one that took longest, to be tried again.</summary>
public sealed class SlowestInput<T>
{
    private readonly Lock gate = new();
    private TimeSpan taken;
    private T? input;

    public TimeSpan Taken => taken;

    public void Read(T one, Action<T> read)
    {
        var clock = Stopwatch.StartNew();
        try
        {
            read(one);
        }
        finally
        {
            lock (gate)
                if (clock.Elapsed > taken)
                    (taken, input) = (clock.Elapsed, one);
        }
    }

    /// <summary>
    /// Fails where the slowest takes longer than the hash of so many megabytes whenever it is tried; what it throws is none of this.
    /// </summary>
    public void IsWithin(double megabytes, Action<T> read) =>
        Yardstick.Within(megabytes, "the slowest input", taken, () => Record.Exception(() => read(input!)));
}
