using System.Diagnostics.CodeAnalysis;
using System.Security.Cryptography;
using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Faults;

namespace Kiln.Pixels;

/// <summary>What a file holds, by SHA-256 (FIPS 180-4): 64 hex digits in small letters. No other text can take its place.</summary>
[JsonConverter(typeof(ContentHashConverter))]
public readonly record struct ContentHash : IParsable<ContentHash>, IComparable<ContentHash>
{
    public const int Digits = 64;

    private readonly string? digits;

    private ContentHash(string digits) => this.digits = digits;

    public static ContentHash Of(ReadOnlySpan<byte> content) => new(Convert.ToHexStringLower(SHA256.HashData(content)));

    /// <summary>Of all that is left of a stream.</summary>
    public static ContentHash Of(Stream content) => new(Convert.ToHexStringLower(SHA256.HashData(content)));

    /// <summary>Of what was fed to a running SHA-256, which begins anew.</summary>
    public static ContentHash Of(IncrementalHash running) => new(Convert.ToHexStringLower(running.GetHashAndReset()));

    /// <summary>Twelve digits, enough to tell files apart in a sentence.</summary>
    public string Short => ToString()[..12];

    /// <exception cref="FormatException">The text is no hash.</exception>
    public static ContentHash Parse(string text, IFormatProvider? provider = null) =>
        TryParse(text, provider, out var hash) ? hash : throw new FormatException($"'{text}' is no SHA-256 of 64 hex digits.");

    public static bool TryParse([NotNullWhen(true)] string? text, out ContentHash hash) => TryParse(text, null, out hash);

    public static bool TryParse([NotNullWhen(true)] string? text, IFormatProvider? provider, out ContentHash hash)
    {
        var isHash = text is { Length: Digits } && text.All(c => char.IsAsciiDigit(c) || c is >= 'a' and <= 'f');
        hash = isHash ? new(text!) : default;
        return isHash;
    }

    public int CompareTo(ContentHash other) => string.CompareOrdinal(digits, other.digits);

    /// <summary>The digits; of what was never set, none.</summary>
    public override string ToString() => digits ?? "";
}

internal sealed class ContentHashConverter : JsonConverter<ContentHash>
{
    public override ContentHash Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.TokenType == JsonTokenType.String && ContentHash.TryParse(reader.GetString(), out var hash)
            ? hash
            : throw new JsonException($"The JSON value could not be converted to {typeToConvert}.");

    public override void Write(Utf8JsonWriter writer, ContentHash value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());

    public override ContentHash ReadAsPropertyName(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        ContentHash.TryParse(reader.GetString(), out var hash)
            ? hash
            : throw new JsonException($"The JSON value could not be converted to {typeToConvert}.");

    public override void WriteAsPropertyName(Utf8JsonWriter writer, ContentHash value, JsonSerializerOptions options) =>
        writer.WritePropertyName(value.ToString());
}

/// <summary>A file that something is made of is not where its content is kept; the message is a sentence.</summary>
public sealed class ContentMissingException(string message) : KilnException(FaultKind.Missing, "content.missing", message);
