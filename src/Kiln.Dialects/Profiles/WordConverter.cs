using System.Reflection;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Kiln.Dialects.Profiles;

/// <summary>A word that profiles of before used for the same; it is still read, and no longer written or offered.</summary>
[AttributeUsage(AttributeTargets.Field)]
public sealed class FormerWordAttribute(string word) : Attribute
{
    public string Word => word;
}

/// <summary>A word that is none of those there are; its place is told by <see cref="JsonException.Path"/>.</summary>
/// <param name="instead">One that could stand there, so that the rest can be looked at.</param>
public sealed class WordException(string message, string instead) : JsonException(message)
{
    public string Instead => instead;
}

/// <summary>
/// One of a list of words (<see cref="JsonStringEnumMemberNameAttribute"/>); in capitals or small letters. Another one is refused with the
/// words that there are.
/// </summary>
public sealed class WordConverter<T> : JsonConverter<T>
    where T : struct, Enum
{
    private static readonly FieldInfo[] Fields = typeof(T).GetFields(BindingFlags.Public | BindingFlags.Static);

    private static readonly (T Value, string Word)[] Known = [.. Fields.Select(f => ((T)f.GetValue(null)!, Written(f)))];

    private static readonly Dictionary<string, T> ByWord = Fields
        .SelectMany(f =>
            new[] { Written(f), f.GetCustomAttribute<FormerWordAttribute>()?.Word }.OfType<string>().Select(w => (Word: w, Field: f))
        )
        .ToDictionary(w => w.Word, w => (T)w.Field.GetValue(null)!, StringComparer.OrdinalIgnoreCase);

    private static string Written(FieldInfo field) => field.GetCustomAttribute<JsonStringEnumMemberNameAttribute>()!.Name;

    /// <summary>In the order of their listing.</summary>
    public static IEnumerable<string> Words => Known.Select(k => k.Word);

    /// <summary>As a profile writes it.</summary>
    public static string Word(T value) => Known.First(k => k.Value.Equals(value)).Word;

    public override T Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        // Anything but a word is of the wrong kind, as the serializer says it of its own types.
        if (reader.TokenType != JsonTokenType.String)
            throw new JsonException($"The JSON value could not be converted to {typeToConvert}.");
        var word = reader.GetString()!;
        return ByWord.TryGetValue(word, out var value)
            ? value
            : throw new WordException($"'{word}' is none of {string.Join(", ", Words)}.", Words.First());
    }

    public override void Write(Utf8JsonWriter writer, T value, JsonSerializerOptions options) => writer.WriteStringValue(Word(value));
}
