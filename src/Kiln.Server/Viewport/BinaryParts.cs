using System.Runtime.InteropServices;
using System.Text.Json;

namespace Kiln.Server.Viewport;

/// <summary>
/// Arrays of numbers with a head in JSON: the length of the head as a 32-bit number, the head, and the parts one after the other, each
/// begun at a multiple of four bytes. The head's <c>parts</c> say their names, kinds of number and lengths.
/// </summary>
internal sealed class BinaryParts(object head)
{
    private static readonly JsonSerializerOptions Camel = new(JsonSerializerDefaults.Web);

    private sealed record Part(string Name, string Kind, int Count);

    private readonly List<(Part Part, byte[] Bytes)> parts = [];

    public BinaryParts With(string name, float[] numbers) =>
        With(new Part(name, "float", numbers.Length), MemoryMarshal.AsBytes(numbers.AsSpan()));

    public BinaryParts With(string name, Half[] numbers) =>
        With(new Part(name, "half", numbers.Length), MemoryMarshal.AsBytes(numbers.AsSpan()));

    public BinaryParts With(string name, int[] numbers) =>
        With(new Part(name, "int", numbers.Length), MemoryMarshal.AsBytes(numbers.AsSpan()));

    public BinaryParts With(string name, byte[] numbers) => With(new Part(name, "byte", numbers.Length), numbers);

    private BinaryParts With(Part part, ReadOnlySpan<byte> bytes)
    {
        parts.Add((part, bytes.ToArray()));
        return this;
    }

    public byte[] ToArray()
    {
        var json = JsonSerializer.SerializeToUtf8Bytes(new { head, parts = parts.Select(p => p.Part) }, Camel);
        using var to = new MemoryStream();
        to.Write(BitConverter.GetBytes(json.Length));
        to.Write(json);
        foreach (var (_, bytes) in parts)
        {
            while (to.Length % 4 != 0)
                to.WriteByte(0);
            to.Write(bytes);
        }
        return to.ToArray();
    }
}
