using Kiln.Faults;

namespace Kiln.Pixels;

/// <summary>
/// A picture could not be read or written. The message is a sentence for a person: what, why, and what to do where that helps.
/// </summary>
public sealed class PictureException(string message, Exception? inner = null)
    : KilnException(FaultKind.Unusable, "picture.unreadable", message, inner);
