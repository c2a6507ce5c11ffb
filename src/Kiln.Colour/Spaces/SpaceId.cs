using System.Diagnostics.CodeAnalysis;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Kiln.Colour.Spaces;

/// <summary>
/// Names a colour space of ours (colour.md), as documents store it: <c>srgb_texture</c>, <c>acescg</c>, <c>raw</c>… Names that configs and
/// renderers have for spaces are texts. A document may name a space that this release does not know; who uses it finds that out
/// (<see cref="ColourSpace.Find"/>).
/// </summary>
[JsonConverter(typeof(SpaceIdConverter))]
public readonly record struct SpaceId(string Text) : IParsable<SpaceId>
{
    public bool IsRaw => Text == "raw";

    /// <summary>As code and tests write it.</summary>
    public static implicit operator SpaceId(string text) => new(text);

    public static SpaceId Parse(string text, IFormatProvider? provider = null) => new(text);

    public static bool TryParse([NotNullWhen(true)] string? text, IFormatProvider? provider, out SpaceId space)
    {
        space = new(text ?? "");
        return !string.IsNullOrEmpty(text);
    }

    public override string ToString() => Text;
}

internal sealed class SpaceIdConverter : JsonConverter<SpaceId>
{
    public override SpaceId Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.TokenType == JsonTokenType.String
            ? new(reader.GetString()!)
            : throw new JsonException($"The JSON value could not be converted to {typeToConvert}.");

    public override void Write(Utf8JsonWriter writer, SpaceId value, JsonSerializerOptions options) => writer.WriteStringValue(value.Text);
}
