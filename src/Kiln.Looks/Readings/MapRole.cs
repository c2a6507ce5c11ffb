using System.Text.Json;
using System.Text.Json.Serialization;

namespace Kiln.Looks.Readings;

/// <summary>What a map tells about a surface. The names are those of the command line contract.</summary>
[JsonConverter(typeof(CamelCaseEnum<MapRole>))]
public enum MapRole
{
    BaseColor,
    Metalness,
    Roughness,
    Glossiness,
    SpecularLevel,
    SpecularColor,
    Normal,
    Bump,
    Height,
    AmbientOcclusion,
    Opacity,
    Emission,
    Transmission,
    Subsurface,
    Fuzz,
    Coat,
    CoatRoughness,
    Anisotropy,
    Cavity,
    Curvature,
    Thickness,
    IdMask,
}

public static class MapRoles
{
    public static readonly IReadOnlyList<MapRole> All = Enum.GetValues<MapRole>();

    /// <summary>The fixed identifier, such as <c>baseColor</c>.</summary>
    public static string Id(this MapRole role) => JsonNamingPolicy.CamelCase.ConvertName(role.ToString());

    /// <exception cref="ArgumentException">No role has this identifier.</exception>
    public static MapRole Parse(string id) =>
        All.Where(r => r.Id() == id).Cast<MapRole?>().FirstOrDefault()
        ?? throw new ArgumentException($"There is no map role '{id}'. Known: {string.Join(", ", All.Select(Id))}.");

    public static string Label(this MapRole role) =>
        role switch
        {
            MapRole.BaseColor => "base colour",
            MapRole.SpecularLevel => "specular level",
            MapRole.SpecularColor => "specular colour",
            MapRole.AmbientOcclusion => "ambient occlusion",
            MapRole.CoatRoughness => "coat roughness",
            MapRole.IdMask => "identifier mask",
            _ => role.ToString().ToLowerInvariant(),
        };

    /// <summary>How maps of this role are taken: colour is converted, measurements are left alone.</summary>
    public static ReadingKind Kind(this MapRole role) =>
        role switch
        {
            MapRole.BaseColor or MapRole.SpecularColor or MapRole.Emission or MapRole.Subsurface or MapRole.Fuzz or MapRole.IdMask =>
                ReadingKind.Colour,
            MapRole.Normal => ReadingKind.Direction,
            _ => ReadingKind.Scalar,
        };
}

/// <summary>Writes enums by their camelCase names.</summary>
public sealed class CamelCaseEnum<T>() : JsonStringEnumConverter<T>(JsonNamingPolicy.CamelCase, allowIntegerValues: false)
    where T : struct, Enum;
