namespace Kiln.Looks.Texts;

/// <summary>Something wrong in a text that people write.</summary>
/// <param name="Line">From 1.</param>
/// <param name="Sentence">What is wrong there.</param>
/// <param name="Path">The part it is about, names and places of lists joined by slashes; empty for the whole, and where the text is no
/// JSON.</param>
public sealed record TextProblem(int Line, string Sentence, string Path = "");
