namespace Kiln.Store;

/// <summary>What was asked for is not there: a look, a version, a collection. The message is a sentence.</summary>
/// <param name="code">Stable, such as look.missing.</param>
public sealed class MissingException(string code, string message) : Exception(message)
{
    public string Code { get; } = code;
}
