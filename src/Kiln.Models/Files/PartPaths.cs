namespace Kiln.Models.Files;

/// <summary>Gives parts their paths: no two have the same, those of one name get _2, _3 in the order of the file.</summary>
public sealed class PartPaths
{
    private readonly HashSet<string> given = new(StringComparer.Ordinal);

    /// <summary>A path of its own below another.</summary>
    /// <param name="parent">Empty for the root.</param>
    public string Of(string parent, string name)
    {
        // A name may hold what parts names.
        var plain = name.Trim().Replace('/', '_');
        var path = $"{parent}/{(plain.Length == 0 ? "unnamed" : plain)}";
        var own = path;
        for (var n = 2; !given.Add(own); n++)
            own = $"{path}_{n}";
        return own;
    }
}
