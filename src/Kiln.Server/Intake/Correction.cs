using System.Collections.Immutable;
using Kiln.Looks.Intake;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Server.Intake;

/// <summary>A person puts a file into a set under a role, from wherever it lay: another cell, an alternate, the tray; or takes it out (role null).</summary>
public sealed record Correction(string Path, string? FromRole, string? ToSet, MapRole? ToRole)
{
    public const string Note = "placed by a person";

    /// <exception cref="DeliveryException">The file or the set is not in the delivery.</exception>
    public IntakeResult Apply(IntakeResult result)
    {
        var taken = Find(result) ?? throw new DeliveryException($"'{Path}' is not in this delivery any more; somebody else may have moved it.");
        var sets = result.Sets.Select(s => s with
        {
            Maps = [.. s.Maps.Where(m => !Mine(m))],
            Alternates = [.. s.Alternates.Where(a => !Mine(a.Map))],
        }).ToList();
        var unsorted = result.Unsorted.Where(u => u.Path != Path).ToList();
        if (ToSet is null || ToRole is null)
        {
            unsorted.Add(new(Path, "taken out by a person", taken.File));
            return result with { Sets = [.. sets.Where(s => s.Maps.Length > 0)], Unsorted = [.. unsorted] };
        }
        var index = sets.FindIndex(s => s.Name == ToSet);
        if (index < 0)
            throw new DeliveryException($"There is no surface '{ToSet}' in this delivery.");
        var facts = new PictureFacts(Enum.Parse<Pixels.Decoding.PictureFormat>(taken.File.Format, true), taken.Width, taken.Height, taken.File.Channels, taken.Bits, taken.Float, taken.File.EmbeddedColour, false);
        var reading = UsualReading.Of(ToRole.Value, facts, null, taken.NormalY) with { Authority = ReadingAuthority.Person };
        var placed = taken with { Role = ToRole.Value, Channel = reading.Channel, Reading = reading with { Reason = reading.Reason + "; " + Note }, Confidence = 1, Evidence = [Note, .. taken.Evidence] };
        var set = sets[index];
        // What stood in the cell becomes an alternate, so nothing is lost.
        var displaced = set.Maps.Where(m => m.Role == ToRole && m.Udim == taken.Udim).ToList();
        sets[index] = set with
        {
            Maps = [.. set.Maps.Except(displaced).Append(placed).OrderBy(m => m.Role).ThenBy(m => m.Udim)],
            Alternates = [.. set.Alternates, .. displaced.Select(d => new Alternate(d, Path, "replaced by a person's choice"))],
        };
        return result with { Sets = [.. sets.Where(s => s.Maps.Length > 0)], Unsorted = [.. unsorted] };
    }

    private bool Mine(PlacedMap map) => map.Path == Path && (FromRole is null || map.Role.Id() == FromRole);

    private PlacedMap? Find(IntakeResult result)
    {
        var placed = result.Sets.SelectMany(s => s.Maps).FirstOrDefault(Mine) ?? result.Sets.SelectMany(s => s.Alternates).Select(a => a.Map).FirstOrDefault(Mine);
        if (placed is not null)
            return placed;
        var loose = result.Unsorted.FirstOrDefault(u => u.Path == Path)?.File;
        return loose is null ? null : new(Path, MapRole.BaseColor, "rgb", new Reading(ReadingKind.Colour, "srgb_texture", "rgb"), null, null, loose.Width, loose.Height, loose.Bits, loose.IsFloat, null, 1, ImmutableArray<string>.Empty, loose);
    }
}
