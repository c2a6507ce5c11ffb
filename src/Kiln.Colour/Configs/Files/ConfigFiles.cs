namespace Kiln.Colour.Configs.Files;

/// <summary>Finds the files that a config names: along its search path, with its variables, and never outside its own folder.</summary>
internal sealed class ConfigFiles(OcioConfig config, string folder)
{
    /// <exception cref="ConfigException">The file does not exist, or lies elsewhere.</exception>
    public string Find(string name)
    {
        var resolved = Resolve(name).Replace('\\', '/');
        var outside = false;
        foreach (var path in config.SearchPath.DefaultIfEmpty(".").Select(Resolve))
        {
            var full = Path.GetFullPath(Path.Combine(folder, path, resolved));
            if (!Inside(full))
                outside = true;
            else if (File.Exists(full))
                // A link may lead out although its name does not.
                return File.ResolveLinkTarget(full, returnFinalTarget: true) is { } target && !Inside(target.FullName)
                    ? throw Outside(name)
                    : full;
        }
        throw outside ? Outside(name) : new ConfigException($"the file '{name}' is missing");
    }

    private static ConfigException Outside(string name) =>
        new($"the file '{name}' lies outside the config's folder, where nothing is read");

    private bool Inside(string full) => full.StartsWith(folder.TrimEnd('/') + "/", StringComparison.Ordinal);

    /// <summary>
    /// $NAME, ${NAME} and %NAME% from the config's own defaults; the process's environment is not looked at, so that a result does not
    /// depend on it.
    /// </summary>
    private string Resolve(string text)
    {
        for (var round = 0; round < 8 && text.AsSpan().ContainsAny('$', '%'); round++)
        {
            var before = text;
            foreach (var (key, value) in config.Environment.OrderByDescending(e => e.Key.Length))
                text = text.Replace("${" + key + "}", value, StringComparison.Ordinal)
                    .Replace("%" + key + "%", value, StringComparison.Ordinal)
                    .Replace("$" + key, value, StringComparison.Ordinal);
            if (text == before)
                break;
        }
        return text;
    }
}
