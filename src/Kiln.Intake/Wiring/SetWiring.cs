using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Wiring;

/// <summary>
/// Makes a look of a map set: every map in the lane it belongs to, with the steps its reading needs, and the values that let it act.
/// </summary>
public static class SetWiring
{
    /// <summary>Luminance given to a connected emission map: one unit of a target without units is 1 nit.</summary>
    private const float EmissionNits = 1f;

    public static Look Wire(MapSet set, string? name = null)
    {
        var look = new Look { Name = name ?? set.Name.Replace('_', ' ') };
        var slots = ImmutableSortedDictionary.CreateBuilder<string, Slot>();
        var lanes = ImmutableSortedDictionary.CreateBuilder<string, Lane>();
        var remarks = new List<string>();
        // A set's tiles share one reading; the first tile stands for the map.
        var maps = set.Maps.GroupBy(m => m.Role).ToDictionary(g => g.Key, g => g.MinBy(m => m.Udim ?? 0)!);

        foreach (var map in maps.Values)
        {
            var tiles = set
                .Maps.Where(m => m.Role == map.Role && m.Udim is not null)
                .OrderBy(m => m.Udim)
                .Select(m => new MapTile(m.Udim!.Value, m.File.Content, m.File.Name))
                .ToList();
            var file = tiles.Count == 0 ? map.File : map.File with { Tiles = tiles };
            slots[map.Role.Id()] = new(
                map.Role,
                file,
                [file, .. set.Alternates.Where(a => a.Map.Role == map.Role).Select(a => a.Map.File)]
            );
        }

        Origin Origin(MapRole role) => new SlotOrigin(role.Id(), maps[role].Reading);
        void Plain(MapRole role, string input)
        {
            if (maps.ContainsKey(role))
                lanes[input] = new(Chain: new(Origin(role)));
        }

        Plain(MapRole.BaseColor, "base_color");
        Plain(MapRole.Metalness, "base_metalness");
        Plain(MapRole.Roughness, "specular_roughness");
        if (maps.ContainsKey(MapRole.Glossiness) && !maps.ContainsKey(MapRole.Roughness))
            lanes["specular_roughness"] = new(Chain: new(Origin(MapRole.Glossiness), [FirstSteps.GlossinessToRoughness]));
        Plain(MapRole.SpecularLevel, "specular_weight");
        Plain(MapRole.SpecularColor, "specular_color");
        Plain(MapRole.Opacity, "geometry_opacity");
        Plain(MapRole.AmbientOcclusion, "occlusion");
        Plain(MapRole.Transmission, "transmission_weight");
        Plain(MapRole.Subsurface, "subsurface_color");
        Plain(MapRole.Fuzz, "fuzz_color");
        Plain(MapRole.Coat, "coat_weight");
        Plain(MapRole.CoatRoughness, "coat_roughness");
        Plain(MapRole.Anisotropy, "specular_roughness_anisotropy");
        if (maps.ContainsKey(MapRole.Emission))
        {
            lanes["emission_color"] = new(Chain: new(Origin(MapRole.Emission)));
            lanes["emission_luminance"] = new(LookValue.Of(EmissionNits));
        }
        Relief(maps, lanes, Origin);
        foreach (var role in (MapRole[])[MapRole.Cavity, MapRole.Curvature, MapRole.Thickness, MapRole.IdMask])
            if (maps.ContainsKey(role))
                remarks.Add($"The {role.Label()} map is kept in its slot; no input reads it by itself.");
        return look with { Slots = slots.ToImmutable(), Lanes = lanes.ToImmutable(), Remarks = [.. remarks] };
    }

    private static void Relief(
        Dictionary<MapRole, PlacedMap> maps,
        ImmutableSortedDictionary<string, Lane>.Builder lanes,
        Func<MapRole, Origin> origin
    )
    {
        var height =
            maps.ContainsKey(MapRole.Height) ? MapRole.Height
            : maps.ContainsKey(MapRole.Bump) ? MapRole.Bump
            : (MapRole?)null;
        if (maps.ContainsKey(MapRole.Normal))
            lanes["geometry_normal"] = new(Chain: new(origin(MapRole.Normal), [FirstSteps.NormalMap]));
        else if (height is { } relief)
            lanes["geometry_normal"] = new(Chain: new(origin(relief), [FirstSteps.HeightMap]));
    }
}
