using System.Numerics;
using System.Runtime.InteropServices;
using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Looks.Readings;

namespace Kiln.Models.Files.Foreign;

/// <summary>What a child process says of a model: names and counts; the numbers follow it as they lie in memory.</summary>
/// <param name="Error">A sentence instead of a model.</param>
internal sealed record ModelHead(
    string? Error,
    string Format,
    double MetersPerUnit,
    char UpAxis,
    IReadOnlyList<string> Remarks,
    IReadOnlyList<PartHead> Parts,
    IReadOnlyList<MaterialHead> Materials
);

internal sealed record PartHead(
    string Path,
    string Name,
    string? Material,
    int Positions,
    int Corners,
    int Normals,
    IReadOnlyList<UvHead> UvSets
);

internal sealed record UvHead(string Name, int Places);

internal sealed record MaterialHead(string Name, IReadOnlyList<TextureHead> Textures, IReadOnlyDictionary<string, float[]> Values);

/// <param name="Bytes">Of the picture within the file; -1 for none.</param>
internal sealed record TextureHead(MapRole Role, string Written, int Bytes);

[JsonSerializable(typeof(ModelHead))]
internal sealed partial class ModelJson : JsonSerializerContext;

/// <summary>A model from one process to another: the length of the head in four bytes, the head, the numbers.</summary>
internal static class ModelStream
{
    private const int LongestHead = 256 << 20;

    public static void Write(Stream to, Model model)
    {
        Head(
            to,
            new(
                null,
                model.Format,
                model.MetersPerUnit,
                model.UpAxis,
                model.Remarks,
                [
                    .. model.Parts.Select(p => new PartHead(
                        p.Path,
                        p.Name,
                        p.Material,
                        p.Positions.Length,
                        p.Corners.Length,
                        p.Normals?.Directions.Length ?? 0,
                        [.. p.UvSets.Select(s => new UvHead(s.Name, s.Places.Length))]
                    )),
                ],
                [
                    .. model.Materials.Select(m => new MaterialHead(
                        m.Name,
                        [.. m.Textures.Select(t => new TextureHead(t.Role, t.Written, t.Within?.Length ?? -1))],
                        m.Values
                    )),
                ]
            )
        );
        foreach (var part in model.Parts)
        {
            Numbers<Vector3>(to, part.Positions);
            Numbers<int>(to, part.Corners);
            if (part.Normals is { } normals)
            {
                Numbers<Vector3>(to, normals.Directions);
                Numbers<int>(to, normals.Corners);
            }
            foreach (var set in part.UvSets)
            {
                Numbers<Vector2>(to, set.Places);
                Numbers<int>(to, set.Corners);
            }
        }
        foreach (var texture in model.Materials.SelectMany(m => m.Textures))
            if (texture.Within is { } bytes)
                to.Write(bytes.Span);
        to.Flush();
    }

    public static void WriteError(Stream to, string sentence) => Head(to, new(sentence, "", 1, 'Y', [], [], []));

    /// <param name="textures">Where pictures are looked for.</param>
    /// <exception cref="ModelException">It is a sentence.</exception>
    /// <exception cref="EndOfStreamException">The process ended before it had said all.</exception>
    public static Model Read(Stream from, TextureSearch textures)
    {
        var length = new int[1];
        Fill<int>(from, length);
        if (length[0] is < 0 or > LongestHead)
            throw new EndOfStreamException();
        var bytes = new byte[length[0]];
        from.ReadExactly(bytes);
        var head = JsonSerializer.Deserialize(bytes, ModelJson.Default.ModelHead)!;
        if (head.Error is { } error)
            throw new ModelException(error);
        var parts = head.Parts.Select(p => Part(from, p)).ToList();
        var materials = head.Materials.Select(m => new ModelMaterial(m.Name, [.. m.Textures.Select(Texture)], m.Values)).ToList();
        return new(head.Format, head.MetersPerUnit, head.UpAxis, parts, materials, head.Remarks);

        ModelTexture Texture(TextureHead texture)
        {
            if (texture.Bytes < 0)
                return new(texture.Role, texture.Written, textures.Find(texture.Written));
            var within = new byte[texture.Bytes];
            from.ReadExactly(within);
            return new(texture.Role, texture.Written, null) { Within = within };
        }
    }

    private static ModelPart Part(Stream from, PartHead head)
    {
        var positions = Numbers<Vector3>(from, head.Positions);
        var corners = Numbers<int>(from, head.Corners);
        var normals = head.Normals == 0 ? null : new NormalSet(Numbers<Vector3>(from, head.Normals), Numbers<int>(from, head.Corners));
        var sets = head.UvSets.Select(s => new UvSet(s.Name, Numbers<Vector2>(from, s.Places), Numbers<int>(from, head.Corners))).ToList();
        return new(head.Path, head.Name, head.Material, positions, corners, sets, normals);
    }

    private static void Head(Stream to, ModelHead head)
    {
        var json = JsonSerializer.SerializeToUtf8Bytes(head, ModelJson.Default.ModelHead);
        to.Write(BitConverter.GetBytes(json.Length));
        to.Write(json);
        to.Flush();
    }

    private static T[] Numbers<T>(Stream from, int count)
        where T : unmanaged
    {
        var numbers = new T[count];
        Fill<T>(from, numbers);
        return numbers;
    }

    /// <summary>In pieces: more than 2 GB have no length in bytes that fits.</summary>
    private const int Piece = 1 << 24;

    private static void Fill<T>(Stream from, Span<T> numbers)
        where T : unmanaged
    {
        for (; numbers.Length > 0; numbers = numbers[Math.Min(Piece, numbers.Length)..])
            from.ReadExactly(MemoryMarshal.AsBytes(numbers[..Math.Min(Piece, numbers.Length)]));
    }

    private static void Numbers<T>(Stream to, ReadOnlySpan<T> numbers)
        where T : unmanaged
    {
        for (; numbers.Length > 0; numbers = numbers[Math.Min(Piece, numbers.Length)..])
            to.Write(MemoryMarshal.AsBytes(numbers[..Math.Min(Piece, numbers.Length)]));
    }
}
