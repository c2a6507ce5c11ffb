using Kiln.Dialects.Networks;

namespace Kiln.Exchange.Packages;

/// <summary>A variant of a look as the network it becomes.</summary>
/// <param name="Beside">The same surface in a dialect that can say more, for a document that holds both.</param>
public sealed record NetworkVariant(string Name, Network Network, Network? Beside = null)
{
    internal IEnumerable<Network> Networks => Beside is null ? [Network] : [Network, Beside];
}

internal static class NetworkVariants
{
    /// <summary>
    /// The look (first, as it is) and its variants with materials and texture files called so that nothing of one lies where something else
    /// of another does; what is the same lies in one place.
    /// </summary>
    public static IReadOnlyList<NetworkVariant> Apart(NetworkVariant plain, IReadOnlyList<NetworkVariant> variants)
    {
        var names = new WrittenNames();
        return
        [
            .. variants
                .Prepend(plain)
                .Select(v => v with { Network = names.Apart(v.Network), Beside = v.Beside is null ? null : names.TexturesApart(v.Beside) }),
        ];
    }
}
