using System.Text.Json;
using Kiln.Models.Children;
using Kiln.Models.Files.Foreign;
using Kiln.Models.Measures;

namespace Kiln.Models.Packing;

/// <summary>
/// Reads a model of any format in a child process and writes it down packed: whoever asks holds none of its triangles, whatever its size,
/// and a file that brings the reader down costs that file.
/// </summary>
public static class ModelPacker
{
    /// <summary>The verb by which a program of ours is such a child.</summary>
    public const string Verb = "model-packer";

    /// <summary>The body of the child: writes the packed model to a file, and what is known of it to its output.</summary>
    public static int Run(string path, string packed, Stream output)
    {
        PackingAnswer answer;
        try
        {
            var model = ModelFiles.Read(path, ForeignReader.InProcess);
            using (var file = File.Create(packed))
                PackedModel.Write(file, model);
            answer = new(null, FactsOf(model));
        }
        catch (Exception e) when (e is ModelException or IOException or UnauthorizedAccessException)
        {
            answer = new(e.Message, null);
        }
        catch (OutOfMemoryException)
        {
            answer = new($"'{Path.GetFileName(path)}' needs more memory than there is.", null);
        }
        JsonSerializer.Serialize(output, answer, PackingJson.Default.PackingAnswer);
        output.WriteByte((byte)'\n');
        output.Flush();
        return 0;
    }

    /// <param name="path">A model's file, with what it names beside it.</param>
    /// <param name="packed">Where it is written to.</param>
    /// <param name="program">The assembly of a program that has <see cref="Verb"/>.</param>
    /// <exception cref="ModelException">It cannot be read.</exception>
    public static ModelFacts Pack(string path, string packed, string program)
    {
        var answer = ModelChild.Ask([program, Verb, path, packed], path, Answer);
        return answer.Facts ?? throw new ModelException(answer.Error ?? $"'{Path.GetFileName(path)}' cannot be read.");
    }

    private static PackingAnswer Answer(Stream output)
    {
        using var reader = new StreamReader(output);
        var line = reader.ReadLine();
        try
        {
            return JsonSerializer.Deserialize(line ?? "", PackingJson.Default.PackingAnswer) ?? throw new EndOfStreamException();
        }
        catch (JsonException e)
        {
            throw new EndOfStreamException("The reader ended in the middle.", e);
        }
    }

    private static ModelFacts FactsOf(Model model) =>
        new(
            model.Format,
            model.MetersPerUnit,
            model.UpAxis,
            model.Remarks,
            [
                .. model.Parts.Select(p =>
                {
                    var (min, max) = PartMeasures.Bounds([p]);
                    var size = p.Positions.Length > 0 ? max - min : default;
                    return new PartFacts(
                        p.Path,
                        p.Name,
                        p.Material,
                        p.Triangles,
                        [.. p.UvSets.Select(s => s.Name)],
                        PartMeasures.Area(p),
                        [size.X, size.Y, size.Z]
                    );
                }),
            ]
        );
}
