using Kiln.Looks.Ids;

namespace Kiln.Server.Viewport;

/// <summary>Makes beforehand what the first who opens a bench would wait for.</summary>
public sealed class ViewportPreparation(ViewportScenes scenes, ViewportLooks looks)
{
    /// <summary>The form, light and view that a bench opens with.</summary>
    public Task OfEveryBenchAsync() => scenes.PrepareAsync();

    /// <summary>What stands in for a look's maps.</summary>
    public Task OfLookAsync(LookId id, CancellationToken cancel) => looks.PrepareAsync(id, cancel);
}
