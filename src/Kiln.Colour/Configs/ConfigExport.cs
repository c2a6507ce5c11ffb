using System.Globalization;
using System.Text;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Configs;

/// <summary>
/// A config for the others in the studio: our spaces under their identifiers, the roles, the ACES view and the plain one. Valid in
/// OpenColorIO 2.1.
/// </summary>
public static class ConfigExport
{
    /// <param name="spaces">Identifiers of the spaces to write; ACEScg, ACES2065-1, sRGB and raw are written in any case.</param>
    /// <param name="working">The working space, which becomes the role scene_linear.</param>
    public static string Write(IEnumerable<SpaceId> spaces, ColourSpace working)
    {
        var chosen = spaces
            .Append(working.Id)
            .Concat(["acescg", "lin_ap0", "srgb_texture", "raw"])
            .Distinct()
            .Select(ColourSpace.Find)
            .Where(s => s.Id.Text is not ("acescg" or "raw"))
            .OrderBy(s => s.Id.Text, StringComparer.Ordinal)
            .ToList();
        var text = new StringBuilder(Head(working));
        foreach (var space in chosen)
        {
            text.AppendLine($"  - !<ColorSpace>\n    name: {space.Id}\n    family: {(space.IsLinear ? "scene" : "textures")}");
            text.AppendLine($"    encoding: {Encoding(space)}\n    description: {space.Label}");
            text.AppendLine("    to_scene_reference: !<GroupTransform>\n      children:");
            if (Curve(space) is { } curve)
                text.AppendLine("        - " + curve);
            var m = ColourTransform.Between(space with { Encoding = ColourEncoding.Linear }, ColourSpace.AcesCg).Matrix;
            double[] rows = [m.M11, m.M12, m.M13, 0, m.M21, m.M22, m.M23, 0, m.M31, m.M32, m.M33, 0, 0, 0, 0, 1];
            var numbers = string.Join(", ", rows.Select(n => n.ToString("R", CultureInfo.InvariantCulture)));
            text.AppendLine($"        - !<MatrixTransform> {{matrix: [{numbers}]}}");
        }
        return text.ToString();
    }

    /// <summary>All but the spaces' own definitions.</summary>
    private static string Head(ColourSpace working) =>
        $"""
            ocio_profile_version: 2.1
            description: The colour spaces that this studio uses, written by Nimble Kiln.
            search_path: ""
            strictparsing: true
            luma: [0.2126, 0.7152, 0.0722]
            roles:
              aces_interchange: lin_ap0
              cie_xyz_d65_interchange: XYZ of the display
              color_picking: srgb_texture
              data: raw
              default: raw
              scene_linear: {working.Id}
              texture_paint: srgb_texture
            file_rules:
              - !<Rule> {"{name: Default, colorspace: default}"}
            displays:
              sRGB:
                - !<View> {"{name: aces1-sdr, view_transform: aces1-sdr, display_colorspace: sRGB}"}
                - !<View> {"{name: plain, view_transform: plain, display_colorspace: sRGB}"}
                - !<View> {"{name: raw, colorspace: raw}"}
            active_displays: [sRGB]
            active_views: [aces1-sdr, plain, raw]
            default_view_transform: aces1-sdr
            view_transforms:
              - !<ViewTransform>
                name: aces1-sdr
                from_scene_reference: !<GroupTransform>
                  children:
                    - !<BuiltinTransform> {"{style: ACEScg_to_ACES2065-1}"}
                    - !<BuiltinTransform> {"{style: ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0}"}
              - !<ViewTransform>
                name: plain
                from_scene_reference: !<BuiltinTransform> {"{style: UTILITY - ACES-AP1_to_CIE-XYZ-D65_BFD}"}
            display_colorspaces:
              - !<ColorSpace> {"{name: XYZ of the display, encoding: display-linear}"}
              - !<ColorSpace>
                name: sRGB
                encoding: sdr-video
                from_display_reference: !<BuiltinTransform> {"{style: DISPLAY - CIE-XYZ-D65_to_sRGB}"}
            colorspaces:
              - !<ColorSpace> {"{name: acescg, family: scene, encoding: scene-linear}"}
              - !<ColorSpace> {"{name: raw, family: data, encoding: data, isdata: true}"}

            """;

    private static string Encoding(ColourSpace space) =>
        space.Id.Text is "acescc" or "acescct" ? "log"
        : space.IsLinear ? "scene-linear"
        : "sdr-video";

    private static string? Curve(ColourSpace space) =>
        space.Id.Text switch
        {
            "srgb_texture" or "srgb_displayp3" => "!<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055}",
            "acescct" => "!<BuiltinTransform> {style: CURVE - ACEScct-LOG_to_LINEAR}",
            // The logarithm of S-2014-003 above its toe.
            "acescc" => FormattableString.Invariant(
                $"!<LogAffineTransform> {{base: 2, log_side_slope: {1 / 17.52:R}, log_side_offset: {9.72 / 17.52:R}, lin_side_slope: 1, "
            ) + "lin_side_offset: 0, direction: inverse}",
            "g18_rec709" => "!<ExponentTransform> {value: 1.8}",
            "g22_rec709" => "!<ExponentTransform> {value: 2.2}",
            "adobergb" => "!<ExponentTransform> {value: 2.19921875}",
            _ => null,
        };
}
