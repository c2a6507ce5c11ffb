using Kiln.Faults;

namespace Kiln.Models;

/// <summary>A model's file could not be read; the message is a sentence for people.</summary>
public sealed class ModelException(string message, Exception? inner = null)
    : KilnException(FaultKind.Unusable, "model.invalid", message, inner);
