using System.Collections.Immutable;
using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Intake.Sets;

/// <summary>
/// A surface that a person makes of files that fitted nowhere: what names and pixels tell of each, and a question where they tell nothing.
/// </summary>
public static class SurfaceByHand
{
    /// <summary>How sure a role is that was only given because it was free.</summary>
    private const float Guessed = 0.3f;

    /// <summary>Roles that a grey picture is proposed for, the commonest first; common practice, no source.</summary>
    private static readonly MapRole[] Measurements =
    [
        MapRole.Roughness,
        MapRole.Metalness,
        MapRole.AmbientOcclusion,
        MapRole.Height,
        MapRole.Opacity,
        MapRole.SpecularLevel,
        MapRole.Thickness,
        MapRole.IdMask,
    ];

    /// <param name="name">The surface's name.</param>
    /// <param name="files">Pictures of the delivery, each where it lies on this disk.</param>
    /// <returns>The surface, with every file that can be read; the others are named.</returns>
    public static async Task<(MapSet Set, ImmutableArray<RejectedFile> Unreadable)> MakeAsync(
        string name,
        IReadOnlyList<DeliveredFile> files,
        IPictureDecoder decoder,
        NamingTables tables,
        CancellationToken cancel
    )
    {
        var found = await new IntakeAnalysis(decoder, tables).RunAsync(DeliveryListing.Of(files), name, cancel: cancel);
        var placed = found.Sets.SelectMany(s => s.Maps.Concat(s.Alternates.Select(a => a.Map))).ToList();
        foreach (
            var loose in found
                .Unsorted.Concat(found.SetAside)
                .Where(l => l.File is not null && placed.All(p => p.Path != l.Path))
                .DistinctBy(l => l.Path)
        )
        {
            var file = loose.File!;
            var isGrey = file.EqualChannels || file.Channels.Count < 3;
            var role = isGrey ? Measurements.FirstOrDefault(r => placed.All(p => p.Role != r), MapRole.IdMask) : MapRole.BaseColor;
            var facts = file.Facts();
            var reading = UsualReading.Of(role, facts, null, null);
            placed.Add(
                new(
                    loose.Path,
                    role,
                    reading.Channel,
                    reading,
                    null,
                    null,
                    file.Width,
                    file.Height,
                    file.Bits,
                    file.IsFloat,
                    null,
                    Guessed,
                    [$"{loose.Reason}; put here with others by a person, proposed as {role.Label()}: please say what it is"],
                    file
                )
            );
        }
        var set = new MapSet(name, [.. placed], [], []) { Tags = SurfaceTags.Of(name, "", tables) };
        return (placed.Count == 0 ? set : AlternateChoice.Choose(set), found.Rejected);
    }
}
