using System.Security.Cryptography;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using Kiln.Faults;
using Kiln.Looks.Edits;
using Kiln.Looks.Migration;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Document;

/// <summary>The look document as versioned JSON: the same look always gives the same bytes.</summary>
public static class LookJson
{
    public const int MaximumBytes = 4 << 20;

    public static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        MaxDepth = 128,
        AllowOutOfOrderMetadataProperties = true,
        // What has no meaning without a text or a part is not read without it: a file without a content, an origin without a slot.
        RespectNullableAnnotations = true,
        TypeInfoResolver = new DefaultJsonTypeInfoResolver { Modifiers = { RequireReferences, StepTable.Kinds } },
    };

    private static void RequireReferences(JsonTypeInfo type)
    {
        foreach (var property in type.Properties)
            if (
                property.AssociatedParameter is { HasDefaultValue: false, IsNullable: false }
                && (!property.PropertyType.IsValueType || IsList(property.PropertyType))
            )
                property.IsRequired = true;
    }

    private static bool IsList(Type type) =>
        type.IsGenericType && type.GetGenericTypeDefinition() == typeof(System.Collections.Immutable.ImmutableArray<>);

    private static readonly JsonSerializerOptions Indented = new(Options) { WriteIndented = true };

    public static byte[] Write(Look look, bool indented = false) =>
        JsonSerializer.SerializeToUtf8Bytes(look, indented ? Indented : Options);

    /// <summary>A document to be kept: written as it will be read, so that what is kept can always be opened again.</summary>
    /// <exception cref="LookException">It would be too large to be read, or contradicts itself.</exception>
    public static byte[] WriteChecked(Look look)
    {
        byte[] bytes;
        try
        {
            bytes = Write(look);
        }
        catch (Exception e) when (e is JsonException or NotSupportedException or ArgumentException or InvalidOperationException)
        {
            throw new LookException("The look cannot be written: " + e.Message, e);
        }
        Read(bytes);
        return bytes;
    }

    /// <summary>SHA-256 of the document, 64 hex digits.</summary>
    public static string Hash(Look look) => Convert.ToHexStringLower(SHA256.HashData(Write(look)));

    /// <exception cref="LookException">The text is no look document, is newer than this program, or contradicts itself.</exception>
    public static Look Read(ReadOnlySpan<byte> json) => Checked(Migrated(AsWritten(json)));

    /// <summary>The hash that the look had when the document was written, by whichever release that was.</summary>
    /// <exception cref="LookException">As <see cref="Read"/>.</exception>
    public static string HashOf(ReadOnlySpan<byte> json)
    {
        var look = AsWritten(json);
        Checked(Migrated(look));
        return Hash(look);
    }

    /// <summary>An edit as a history or an archive keeps it, by whichever release it was written.</summary>
    /// <exception cref="JsonException">The text is no edit.</exception>
    public static LookEdit ReadEdit(string json)
    {
        var edit = JsonNode.Parse(json, documentOptions: new() { MaxDepth = Options.MaxDepth });
        return SlashedSources.Without(edit).Deserialize<LookEdit>(Options) ?? throw new JsonException("The edit is empty.");
    }

    private static Look Migrated(Look look) => SlashedSources.AreIn(look) ? SlashedSources.Without(look) : look;

    private static Look AsWritten(ReadOnlySpan<byte> json)
    {
        if (json.Length > MaximumBytes)
            throw new LookException($"The look document has {json.Length >> 20} MB; at most {MaximumBytes >> 20} MB are read.");
        try
        {
            var look = JsonSerializer.Deserialize<Look>(json, Options) ?? throw new LookException("The look document is empty.");
            return look.Schema <= Look.CurrentSchema
                ? look
                : throw new LookException(
                    $"The look document has schema {look.Schema}; this program knows up to {Look.CurrentSchema}. Update Nimble "
                        + "Kiln to open it."
                );
        }
        catch (Exception e) when (e is JsonException or NotSupportedException or ArgumentException)
        {
            throw Unreadable(e);
        }
    }

    private static Look Checked(Look look)
    {
        try
        {
            LookValidation.Check(look);
            return look;
        }
        catch (Exception e) when (e is JsonException or NotSupportedException or ArgumentException)
        {
            throw Unreadable(e);
        }
    }

    private static LookException Unreadable(Exception e) => new("The look document cannot be read: " + e.Message, e);
}

/// <summary>A look or an edit of it is not possible; the message is a sentence for a person.</summary>
public sealed class LookException(string message, Exception? inner = null)
    : KilnException(FaultKind.Unusable, "look.invalid", message, inner);
