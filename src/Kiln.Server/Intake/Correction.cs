using System.Collections.Immutable;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Sets;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Server.Intake;

/// <summary>
/// A person puts a file into a set under a role, from wherever it lay: another cell, an alternate, the tray; or takes it out (role null).
/// With <paramref name="Channels"/> (r, g, b, a or rgb to role) the file is packed and placed once for each.
/// </summary>
public sealed record Correction(
    string Path,
    string? FromRole,
    string? ToSet,
    MapRole? ToRole,
    ImmutableSortedDictionary<string, MapRole>? Channels = null
)
{
    public const string Note = "placed by a person";

    /// <exception cref="DeliveryException">The file or the set is not in the delivery.</exception>
    public IntakeResult Apply(IntakeResult result)
    {
        var taken = Find(result)
            ?? throw new DeliveryException($"'{Path}' is not in this delivery any more; somebody else may have moved it.");
        var sets = result
            .Sets.Select(s => s with { Maps = [.. s.Maps.Where(m => !Mine(m))], Alternates = [.. s.Alternates.Where(a => !Mine(a.Map))] })
            .ToList();
        var aside = result.Sets.SelectMany(s => s.Alternates).Where(a => Mine(a.Map)).ToList();
        var unsorted = result.Unsorted.Where(u => u.Path != Path).ToList();
        if (ToSet is null || ToRole is null && Channels is not { Count: > 0 })
        {
            unsorted.Add(new(Path, "taken out by a person", taken.File));
            return After(result, sets, unsorted);
        }
        var index = sets.FindIndex(s => s.Name == ToSet);
        if (index < 0)
            throw new DeliveryException($"There is no surface '{ToSet}' in this delivery.");
        var set = sets[index];
        foreach (
            var (channel, role) in Channels is { Count: > 0 }
                ? Channels.Select(c => ((MapChannel?)ChannelOf(c.Key), c.Value))
                : [(null, ToRole!.Value)]
        )
        {
            var reading = ReadingFor(taken, role, channel);
            var placed = taken with
            {
                Role = role,
                Channel = reading.Channel,
                Reading = reading,
                Confidence = 1,
                Evidence = [Note, .. taken.Evidence.Where(e => e != Note)],
                AmbiguousPhrase = null,
                ReflectionWord = null,
                BesideReflection = null,
            };
            // What stood in the cell becomes an alternate, so nothing is lost; so does what says the same in the other way: roughness,
            // where the glossiness that was its alternate is chosen.
            var otherWay = aside.Any(a => a.Map.Role == role) ? AlternateChoice.OtherWay(role) : null;
            var displaced = set.Maps.Where(m => m.Role == role && m.Udim == taken.Udim || m.Role == otherWay).ToList();
            set = set with
            {
                Maps = [.. set.Maps.Except(displaced).Append(placed).OrderBy(m => m.Role).ThenBy(m => m.Udim)],
                Alternates = [.. set.Alternates, .. displaced.Select(d => new Alternate(d, Path, "replaced by a person's choice"))],
            };
        }
        sets[index] = set;
        return After(result, sets, unsorted);
    }

    private IntakeResult After(IntakeResult result, IEnumerable<MapSet> sets, IEnumerable<LooseFile> unsorted) =>
        result with
        {
            Sets = [.. sets.Where(s => s.Maps.Length > 0)],
            Unsorted = [.. unsorted],
            ReflectionPairs = result.ReflectionPairs.IsDefaultOrEmpty
                ? []
                : [.. result.ReflectionPairs.Where(p => p.Reflection != Path && p.Specular != Path)],
        };

    private static MapChannel ChannelOf(string word) =>
        MapChannels.TryParse(word, out var channel)
            ? channel
            : throw new DeliveryException($"'{word}' is no channel of a picture; r, g, b, a and rgb are.");

    /// <summary>The usual reading of a role for a file that a person placed.</summary>
    internal static Reading ReadingFor(PlacedMap map, MapRole role, MapChannel? channel)
    {
        var facts = new PictureFacts(
            Enum.Parse<Pixels.Decoding.PictureFormat>(map.File.Format, true),
            map.Width,
            map.Height,
            map.File.Channels,
            map.Bits,
            map.Float,
            map.File.EmbeddedColour,
            false
        );
        var reading = UsualReading.Of(role, facts, channel, map.NormalY);
        return reading with { Authority = ReadingAuthority.Person, Reason = reading.Reason + "; " + Note };
    }

    /// <summary>A packed file is taken as a whole; otherwise only the property that was moved.</summary>
    private bool Mine(PlacedMap map) => map.Path == Path && (FromRole is null || Channels is { Count: > 0 } || map.Role.Id() == FromRole);

    internal PlacedMap? Find(IntakeResult result)
    {
        var placed = result.Sets.SelectMany(s => s.Maps).FirstOrDefault(Mine)
            ?? result.Sets.SelectMany(s => s.Alternates).Select(a => a.Map).FirstOrDefault(Mine);
        if (placed is not null)
            return placed;
        var loose = result.Unsorted.FirstOrDefault(u => u.Path == Path)?.File;
        return loose is null
            ? null
            : new(
                Path,
                MapRole.BaseColor,
                MapChannel.Rgb,
                new Reading(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb),
                null,
                null,
                loose.Width,
                loose.Height,
                loose.Bits,
                loose.IsFloat,
                null,
                1,
                ImmutableArray<string>.Empty,
                loose
            );
    }
}
