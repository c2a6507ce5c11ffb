namespace Kiln.Pixels;

/// <summary>
/// A picture could not be read or written. The message is a sentence for a person: what, why, and what to do where that helps.
/// </summary>
public sealed class PictureException : Exception
{
    public PictureException(string message)
        : base(message) { }

    public PictureException(string message, Exception inner)
        : base(message, inner) { }
}
