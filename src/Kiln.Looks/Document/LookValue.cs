using System.Text.Json.Serialization;
using Kiln.Colour;
using Kiln.Colour.Spaces;

namespace Kiln.Looks.Document;

/// <summary>A constant: a number, or a colour with its space.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(ScalarValue), "scalar")]
[JsonDerivedType(typeof(TintValue), "colour")]
public abstract record LookValue
{
    public static LookValue Of(float number) => new ScalarValue(number);

    public static LookValue Of(ColourValue colour) => new TintValue(colour.R, colour.G, colour.B, colour.Space);
}

public sealed record ScalarValue(float Number) : LookValue;

public sealed record TintValue(float R, float G, float B, SpaceId Space) : LookValue
{
    [JsonIgnore]
    public ColourValue Colour => new(R, G, B, Space);
}
