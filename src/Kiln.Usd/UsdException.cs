using Kiln.Faults;

namespace Kiln.Usd;

/// <summary>A layer cannot be read; the message is a sentence with the line where that is known.</summary>
public sealed class UsdException(string message) : KilnException(FaultKind.Unusable, "package.invalid", message);
