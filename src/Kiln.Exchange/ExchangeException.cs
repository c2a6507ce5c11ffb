namespace Kiln.Exchange;

/// <summary>A document could not be read; the message is a sentence with the line where that is known.</summary>
public sealed class ExchangeException : Exception
{
    public ExchangeException(string message)
        : base(message) { }

    public ExchangeException(string message, Exception inner)
        : base(message, inner) { }
}
