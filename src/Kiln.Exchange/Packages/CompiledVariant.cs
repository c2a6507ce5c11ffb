using Kiln.Dialects.Networks;
using Kiln.Looks.Document;

namespace Kiln.Exchange.Packages;

/// <summary>A variant of a look as it was compiled.</summary>
public sealed record CompiledVariant(string Name, CompiledLook Compiled)
{
    /// <summary>All variants of a look.</summary>
    public static async Task<IReadOnlyList<CompiledVariant>> AllAsync(Look look, Func<Look, Task<CompiledLook>> compile)
    {
        var result = new List<CompiledVariant>();
        foreach (var variant in look.Variants)
            result.Add(new(variant.Name, await compile(look.As(variant))));
        return result;
    }
}
