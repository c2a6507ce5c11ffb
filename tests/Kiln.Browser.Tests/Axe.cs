namespace Kiln.Browser.Tests;

/// <summary>axe-core in the page that is open.</summary>
internal static class Axe
{
    /// <summary>Serious and critical violations, one a line; empty when there are none.</summary>
    public static string Faults(Browser browser)
    {
        browser.Driver.ExecuteScript(File.ReadAllText(Script()));
        return (string?)browser.Driver.ExecuteAsyncScript(
            "const done = arguments[0]; axe.run({ resultTypes: ['violations'] }).then(r => done(r.violations.filter(v => ['serious','critical'].includes(v.impact)).map(v => v.id + ': ' + v.nodes.map(n => n.html).slice(0, 2).join(' | ')).join('\\n')))") ?? "";
    }

    private static string Script()
    {
        for (var folder = AppContext.BaseDirectory; folder is not null; folder = Path.GetDirectoryName(folder))
            if (File.Exists(Path.Combine(folder, "web", "node_modules", "axe-core", "axe.min.js")))
                return Path.Combine(folder, "web", "node_modules", "axe-core", "axe.min.js");
        throw new InvalidOperationException("axe-core is not installed; run ./test.");
    }
}
