using Kiln.Colour.Spaces;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Texts;
using Kiln.Server.Looks;
using Kiln.Store.Looks;
using Kiln.Store.Studio;

namespace Kiln.Server.Profiles;

/// <summary>What a profile would change in one look: inputs written otherwise, or why it cannot be written any more.</summary>
public sealed record ProfileEffect(LookId Look, string Name, IReadOnlyList<string> Changed, string? Trouble);

/// <summary>What is known of a profile's text before it is kept.</summary>
/// <param name="Replaces">Title of the profile that stands for this dialect now; null for a new dialect.</param>
/// <param name="Affected">Looks that would be written otherwise.</param>
/// <param name="Unseen">Looks beyond those that were tried.</param>
public sealed record ProfileVerdict(
    string? Id,
    string? Title,
    string? Replaces,
    IReadOnlyList<TextProblem> Problems,
    IReadOnlyList<ProfileEffect> Affected,
    int Unseen
);

/// <summary>Dialect profiles of the studio: checked, tried against every look, kept as versions, put in force.</summary>
public sealed class ProfileRegistry(
    DialectProfiles profiles,
    StudioProfileRepository kept,
    LookListRepository looks,
    LookCompilation compilation,
    LookContextRepository spaces,
    ILogger<ProfileRegistry> log
)
{
    public const int LongestText = 512 * 1024;
    private const int MostTried = 200,
        Preview = 64;

    /// <summary>
    /// Puts the studio's profiles in force as the server starts; one that this version does not understand is left out and named in the
    /// log.
    /// </summary>
    public async Task RefreshAsync()
    {
        foreach (var row in (await kept.ListAsync()).Where(r => r.InForce))
        {
            var (profile, problems) = ProfileCheck.Read(row.Text);
            if (profile is not null && problems.Count == 0)
                profiles.Put(profile);
            else
                log.LogWarning(
                    "The studio's profile {Dialect}, version {Version}, is left out: line {Line}: {Sentence}",
                    row.Dialect,
                    row.Version,
                    problems[0].Line,
                    problems[0].Sentence
                );
        }
    }

    public async Task<ProfileVerdict> CheckAsync(string text, CancellationToken cancel)
    {
        var (profile, problems) = ProfileCheck.Read(Bounded(text));
        var replaced = profile is not null && profiles.Has(profile.Id) ? profiles.Find(profile.Id) : null;
        if (profile is null || problems.Count > 0 || replaced is null || replaced.Hash == profile.Hash)
            return new(profile?.Id, profile?.Title, replaced?.Title, problems, [], 0);
        var all = await looks.DocumentsAsync();
        var affected = new List<ProfileEffect>();
        foreach (var summary in all.Take(MostTried))
            if (await EffectAsync(summary, replaced, profile, cancel) is { } effect)
                affected.Add(effect);
        return new(profile.Id, profile.Title, replaced.Title, problems, affected, Math.Max(0, all.Count - MostTried));
    }

    /// <param name="knowing">Whether the person has seen which looks it changes.</param>
    /// <exception cref="ProfileException">It is wrong, or changes looks and nobody has said yes to that.</exception>
    public async Task<StudioProfileRow> KeepAsync(string text, string note, bool knowing, PersonId person, CancellationToken cancel)
    {
        var verdict = await CheckAsync(text, cancel);
        if (verdict.Problems is [var first, ..])
            throw new ProfileException($"Line {first.Line}: {first.Sentence}");
        if (!knowing && verdict.Affected.Count > 0)
            throw new ProfileException(
                $"{verdict.Affected.Count} looks would be written otherwise in {verdict.Replaces}, {verdict.Affected[0].Name} "
                    + "first. Look at them and say yes to that."
            );
        var id = await kept.AddAsync(verdict.Id!, text, note.Trim(), person);
        profiles.Put(DialectProfile.Read(text, verdict.Id!));
        return (await kept.FindAsync(id))!;
    }

    public async Task<bool> TakeBackAsync(string dialect)
    {
        var was = await kept.TakeBackAsync(dialect);
        profiles.TakeBack(dialect);
        return was;
    }

    /// <exception cref="ProfileException">The text is no usable profile.</exception>
    public static DialectProfile Usable(string text) => DialectProfile.Read(Bounded(text), "the profile");

    private static string Bounded(string text) =>
        text.Length <= LongestText ? text : throw new ProfileException($"A profile has at most {LongestText / 1024} kB.");

    private async Task<ProfileEffect?> EffectAsync(LookRow summary, DialectProfile before, DialectProfile after, CancellationToken cancel)
    {
        if (summary.Readable().Look is not { } look)
            return null;
        var working = (await spaces.OfLookAsync(summary.Id)).Space;
        var (old, _) = await WrittenAsync(look, before, working, cancel);
        var (now, trouble) = await WrittenAsync(look, after, working, cancel);
        // What could not be written before either is nobody's loss.
        if (old is null)
            return null;
        if (now is null)
            return new(summary.Id, summary.Name, [], trouble);
        var changed = now
            .Keys.Union(old.Keys)
            .Where(k => now.GetValueOrDefault(k) != old.GetValueOrDefault(k))
            .SelectMany(k => InputsIn(k, before, after))
            .Distinct()
            .Order(StringComparer.Ordinal)
            .ToList();
        return changed.Count > 0 ? new(summary.Id, summary.Name, changed, null) : null;
    }

    /// <summary>
    /// The inputs that a port stands for: itself, or what is packed in a texture place, of which those are meant whose formulas differ, and
    /// all where none does.
    /// </summary>
    private static IEnumerable<string> InputsIn(string port, DialectProfile before, DialectProfile after)
    {
        if (after.Slots.FirstOrDefault(s => s.Name == port) is not { } slot)
            return [port];
        var packed = slot.Channels.Values.Distinct().ToList();
        var differing = packed.Where(i => before.Mapping.GetValueOrDefault(i) != after.Mapping.GetValueOrDefault(i)).ToList();
        return differing.Count > 0 ? differing : packed;
    }

    /// <summary>What is written for each input, with everything behind it, as text. A baked texture is told by what is in it.</summary>
    private async Task<(Dictionary<string, string>? Inputs, string? Trouble)> WrittenAsync(
        Look look,
        DialectProfile profile,
        WorkingSpace working,
        CancellationToken cancel
    )
    {
        try
        {
            var (compiled, _) = await compilation.TryAsync(look, profile, working, Preview, cancel);
            var contents = compiled.Network.Textures.ToLookup(t => t.Path, t => t.File.Content.ToString());
            return (compiled.Network.Surface.Ports.ToDictionary(p => p.Name, p => Behind(compiled.Network, contents, p, 0)), null);
        }
        catch (KilnException e)
        {
            return (null, e.Message);
        }
    }

    private static string Behind(Network network, ILookup<string, string> contents, NetworkPort port, int depth)
    {
        if (port.Node is not { } name || depth > 60)
            return $"{port.Type} {port.Value} {port.Space} {string.Join(' ', contents[port.Value ?? ""])}";
        var node = network.Node(name);
        var ports = node.Ports.Select(p => p.Name + "=" + Behind(network, contents, p, depth + 1));
        return $"{node.Category}.{port.Output}({string.Join("; ", ports)})";
    }
}
