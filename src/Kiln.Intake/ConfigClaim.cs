using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Looks.Readings;

namespace Kiln.Intake;

/// <summary>What the file rules of the studio's colour config say of a file.</summary>
/// <param name="Named">The space as the config calls it.</param>
/// <param name="Space">Our space that it is; null where it is none of them.</param>
public sealed record ConfigClaim(string Rule, string Named, SpaceId? Space)
{
    /// <summary>
    /// Null where there is no config, or none of its rules but the last one fits: a rule for everything else says nothing of this file.
    /// </summary>
    public static ConfigClaim? Of(ConfigNames? names, string path) =>
        names is not null && FileRules.Find(names.Config, path) is { IsDefault: false } answer
            ? new(answer.Rule, answer.Space, names.OursFor(answer.Space))
            : null;

    /// <summary>
    /// A rule stands above embedded data and the role; it says how colour is encoded, not that a measurement is a colour.
    /// </summary>
    public Reading Applied(Reading reading)
    {
        var rule = $"the colour config's rule “{Rule}” says {Named}";
        if (reading.Kind != ReadingKind.Colour)
            return Space is not { IsRaw: false }
                ? reading
                : reading with
                {
                    Reason = $"{reading.Reason}; {rule}, which is ignored: a measurement is left alone",
                };
        if (Space is not { } space)
            return reading with { Reason = $"{reading.Reason}; {rule}, which is none of the spaces known here" };
        return space.IsRaw
            ? reading with
            {
                Reason = $"{reading.Reason}; {rule}, which is ignored: this is the surface's own colour",
            }
            : reading with
            {
                Space = space,
                Authority = ReadingAuthority.FileRule,
                Reason = Named == ColourSpace.Find(space).Label ? rule : $"{rule}, which is {ColourSpace.Find(space).Label}",
            };
    }
}
