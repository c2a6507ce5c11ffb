using System.Collections.Immutable;
using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Configs;

/// <summary>
/// Which of our spaces a config's space is the same as, found by measuring: both are sent to a common anchor and compared. Names are not
/// looked at, so a renamed space is found, too.
/// </summary>
public sealed class SpaceMatching
{
    /// <summary>Greatest difference of linear values, relative above one; tables in configs are as coarse as this.</summary>
    private const float Tolerance = 2e-3f;

    private static readonly Vector3[] Codes =
    [
        .. from r in (float[])[0.04f, 0.2f, 0.5f, 0.9f]
        from g in (float[])[0.04f, 0.35f, 0.8f]
        from b in (float[])[0.1f, 0.6f]
        select new Vector3(r, g, b),
    ];

    private static readonly ColourSpace[] Anchors =
    [
        ColourSpace.AcesCg,
        ColourSpace.LinAp0,
        ColourSpace.LinRec709,
        ColourSpace.LinRec2020,
        ColourSpace.CieXyzD65,
        ColourSpace.LinDisplayP3,
    ];

    private readonly ImmutableDictionary<string, SpaceId> ours;

    private SpaceMatching(ColourSpace? anchor, ImmutableDictionary<string, SpaceId> ours) => (Anchor, this.ours) = (anchor, ours);

    /// <summary>What the config's scene reference was found to be; null where nothing fitted.</summary>
    public ColourSpace? Anchor { get; }

    /// <summary>The identifier of our space that the config's space is the same as; null where there is none.</summary>
    public SpaceId? OursFor(string space) => ours.TryGetValue(space, out var id) ? id : (SpaceId?)null;

    /// <summary>
    /// The config's name for one of our spaces: of those measured the same, one whose name, alias or a role that points at it is our
    /// identifier comes first, then a role, then scene spaces before display spaces, then the config's order.
    /// </summary>
    public string? NameFor(OpenedConfig config, SpaceId id)
    {
        if (id.IsRaw)
            return (config.Config.Roles.TryGetValue("data", out var role) ? config.Find(role) : null)?.Name
                ?? config.Config.Spaces.FirstOrDefault(s => s.IsData)?.Name;
        if (config.Find(id.Text) is { } named && OursFor(named.Name) == id)
            return named.Name;
        var same = config.Config.Spaces.Where(s => OursFor(s.Name) == id).ToList();
        var roles = config.Config.Roles.Values.Select(config.Find).OfType<ConfigSpace>().ToHashSet();
        return same.OrderBy(s => roles.Contains(s) ? 0 : 1)
            .ThenBy(s => s.IsDisplay ? 1 : 0)
            .ThenBy(s => config.Config.Inactive.Contains(s.Name) ? 1 : 0)
            .FirstOrDefault()
            ?.Name;
    }

    public static SpaceMatching Measure(OpenedConfig config)
    {
        // What each space's codes become in the scene reference.
        var reference = config.Config.Spaces.FirstOrDefault(s =>
            !s.IsData && !s.IsDisplay && s.ToReference is null && s.FromReference is null
        );
        var target = reference ?? config.Find("scene_linear") ?? config.Config.Spaces.FirstOrDefault(s => !s.IsData && !s.IsDisplay);
        if (target is null)
            return new(null, ImmutableDictionary<string, SpaceId>.Empty);
        var values = new Dictionary<ConfigSpace, Vector3[]>();
        foreach (var space in config.Config.Spaces.Where(s => !s.IsData && !s.IsDisplay))
            if (Values(config, space, target) is { } v)
                values[space] = v;
        if (config.Config.Spaces.Any(s => s.IsDisplay))
            foreach (var (space, v) in DisplayValues(config))
                values[space] = v;
        var stated = Stated(config, target);
        var best = (stated is null ? Anchors : [stated])
            .Select(anchor => (Anchor: anchor, Found: Matches(values, anchor, target)))
            .MaxBy(m => m.Found.Count(f => f.Key != target.Name));
        // One space that is what it is called proves nothing of the reference; two that agree do, or a role that says so.
        if (stated is null && best.Found.Count < 2)
            return new(null, Displays(values));
        return new(best.Anchor, best.Found);
    }

    private static ImmutableDictionary<string, SpaceId> Matches(
        Dictionary<ConfigSpace, Vector3[]> values,
        ColourSpace anchor,
        ConfigSpace target
    )
    {
        var found = Displays(values).ToBuilder();
        foreach (var (space, v) in values.Where(v => !v.Key.IsDisplay))
            if (space == target)
                found[space.Name] = anchor.Id;
            else if (Nearest(v, anchor) is { } id)
                found[space.Name] = id;
        return found.ToImmutable();
    }

    /// <summary>Display spaces are measured in CIE XYZ, which every config of version 2 refers them to.</summary>
    private static ImmutableDictionary<string, SpaceId> Displays(Dictionary<ConfigSpace, Vector3[]> values) =>
        values
            .Where(v => v.Key.IsDisplay)
            .Select(v => (v.Key.Name, Id: Nearest(v.Value, ColourSpace.CieXyzD65)))
            .Where(v => v.Id is not null)
            .ToImmutableDictionary(v => v.Name, v => v.Id!.Value);

    private static SpaceId? Nearest(Vector3[] values, ColourSpace anchor) =>
        ColourSpace
            .All.Where(s => !s.IsRaw)
            .Select(s => (s.Id, Error: Error(values, s, anchor)))
            .Where(m => m.Error < Tolerance)
            .OrderBy(m => m.Error)
            .Select(m => (SpaceId?)m.Id)
            .FirstOrDefault();

    private static float Error(Vector3[] values, ColourSpace ours, ColourSpace anchor)
    {
        var transform = ColourTransform.Between(ours, anchor);
        var worst = 0f;
        for (var i = 0; i < Codes.Length; i++)
        {
            var expected = transform.Apply(Codes[i]);
            var error = Vector3.Abs(expected - values[i]) / MathF.Max(1, expected.Length());
            worst = MathF.Max(worst, MathF.Max(error.X, MathF.Max(error.Y, error.Z)));
        }
        return float.IsFinite(worst) ? worst : float.MaxValue;
    }

    private static Vector3[]? Values(OpenedConfig config, ConfigSpace space, ConfigSpace target)
    {
        try
        {
            var chain = config.Between(space.Name, target.Name);
            return [.. Codes.Select(chain.Apply)];
        }
        catch (ConfigException)
        {
            return null;
        }
    }

    private static IEnumerable<(ConfigSpace Space, Vector3[] Values)> DisplayValues(OpenedConfig config)
    {
        var xyz = config.Find("cie_xyz_d65_interchange")
            ?? config.Config.Spaces.FirstOrDefault(s => s.IsDisplay && s.ToReference is null && s.FromReference is null);
        if (xyz is null)
            yield break;
        foreach (var space in config.Config.Spaces.Where(s => s.IsDisplay && !s.IsData))
            if (Values(config, space, xyz) is { } v)
                yield return (space, v);
    }

    /// <summary>What the role aces_interchange says of the reference: it names ACES2065-1.</summary>
    private static ColourSpace? Stated(OpenedConfig config, ConfigSpace target)
    {
        if (config.Find("aces_interchange") is not { } interchange || Values(config, interchange, target) is not { } values)
            return null;
        return Anchors
            .Select(a => (Anchor: a, Error: Error(values, ColourSpace.LinAp0, a)))
            .Where(a => a.Error < Tolerance)
            .OrderBy(a => a.Error)
            .Select(a => a.Anchor)
            .FirstOrDefault();
    }
}
