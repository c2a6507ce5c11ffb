using System.Text;
using Kiln.Dialects.Networks;
using Kiln.Exchange.Packages;

namespace Kiln.Exchange.Models;

/// <summary>A look on parts of a model, as its package tells of it.</summary>
/// <param name="Version">Of the look, where a published one was written; null for the look as it is now.</param>
/// <param name="Revision">Of the look as it is now.</param>
public sealed record CarriedLook(string Look, int? Version, int Revision, ConversionReport Report);

/// <summary>What is in a model's package and what a person has to know of it, in plain text.</summary>
public static class ModelNotes
{
    /// <param name="looks">One for each of the model's materials.</param>
    /// <param name="remarks">Sentences about parts.</param>
    public static WrittenFile Of(CarriedModel model, string dialect, IReadOnlyList<CarriedLook> looks, IReadOnlyList<string> remarks)
    {
        var text = new StringBuilder(
            $"{model.Name}, written as {dialect}\n\nMetres, Y upwards. Paths are relative to this folder.\n\nParts\n"
        );
        foreach (var part in model.Parts)
            text.Append($"  {part.Path}: {(part.Material is { } m ? model.Materials[m].Material : "no look")}\n");
        text.Append("\nMaterials\n");
        foreach (var (network, look) in model.Materials.Zip(looks))
        {
            var which = look.Version is { } v ? $"version {v}" : $"draft, revision {look.Revision}: no version of it is published";
            text.Append($"  {network.Material}: {look.Look}, {which}\n");
            foreach (
                var (how, lines) in new[]
                {
                    ("approximated", look.Report.Approximated),
                    ("baked", look.Report.Baked),
                    ("lost", look.Report.Lost),
                }
            )
            foreach (var line in lines)
                text.Append($"    {how}: {line.Input}: {line.Note}\n");
        }
        foreach (var remark in remarks)
            text.Append('\n').Append(remark).Append('\n');
        return new("notes.txt", Encoding.UTF8.GetBytes(text.ToString()), null);
    }
}
