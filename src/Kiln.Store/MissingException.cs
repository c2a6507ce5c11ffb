using Kiln.Faults;

namespace Kiln.Store;

/// <summary>What was asked for is not there: a look, a version, a collection. The message is a sentence.</summary>
/// <param name="code">Stable, such as look.missing.</param>
public sealed class MissingException(string code, string message) : KilnException(FaultKind.Missing, code, message);
