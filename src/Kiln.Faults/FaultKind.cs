namespace Kiln.Faults;

/// <summary>What stands in the way, and so what a caller can do about it.</summary>
public enum FaultKind
{
    /// <summary>The request itself: it has to be put in another way.</summary>
    Request,

    /// <summary>What it names is not there.</summary>
    Missing,

    /// <summary>What it wants to make is there already, or cannot be parted with.</summary>
    Taken,

    /// <summary>Somebody else changed the thing in the meantime; what there is now has to be looked at first.</summary>
    Stale,

    /// <summary>A document, a file or an edit that was understood and cannot be used.</summary>
    Unusable,

    /// <summary>Too much of it at a time; later it is possible.</summary>
    TooMany,
}
