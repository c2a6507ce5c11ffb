using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Steps;

namespace Kiln.Looks.Migration;

/// <summary>Documents of earlier releases as this one has them.</summary>
internal static class LookMigration
{
    public static Look Migrated(Look look) => look.Sources.Keys.Any(n => n.Contains('/')) ? WithoutSlashes(look) : look;

    /// <summary>Up to release 0.2 a source could have a slash in its name, and then none of its steps could be addressed.</summary>
    private static Look WithoutSlashes(Look look)
    {
        var names = new Dictionary<string, string>();
        foreach (var name in look.Sources.Keys)
            names[name] = name.Contains('/')
                ? FreeNames.Of(name.Replace('/', '-'), n => look.Sources.ContainsKey(n) || names.ContainsValue(n))
                : name;
        var renamed = look with
        {
            Sources = look.Sources.Select(s => KeyValuePair.Create(names[s.Key], s.Value)).ToImmutableSortedDictionary(),
        };
        return OriginRewriting.In(renamed, o =>
            o is SourceOrigin source && names.TryGetValue(source.Source, out var name) ? new SourceOrigin(name) : o
        );
    }
}
