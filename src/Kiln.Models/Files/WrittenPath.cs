namespace Kiln.Models.Files;

/// <summary>Paths as files of models have them.</summary>
internal static class WrittenPath
{
    /// <summary>With slashes, and without blanks around it.</summary>
    public static string Plain(string written) => written.Replace('\\', '/').Trim();

    /// <param name="folder">Of the model's file, with slashes; empty for the root.</param>
    /// <returns>The path from the root; null where it leads out of that, begins at the root of a machine, or is none.</returns>
    public static string? Within(string folder, string written)
    {
        var path = Plain(written);
        if (path.Length == 0 || path[0] == '/' || path.Length > 1 && path[1] == ':' || path.Contains('\0') || path.Contains("://"))
            return null;
        var parts = folder.Split('/', StringSplitOptions.RemoveEmptyEntries).ToList();
        foreach (var part in path.Split('/'))
            if (part == ".." && parts.Count == 0)
                return null;
            else if (part == "..")
                parts.RemoveAt(parts.Count - 1);
            else if (part is not ("" or "."))
                parts.Add(part);
        return parts.Count == 0 ? null : string.Join('/', parts);
    }
}
