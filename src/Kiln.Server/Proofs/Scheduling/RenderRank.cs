namespace Kiln.Server.Proofs.Scheduling;

/// <summary>Who goes before whom at the renderer. Each stands still within milliseconds while one before it has something to do.</summary>
public enum RenderRank
{
    /// <summary>Somebody has nothing before them yet.</summary>
    Awaited,

    /// <summary>Refinements, walls, small pictures, measurements that somebody asked for: in turn.</summary>
    Shared,

    /// <summary>Nobody waits for it with their hands still: pictures for files.</summary>
    Batch,
}
