using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Store.People;

namespace Kiln.Store.Archives;

/// <summary>
/// What an archive says, held to what a person could have typed here: lengths, characters, numbers, states, spaces, trims, edits, dates.
/// Anything else is refused with a sentence.
/// </summary>
internal static class ArchiveCheck
{
    private const int MostName = 200,
        LongestSentence = 1000,
        MostNote = 4000,
        MostPerson = 60,
        MostSection = 80,
        MostRevision = 10_000_000,
        MostEdits = 100_000,
        MostVersions = 10_000;

    private static readonly string[] States = ["in review", "published", "sent back"];

    /// <summary>Nothing here was made before the first computers kept time, or much after now.</summary>
    private static readonly DateTime Earliest = new(1970, 1, 1, 0, 0, 0, DateTimeKind.Utc);

    /// <exception cref="ArchiveException">Something in it could not be.</exception>
    public static void All(ArchiveHeader header, IEnumerable<ArchivedLook> looks)
    {
        Text(header.Collection.Name, MostName, "the collection's name", empty: false);
        if (header.Collection.WorkingSpace is { } space)
            Space(space, "the collection");
        foreach (var rules in header.Collection.Rules)
        {
            Text(rules.Text, LookJson.MaximumBytes, "the collection's rules", lines: true);
            Person(rules.Person);
            Revision(rules.Revision, "the collection's rules");
            Date(rules.At, "the collection's rules");
        }
        foreach (var trims in header.Collection.Trims)
        {
            Person(trims.Person);
            Trims(trims.Dialect, Parsed<ImmutableArray<Trim>>(trims.Trims, "the studio trims"));
        }
        foreach (var (hash, text) in header.Profiles)
            if (Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text))) != hash)
                throw new ArchiveException($"The profile text {Short(hash)} is not what its checksum says.");
        foreach (var look in looks)
            CheckLook(look, header);
    }

    private static void CheckLook(ArchivedLook look, ArchiveHeader header)
    {
        var what = $"the look {Short(look.Name)}";
        Text(look.Name, MostName, "the name of a look", empty: false);
        Text(look.Section, MostSection, $"the section of {what}");
        Person(look.CreatedBy);
        Revision(look.Revision, what);
        Date(look.Created, what);
        Date(look.Changed, what);
        if (look.History.Count > MostEdits || look.Versions.Count > MostVersions)
            throw new ArchiveException($"In the archive, {what} has more edits or versions than a look can have.");
        if (
            look.History.Any(h => h.Number < 1)
            || look.History.Select(h => h.Number).Distinct().Count() != look.History.Count
            || look.Versions.Any(v => v.Number < 1)
            || look.Versions.Select(v => v.Number).Distinct().Count() != look.Versions.Count
        )
            throw new ArchiveException($"In the archive, edits or versions of {what} have no number of their own.");
        foreach (var edit in look.History)
        {
            Text(edit.Sentence, LongestSentence, $"an edit of {what}");
            Person(edit.Person);
            Date(edit.At, $"an edit of {what}");
            Parsed(() => LookJson.ReadEdit(edit.Edit), $"edit {edit.Number} of {what}");
            Parsed(() => LookJson.ReadEdit(edit.Inverse), $"edit {edit.Number} of {what}");
        }
        foreach (var version in look.Versions)
            Version(version, $"version {version.Number} of {what}", header);
    }

    private static void Version(ArchivedVersion version, string what, ArchiveHeader header)
    {
        Text(version.Note, MostNote, what, lines: true);
        Text(version.Review, MostNote, what, lines: true);
        Person(version.Person);
        if (version.ReviewedBy is { } reviewer)
            Person(reviewer);
        if (!States.Contains(version.State))
            throw new ArchiveException($"In the archive, {what} has the state '{Short(version.State)}', which is none.");
        Date(version.At, what);
        if (version.ReviewedAt is { } reviewed)
            Date(reviewed, what);
        Space(version.WorkingSpace, what);
        foreach (var (ours, theirs) in Parsed<Dictionary<string, string>>(version.SpaceNames, what))
        {
            Text(ours, MostName, what);
            Text(theirs, MostName, what);
        }
        foreach (var (dialect, hash) in Parsed<Dictionary<string, string>>(version.Profiles, what))
            if (!header.Profiles.ContainsKey(hash))
                throw new ArchiveException($"In the archive, the profile that {what} was made under for {Short(dialect)} is missing.");
        foreach (var (dialect, trims) in Parsed<Dictionary<string, ImmutableArray<Trim>>>(version.StudioTrims, what))
            Trims(dialect, trims);
    }

    private static void Trims(string dialect, ImmutableArray<Trim> trims)
    {
        Text(dialect, MostPerson, "the name of a dialect", empty: false);
        try
        {
            LookValidation.CheckTrims(dialect, trims.IsDefault ? [] : trims);
        }
        catch (LookException e)
        {
            throw new ArchiveException("In the archive: " + e.Message, e);
        }
    }

    private static void Person(string name) => Text(name, MostPerson, "the name of a person", empty: false);

    private static void Revision(int revision, string what)
    {
        if (revision is < 1 or > MostRevision)
            throw new ArchiveException($"In the archive, {what} has the revision {revision}, which none has.");
    }

    private static void Date(DateTime at, string what)
    {
        if (at < Earliest || at > DateTime.UtcNow.AddDays(2))
            throw new ArchiveException($"In the archive, {what} has the date {at:yyyy-MM-dd}, which cannot be.");
    }

    private static void Space(string id, string what)
    {
        try
        {
            WorkingSpace.Find(id);
        }
        catch (ArgumentException e)
        {
            throw new ArchiveException($"In the archive, {what} has a working space that is none: {e.Message}", e);
        }
    }

    private static void Text(string text, int most, string what, bool empty = true, bool lines = false)
    {
        if (text is null || text.Length > most || !empty && text.Trim().Length == 0)
            throw new ArchiveException($"In the archive, {what} has {text?.Length ?? 0} characters; {(empty ? 0 : 1)} to {most} can be.");
        if (
            text.Any(c =>
                char.IsControl(c) && !(lines && c is '\n' or '\r' or '\t')
                || c is '\u202a' or '\u202b' or '\u202d' or '\u202e' or >= '\u2066' and <= '\u2069'
            )
        )
            throw new ArchiveException($"In the archive, {what} holds control characters or marks that turn the direction of text.");
    }

    private static T Parsed<T>(string json, string what) => Parsed(() => JsonSerializer.Deserialize<T>(json, LookJson.Options), what);

    private static T Parsed<T>(Func<T?> read, string what)
    {
        try
        {
            return read() ?? throw new ArchiveException($"In the archive, a part of {what} is empty.");
        }
        catch (Exception e) when (e is JsonException or NotSupportedException or ArgumentException or InvalidOperationException)
        {
            throw new ArchiveException($"In the archive, {what} cannot be read: {e.Message}", e);
        }
    }

    private static string Short(string text) => string.Concat(text.Where(c => !char.IsControl(c)).Take(40));
}
