namespace Kiln.Browser.Tests;

/// <summary>axe-core in the page that is open.</summary>
internal static class Axe
{
    /// <summary>
    /// Violations of the page at rest, however slight, one a line with what axe measured; empty when there are none.
    /// What is half faded in or out has no contrast of its own, so everything that ends by itself is waited for.
    /// </summary>
    public static string Faults(Browser browser)
    {
        browser.Driver.ExecuteScript(File.ReadAllText(Script()));
        return (string?)
            browser.Driver.ExecuteAsyncScript(
                """
                const done = arguments[0];
                const ends = a => a.effect.getComputedTiming().endTime !== Infinity;
                const moving = () => document.getAnimations().filter(a => a.playState === 'running' && ends(a));
                const rest = async () => {
                  for (let turns = 0; turns < 20 && moving().length; turns++)
                    await Promise.allSettled(moving().map(a => a.finished));
                };
                rest().then(() => axe.run({ resultTypes: ['violations'] })).then(r => done(r.violations
                  .map(v => v.id + ': ' + v.nodes.slice(0, 2).map(n => n.html + ' ' + n.failureSummary).join(' | '))
                  .join('\n')));
                """
            )
            ?? "";
    }

    private static string Script() => Repository.Path("web", "node_modules", "axe-core", "axe.min.js");
}
