using System.Text.Json;
using Kiln.Models.Children;
using Kiln.Models.Files.Foreign;
using Kiln.Models.Materials;
using Kiln.Models.Measures;
using Kiln.Pixels;

namespace Kiln.Models.Packing;

/// <summary>
/// Reads a model of any format in a child process and writes it down packed: whoever asks holds none of its triangles, whatever its size,
/// and a file that brings the reader down costs that file.
/// </summary>
public static class ModelPacker
{
    /// <summary>Square of a distance from the origin, far beyond all that anybody models.</summary>
    private const float Farthest = 1e24f;

    /// <summary>The verb by which a program of ours is such a child.</summary>
    public const string Verb = "model-packer";

    /// <summary>What is added to the packed file's name for the folder of pictures that the model itself holds.</summary>
    public const string Pictures = ".pictures";

    /// <summary>The body of the child: writes the packed model to a file, and what is known of it to its output.</summary>
    public static int Run(string path, string packed, Stream output)
    {
        PackingAnswer answer;
        try
        {
            var model = ModelFiles.Read(path, ForeignReader.InProcess);
            if (model.Parts.FirstOrDefault(p => !IsOfASize(p)) is { } vast)
                throw new ModelException($"'{vast.Path}' has positions or UVs so far out that nothing can be reckoned with them.");
            using (var file = File.Create(packed))
                PackedModel.Write(file, model);
            answer = new(null, FactsOf(model, packed + Pictures));
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
    /// <param name="packed">Where it is written to; pictures that the file holds are laid in a folder beside it.</param>
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

    private static ModelFacts FactsOf(Model model, string pictures) =>
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
                        MaterialOf(model, p),
                        p.Triangles,
                        [.. p.UvSets.Select(s => s.Name)],
                        PartMeasures.Area(p),
                        [size.X, size.Y, size.Z],
                        PartFigures.Of(p)
                    );
                }),
            ],
            MaterialsOf(model, pictures)
        );

    /// <summary>Whether sums and squares of its numbers are numbers.</summary>
    private static bool IsOfASize(ModelPart part) =>
        Array.TrueForAll(part.Positions, p => p.LengthSquared() < Farthest)
        && part.UvSets.All(s => Array.TrueForAll(s.Places, u => u.LengthSquared() < Farthest));

    private static int? MaterialOf(Model model, ModelPart part)
    {
        if (part.MaterialAt is { } at)
            return at >= 0 && at < model.Materials.Count ? at : null;
        var named = part.Material is { } name ? model.Materials.Index().Where(m => m.Item.Name == name).Select(m => m.Index).ToList() : [];
        return named.Count > 0 ? named[0] : null;
    }

    /// <summary>Each picture that the file holds is laid down once, however many materials share it.</summary>
    private static IReadOnlyList<MaterialFacts> MaterialsOf(Model model, string pictures)
    {
        var laid = new Dictionary<ContentHash, string>();
        return
        [
            .. model.Materials.Select(m => new MaterialFacts(
                m.Name,
                [.. m.Textures.Select(t => new TextureFacts(t.Role, t.Written, t.Channel, t.Within is { } bytes ? Laid(bytes) : null))],
                m.Values,
                m.HasOpacityInBaseColour
            )),
        ];

        string Laid(ReadOnlyMemory<byte> bytes)
        {
            var content = ContentHash.Of(bytes.ToArray());
            if (laid.TryGetValue(content, out var known))
                return known;
            Directory.CreateDirectory(pictures);
            var path = Path.Combine(pictures, $"{laid.Count + 1}{MaterialLooks.Ending(bytes.Span)}");
            using var file = File.Create(path);
            file.Write(bytes.Span);
            return laid[content] = path;
        }
    }
}
