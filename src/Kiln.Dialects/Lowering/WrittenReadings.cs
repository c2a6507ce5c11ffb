using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Readings;

namespace Kiln.Dialects.Lowering;

/// <summary>
/// What a dialect's document says of a map's reading, word for word: for the table of readings that a studio prints.
/// </summary>
public static class WrittenReadings
{
    /// <param name="space">One of our spaces.</param>
    /// <param name="nameOf">The config's name for it.</param>
    public static string Of(DialectProfile profile, ReadingKind kind, SpaceId space, Func<SpaceId, string> nameOf)
    {
        var direction = kind == ReadingKind.Direction ? $"; Y {profile.Normals.Y.ToString().ToLowerInvariant()}" : "";
        if (profile.Image is not { Readings: not ReadingStyle.Fixed } image)
            return (kind == ReadingKind.Colour ? "nothing (sRGB, by the format)" : "nothing (as stored, by the format)") + direction;
        if (image.Readings == ReadingStyle.Named)
        {
            var word = image.Spaces!.GetValueOrDefault(kind == ReadingKind.Colour ? space.Text : "raw");
            return (
                    word is null
                        ? $"another file: it is converted to {profile.Textures.ColourBake ?? "srgb_texture"}"
                        : $"{image.SpacePort}=\"{word}\""
                ) + direction;
        }
        if (image.Readings == ReadingStyle.Config)
            return $"{image.SpacePort}=\"{nameOf(kind == ReadingKind.Colour ? space : "raw")}\"" + direction;
        return (
                kind == ReadingKind.Colour ? $"colorspace=\"{space}\""
                : kind == ReadingKind.Direction ? "nothing: a vector has no colour space"
                : "nothing: a number has no colour space"
            ) + direction;
    }
}
