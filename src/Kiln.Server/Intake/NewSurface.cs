using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Intake.Sets;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Readings;
using Kiln.Pixels.Decoding;
using Kiln.Store.Contents;
using Kiln.Store.Intake;

namespace Kiln.Server.Intake;

/// <summary>Files of a delivery that a person says are one surface, wherever they lie now.</summary>
/// <param name="Name">Null or empty: after the first file.</param>
/// <param name="Role">The role of the only file, where a person put it into a cell; null: what names and pixels tell.</param>
public sealed record NewSurface(string? Name, string[] Paths, MapRole? Role)
{
    public const int MostFiles = 200;

    /// <exception cref="DeliveryException">There is no file, a file is not in the delivery or cannot be read, or the name is no
    /// name.</exception>
    public async Task<Func<IntakeResult, IntakeResult>> PrepareAsync(
        IntakeResult before,
        ContentStore store,
        IPictureDecoder decoder,
        NamingTables tables,
        CancellationToken cancel
    )
    {
        var paths = Paths.Distinct().ToList();
        if (paths.Count is 0 or > MostFiles)
            throw new DeliveryException($"A surface is made of 1 to {MostFiles} files.");
        var name = string.IsNullOrWhiteSpace(Name)
            ? string.Join('_', NameTokens.Split(Path.GetFileNameWithoutExtension(paths[0])))
            : Name.Trim();
        if (name.Length is 0 or > 200 || name.Any(char.IsControl))
            throw new DeliveryException("A surface needs a name of 1 to 200 characters.");
        var files = paths
            .Select(p => (Path: p, Taken(p, before).File))
            .Select(f => new DeliveredFile(f.Path, store.PathOf(f.File.Content), 0, f.File.Content))
            .ToList();
        var (made, unreadable) = await SurfaceByHand.MakeAsync(name, files, decoder, tables, cancel);
        if (unreadable.Length > 0)
            throw new DeliveryException($"'{unreadable[0].Path}' cannot be read: {unreadable[0].Error}");
        if (Role is { } role && paths.Count == 1)
        {
            var map = Taken(paths[0], before);
            var reading = Correction.ReadingFor(map, role, null);
            made = made with
            {
                Maps =
                [
                    map with
                    {
                        Role = role,
                        Channel = reading.Channel,
                        Reading = reading,
                        Confidence = 1,
                        Evidence = [Correction.Note, .. map.Evidence.Where(e => e != Correction.Note)],
                        AmbiguousPhrase = null,
                        ReflectionWord = null,
                        BesideReflection = null,
                    },
                ],
                Alternates = [],
            };
        }
        return now => Apply(now, made, paths);
    }

    private static IntakeResult Apply(IntakeResult now, MapSet made, List<string> paths)
    {
        var files = paths.ToHashSet();
        // Somebody may have moved one of them meanwhile: it is still in the delivery, and goes where it was sent last.
        foreach (var path in paths)
            Taken(path, now);
        var sets = now
            .Sets.Select(s =>
                s with
                {
                    Maps = [.. s.Maps.Where(m => !files.Contains(m.Path))],
                    Alternates = [.. s.Alternates.Where(a => !files.Contains(a.Map.Path))],
                }
            )
            .ToList();
        // A surface that lost its maps keeps its alternates: the first stands in.
        for (var s = 0; s < sets.Count; s++)
            if (sets[s] is { Maps.Length: 0, Alternates.Length: > 0 } bare)
                sets[s] = AlternateChoice.Choose(bare with { Maps = [.. bare.Alternates.Select(a => a.Map)], Alternates = [] });
        sets = [.. sets.Where(s => s.Maps.Length > 0)];
        var name = made.Name;
        for (var n = 2; sets.Any(s => s.Name == name); n++)
            name = $"{made.Name}_{n}";
        return now with
        {
            Sets = [.. sets.Append(made with { Name = name }).OrderBy(s => s.Name, StringComparer.Ordinal)],
            Unsorted = [.. now.Unsorted.Where(u => !files.Contains(u.Path))],
            ReflectionPairs = now.ReflectionPairs.IsDefaultOrEmpty
                ? []
                : [.. now.ReflectionPairs.Where(p => !files.Contains(p.Reflection) && !files.Contains(p.Specular))],
        };
    }

    private static PlacedMap Taken(string path, IntakeResult result) =>
        new Correction(path, null, null, null).Find(result)
        ?? throw new DeliveryException($"'{path}' is not in this delivery any more; somebody else may have moved it.");
}

/// <summary>Makes a surface by hand of a delivery's pictures: read once more, under the naming rules in force.</summary>
public sealed class SurfaceMaking(DeliveryRepository deliveries, ContentStore store, IPictureDecoder decoder, NamingRuleRepository rules)
{
    /// <exception cref="DeliveryException">The delivery is not there or not analysed, or the pictures make no surface.</exception>
    public async Task MakeAsync(DeliveryId id, NewSurface surface, CancellationToken cancel)
    {
        var before = (await deliveries.FindAsync(id))?.Intake()
            ?? throw new DeliveryException("The delivery is not there or not analysed yet.");
        var names = NamingTables.With(await rules.InForceAsync());
        await deliveries.ChangeAsync(id, await surface.PrepareAsync(before, store, decoder, names, cancel));
    }
}
