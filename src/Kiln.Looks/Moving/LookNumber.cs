using Kiln.Looks.Document;

namespace Kiln.Looks.Moving;

/// <summary>A number of a look that a control can move.</summary>
/// <param name="Name">As edits address it: <c>placement#repeatsU</c>, <c>size#sizeU</c>, a value <c>lane</c> or <c>lane/step/side</c>, a
/// step's field <c>lane/step#field</c> or <c>lane/step#field.part</c>.</param>
/// <param name="Component">Which of the numbers of a colour, 0 for a single one.</param>
/// <param name="Low">The lower end of its control, or its value where that lies lower.</param>
/// <param name="With">A look with another number in its place.</param>
public sealed record LookNumber(string Name, int Component, float Value, float Low, float High, Func<Look, float, Look> With);
