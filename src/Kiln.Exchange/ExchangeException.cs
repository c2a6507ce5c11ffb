using Kiln.Faults;

namespace Kiln.Exchange;

/// <summary>A document could not be read; the message is a sentence with the line where that is known.</summary>
public sealed class ExchangeException(string message, Exception? inner = null)
    : KilnException(FaultKind.Unusable, "package.invalid", message, inner);
