using Kiln.Dialects.Networks;
using Kiln.Looks.Document;

namespace Kiln.Exchange.Packages;

/// <summary>A variant of a look, or the look as it is, as it was compiled.</summary>
/// <param name="Beside">In the dialect beside the profile's own, where that is useful.</param>
public sealed record CompiledVariant(string Name, CompiledLook Compiled, CompiledLook? Beside = null)
{
    internal NetworkVariant AsNetwork => new(Name, Compiled.Network, Beside?.Network);

    /// <summary>The look as it is, then all its variants.</summary>
    /// <param name="compile">In the profile's dialect.</param>
    /// <param name="beside">In the one beside it; null where there is none.</param>
    public static async Task<IReadOnlyList<CompiledVariant>> AllAsync(
        Look look,
        Func<Look, Task<CompiledLook>> compile,
        Func<Look, Task<CompiledLook>>? beside
    )
    {
        var result = new List<CompiledVariant> { await OfAsync("", look, compile, beside) };
        foreach (var variant in look.Variants)
            result.Add(await OfAsync(variant.Name, look.As(variant), compile, beside));
        return result;
    }

    /// <summary>Another network is useful where the dialect's own does not say all.</summary>
    private static async Task<CompiledVariant> OfAsync(
        string name,
        Look look,
        Func<Look, Task<CompiledLook>> compile,
        Func<Look, Task<CompiledLook>>? beside
    )
    {
        var compiled = await compile(look);
        var isWhole = compiled.Report is { Approximated: [], Lost: [] };
        return new(name, compiled, isWhole || beside is null ? null : await beside(look));
    }
}
