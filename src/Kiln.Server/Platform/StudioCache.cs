using Microsoft.Extensions.Caching.Memory;
using Microsoft.Extensions.Options;
using ZiggyCreatures.Caching.Fusion;

namespace Kiln.Server.Platform;

/// <summary>
/// What is dear to make and asked for again: networks, surfaces, lights, measured costs, pictures under a pointer. One cache for all of
/// it, bounded by megabytes; each thing is made once for all who ask at the same time, and what failed is tried again. Its hits, misses
/// and evictions are metrics.
/// </summary>
public sealed class StudioCache : IDisposable
{
    /// <summary>Names of the meters: hits, misses, factory calls, evictions.</summary>
    public static readonly string[] Meters = [FusionCacheDiagnostics.MeterName, FusionCacheDiagnostics.MeterNameMemoryLevel];

    /// <summary>Of what does not fit, so much is thrown out at a time.</summary>
    private const double Compacted = 0.1;

    private const long Kilobytes = 1024;

    private static readonly TimeSpan Lasts = TimeSpan.FromHours(12);

    private readonly MemoryCache memory;
    private readonly FusionCache cache;

    public StudioCache(KilnSettings settings)
        : this(settings.CacheMegabytes) { }

    /// <param name="megabytes">What all of it may hold, by the sizes that are given with it.</param>
    public StudioCache(long megabytes)
    {
        memory = new(Options.Create(new MemoryCacheOptions { SizeLimit = megabytes * Kilobytes, CompactionPercentage = Compacted }));
        cache = new(
            Options.Create(
                new FusionCacheOptions
                {
                    CacheName = "studio",
                    DefaultEntryOptions = new(Lasts) { Size = Kilobytes },
                }
            ),
            memory
        );
    }

    /// <summary>What is kept under the key, or what is made now.</summary>
    /// <param name="kind">Keys of different kinds never meet.</param>
    /// <param name="megabytes">How large what was made is, at least 1; what is larger than the whole cache is not kept.</param>
    public Task<T> OnceAsync<T>(string kind, string key, Func<Task<T>> make, Func<T, long>? megabytes = null)
        where T : class => SizedAsync(kind, key, make, made => Kilobytes * Math.Max(1, megabytes?.Invoke(made) ?? 1));

    /// <inheritdoc cref="OnceAsync"/>
    /// <param name="kilobytes">Of things that are small and many.</param>
    public Task<T> SmallOnceAsync<T>(string kind, string key, Func<Task<T>> make, long kilobytes)
        where T : class => SizedAsync(kind, key, make, _ => kilobytes);

    private Task<T> SizedAsync<T>(string kind, string key, Func<Task<T>> make, Func<T, long> kilobytes)
        where T : class =>
        cache
            .GetOrSetAsync<T>($"{kind}/{key}", async (context, _) =>
            {
                // Who asks first must not be held by what the others wait for, nor end it by leaving.
                var made = await WorkAtHand.Apart(make);
                context.Options.Size = kilobytes(made);
                return made;
            })
            .AsTask();

    public void Dispose()
    {
        cache.Dispose();
        memory.Dispose();
    }
}
