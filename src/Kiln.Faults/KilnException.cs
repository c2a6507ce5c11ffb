namespace Kiln.Faults;

/// <summary>
/// Something that a person or a script can mend: what went wrong by kind, by a code that stays, and in a sentence for people that names
/// what, why and, where that helps, what to do. Whatever else is thrown is our own fault.
/// </summary>
/// <param name="code">Two words with a dot, such as look.missing; scripts rely on it.</param>
/// <param name="message">The sentence.</param>
public abstract class KilnException(FaultKind kind, string code, string message, Exception? inner = null) : Exception(message, inner)
{
    public FaultKind Kind => kind;

    public string Code => code;
}
