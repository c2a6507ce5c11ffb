using Kiln.Faults;

namespace Kiln.Colour.Configs;

/// <summary>A config, or a part of it, that cannot be used; the message is a clause for people that says what and why.</summary>
public sealed class ConfigException(string message, Exception? inner = null)
    : KilnException(FaultKind.Unusable, "config.invalid", message, inner);
