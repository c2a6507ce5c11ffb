using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.RegularExpressions;

namespace Kiln.Looks.Document;

/// <summary>
/// Where a lane stands in a look: <c>base_color</c> (the base layer), <c>source:NAME</c>, <c>cover:N:base_color</c> or
/// <c>cover:N:mask</c> (N from 0); a step's other input adds <c>/STEP/INPUT</c>, as often as inputs are nested.
/// The look may lack the place.
/// </summary>
[JsonConverter(typeof(LaneAddressConverter))]
public sealed partial record LaneAddress : IParsable<LaneAddress>
{
    /// <summary>The one form of an address, in .NET and in JavaScript alike; the front end's copy is generated from it.</summary>
    [StringSyntax(StringSyntaxAttribute.Regex)]
    public const string Form =
        "^(?:source:(?<source>[^:/]+)|cover:(?<layer>[0-9]{1,4}):(?:(?<mask>mask)(?![^/])|(?<laid>[^:/]+))|(?<input>[^:/]+))"
        + "(?<sides>(?:/[^/]+/[^/]+)*)$";

    private LaneAddress(string text) => Text = text;

    public string Text { get; }

    /// <summary>The source's name; null for a lane that is none.</summary>
    public string? Source { get; private init; }

    /// <summary>The layer's number, the lowest 0; null for the base layer and for sources.</summary>
    public int? Layer { get; private init; }

    /// <summary>The neutral input of the base layer or of a layer; null for sources and masks.</summary>
    public string? Input { get; private init; }

    /// <summary>The lane whose step has the input that this names; null for a lane of its own.</summary>
    public (LaneAddress Owner, string Step, string Name)? Side { get; private init; }

    /// <summary>A layer's mask itself, no input of a step in it.</summary>
    public bool IsMask => Side is null && Layer is not null && Input is null;

    /// <summary>Whether it is this input of the base layer itself.</summary>
    public bool Is(string input) => Text == input;

    /// <summary>The neutral input that this lane itself feeds; null for sources, masks and inputs of steps.</summary>
    public string? Fed => Side is null ? Input : null;

    public static LaneAddress OfInput(string name) => Parse(name);

    public static LaneAddress OfSource(string name) => Parse("source:" + name);

    public static LaneAddress OfLayer(int number, string input) => Parse($"cover:{number}:{input}");

    public static LaneAddress OfMask(int number) => Parse($"cover:{number}:mask");

    /// <summary>A text that is an address, as code and tests write it.</summary>
    /// <exception cref="LookException">It is none.</exception>
    public static implicit operator LaneAddress(string text) => Parse(text);

    /// <summary>Another input of a step in this lane.</summary>
    public LaneAddress SideOf(string step, string name) => Parse($"{Text}/{step}/{name}");

    /// <exception cref="LookException">The text is no address.</exception>
    public static LaneAddress Parse(string text, IFormatProvider? provider = null) =>
        TryParse(text, provider, out var address) ? address : throw new LookException(Fault(text));

    /// <summary>What to say of a text that is no address.</summary>
    public static string Fault(string? text) => $"'{text}' names no lane; base_color, source:NAME, cover:0:mask or LANE/STEP/INPUT do.";

    public static bool TryParse([NotNullWhen(true)] string? text, IFormatProvider? provider, [NotNullWhen(true)] out LaneAddress? address)
    {
        address = null;
        if (text is null || Pattern().Match(text) is not { Success: true } match)
            return false;
        string? Part(string group) => match.Groups[group] is { Success: true } g ? g.Value : null;
        var sides = match.Groups["sides"].Value;
        address = new(text)
        {
            Source = Part("source"),
            Layer = Part("layer") is { } n ? int.Parse(n, CultureInfo.InvariantCulture) : null,
            Input = Part("laid") ?? Part("input"),
            Side = sides.Length == 0 ? null : Last(text),
        };
        return true;
    }

    private static (LaneAddress, string, string) Last(string text)
    {
        var name = text.LastIndexOf('/');
        var step = text.LastIndexOf('/', name - 1);
        return (Parse(text[..step]), text[(step + 1)..name], text[(name + 1)..]);
    }

    /// <summary>As a person would say it: "layer 1, base colour", "base colour, other of s3".</summary>
    public string Label =>
        Side is { } side ? $"{side.Owner.Label}, {side.Name} of {side.Step}"
        : Source is not null ? $"source {Source}"
        : Layer is { } n ? $"layer {n + 1}, {(Input is null ? "mask" : InWords(Input))}"
        : InWords(Input!);

    /// <summary>An input's name in the interface's spelling; the standard's identifier stays in documents.</summary>
    public static string InWords(string input) => input.Replace('_', ' ').Replace("color", "colour", StringComparison.Ordinal);

    public override string ToString() => Text;

    public bool Equals(LaneAddress? other) => other?.Text == Text;

    public override int GetHashCode() => Text.GetHashCode(StringComparison.Ordinal);

    [GeneratedRegex(Form, RegexOptions.CultureInvariant)]
    private static partial Regex Pattern();
}

internal sealed class LaneAddressConverter : JsonConverter<LaneAddress>
{
    public override LaneAddress Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.TokenType != JsonTokenType.String ? throw new JsonException($"The JSON value could not be converted to {typeToConvert}.")
        : LaneAddress.TryParse(reader.GetString(), null, out var address) ? address
        : throw new JsonException(LaneAddress.Fault(reader.GetString()));

    public override void Write(Utf8JsonWriter writer, LaneAddress value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Text);
}
