using System.Globalization;
using System.Text;

namespace Kiln.Colour.Tests.Configs;

/// <summary>Configs of our own making with every kind of transform and file: one of profile version 1, one of version 2.</summary>
internal static class SampleConfigs
{
    private static string N(double v) => v.ToString("R", CultureInfo.InvariantCulture);

    /// <summary>Writes the config and its tables; returns the config's path.</summary>
    public static string Version1(string folder)
    {
        var luts = Directory.CreateDirectory(Path.Combine(folder, "luts")).FullName;
        // A curve like a display's in 1,024 steps from -0.1 to 1.2, rising throughout.
        double Curve(double x) => Math.CopySign(Math.Pow(Math.Abs(x), 2.2), x) + 0.05 * x;
        var spi1 = new StringBuilder("Version 1\nFrom -0.1 1.2\nLength 1024\nComponents 1\n{\n");
        for (var i = 0; i < 1024; i++)
            spi1.Append("    ").AppendLine(N(Curve(-0.1 + 1.3 * i / 1023)));
        File.WriteAllText(Path.Combine(luts, "curve.spi1d"), spi1.Append("}\n").ToString());
        var three = new StringBuilder("Version 1\nFrom 0 1\nLength 33\nComponents 3\n{\n");
        for (var i = 0; i < 33; i++)
            three.AppendLine($"  {N(Math.Pow(i / 32.0, 1.8))} {N(Math.Pow(i / 32.0, 2.0))} {N(Math.Pow(i / 32.0, 2.4))}");
        File.WriteAllText(Path.Combine(luts, "three.spi1d"), three.Append("}\n").ToString());
        var spi3 = new StringBuilder("SPILUT 1.0\n3 3\n9 9 9\n");
        for (var r = 0; r < 9; r++)
        for (var g = 0; g < 9; g++)
        for (var b = 0; b < 9; b++)
            spi3.AppendLine($"{r} {g} {b} {Mixed(r / 8.0, g / 8.0, b / 8.0)}");
        File.WriteAllText(Path.Combine(luts, "film.spi3d"), spi3.ToString());
        File.WriteAllText(Path.Combine(luts, "gamut.spimtx"), "0.9 0.1 0 655.35\n0.05 0.9 0.05 0\n0 0.1 0.9 -327.675\n");
        var cube = new StringBuilder("TITLE \"film\"\nLUT_3D_SIZE 7\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 2 2 2\n");
        for (var b = 0; b < 7; b++)
        for (var g = 0; g < 7; g++)
        for (var r = 0; r < 7; r++)
            cube.AppendLine(Mixed(r / 6.0, g / 6.0, b / 6.0));
        File.WriteAllText(Path.Combine(luts, "film.cube"), cube.ToString());
        var line = new StringBuilder("LUT_1D_SIZE 17\n");
        for (var i = 0; i < 17; i++)
            line.AppendLine($"{N(Math.Sqrt(i / 16.0))} {N(Math.Sqrt(i / 16.0))} {N(i / 16.0)}");
        File.WriteAllText(Path.Combine(luts, "line.cube"), line.ToString());
        var csp = new StringBuilder(
            "CSPLUTV100\n3D\n\nBEGIN METADATA\nours\nEND METADATA\n\n2\n0 2\n0 1\n2\n0 2\n0 1\n2\n0 2\n0 1\n\n5 5 5\n"
        );
        for (var b = 0; b < 5; b++)
        for (var g = 0; g < 5; g++)
        for (var r = 0; r < 5; r++)
            csp.AppendLine(Mixed(r / 4.0, g / 4.0, b / 4.0));
        File.WriteAllText(Path.Combine(luts, "film.csp"), csp.ToString());
        var csp1 = new StringBuilder("CSPLUTV100\n1D\n\n2\n0 1\n0 1\n2\n0 1\n0 1\n2\n0 1\n0 1\n\n9\n");
        for (var i = 0; i < 9; i++)
            csp1.AppendLine($"{N(i / 8.0 * i / 8.0)} {N(i / 8.0)} {N(Math.Sqrt(i / 8.0))}");
        File.WriteAllText(Path.Combine(luts, "line.csp"), csp1.ToString());
        var path = Path.Combine(folder, "config.ocio");
        File.WriteAllText(
            path,
            """
            ocio_profile_version: 1
            search_path: luts
            strictparsing: true
            luma: [0.2126, 0.7152, 0.0722]
            roles:
              default: raw
              reference: lin
              scene_linear: lin
              texture_paint: srgb8
              data: raw
            displays:
              monitor:
                - !<View> {name: film, colorspace: film3d, looks: warm}
                - !<View> {name: raw, colorspace: raw}
                - !<View> {name: cooler, colorspace: srgb8, looks: "-warm"}
            active_displays: []
            active_views: []
            looks:
              - !<Look>
                name: warm
                process_space: lin
                transform: !<CDLTransform> {slope: [1.1, 1, 0.9], offset: [0.01, 0, 0], power: [1, 1, 1.05], sat: 0.9}
            colorspaces:
              - !<ColorSpace> {name: lin, family: work, bitdepth: 32f, isdata: false, allocation: lg2, allocationvars: [-15, 6]}
              - !<ColorSpace> {name: raw, family: util, bitdepth: 32f, isdata: true}
              - !<ColorSpace>
                name: srgb8
                family: tex
                bitdepth: 8ui
                isdata: false
                to_reference: !<GroupTransform>
                  children:
                    - !<FileTransform> {src: curve.spi1d, interpolation: linear}
                    - !<FileTransform> {src: gamut.spimtx}
              - !<ColorSpace>
                name: threecurves
                from_reference: !<FileTransform> {src: three.spi1d, interpolation: linear, direction: inverse}
              - !<ColorSpace>
                name: film3d
                from_reference: !<GroupTransform>
                  children:
                    - !<ColorSpaceTransform> {src: lin, dst: logged}
                    - !<FileTransform> {src: film.spi3d, interpolation: linear}
              - !<ColorSpace>
                name: filmtetra
                from_reference: !<FileTransform> {src: film.spi3d, interpolation: tetrahedral}
              - !<ColorSpace>
                name: cube
                from_reference: !<FileTransform> {src: film.cube, interpolation: tetrahedral}
              - !<ColorSpace>
                name: linecube
                from_reference: !<FileTransform> {src: line.cube, interpolation: linear}
              - !<ColorSpace>
                name: csp
                from_reference: !<FileTransform> {src: film.csp, interpolation: linear}
              - !<ColorSpace>
                name: cspline
                from_reference: !<FileTransform> {src: line.csp, interpolation: linear}
              - !<ColorSpace>
                name: logged
                to_reference: !<GroupTransform>
                  children:
                    - !<AllocationTransform> {allocation: lg2, vars: [-8, 5, 0.00390625], direction: inverse}
              - !<ColorSpace>
                name: uniform
                from_reference: !<AllocationTransform> {allocation: uniform, vars: [-0.5, 2]}
              - !<ColorSpace>
                name: gamma
                to_reference: !<ExponentTransform> {value: [2.2, 2.0, 1.8, 1]}
              - !<ColorSpace>
                name: logten
                from_reference: !<GroupTransform>
                  children:
                    - !<MatrixTransform> {matrix: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], offset: [0.1, 0.1, 0.1, 0]}
                    - !<LogTransform> {base: 10}
              - !<ColorSpace>
                name: graded
                from_reference: !<CDLTransform> {slope: [0.9, 1, 1.2], offset: [0.02, -0.01, 0], power: [1.1, 1, 0.9], sat: 1.2}
            """
        );
        return path;
    }

    private static string Mixed(double r, double g, double b) =>
        $"{N(Math.Pow(0.8 * r + 0.15 * g + 0.05 * b, 0.8))} {N(Math.Pow(0.1 * r + 0.85 * g + 0.05 * b, 0.9))} "
        + $"{N(0.05 * r + 0.1 * g + 0.85 * b)}";

    public static string Version2(string folder)
    {
        Directory.CreateDirectory(folder);
        var path = Path.Combine(folder, "config.ocio");
        File.WriteAllText(
            Path.Combine(folder, "chain.clf"),
            """
            <?xml version="1.0" encoding="UTF-8"?>
            <ProcessList xmlns="urn:AMPAS:CLF:v3.0" id="1" compCLFversion="3.0">
              <Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 4">0.9 0.1 0 0.01  0 1 0 0  0.05 0.05 0.9 0</Array></Matrix>
              <Range inBitDepth="32f" outBitDepth="32f"><minInValue>0</minInValue><minOutValue>0</minOutValue></Range>
              <Exponent inBitDepth="32f" outBitDepth="32f" style="monCurveRev"><ExponentParams exponent="2.4" offset="0.055"/></Exponent>
              <LUT1D inBitDepth="32f" outBitDepth="10i"><Array dim="5 1">0 200 500 800 1023</Array></LUT1D>
              <LUT3D inBitDepth="10i" outBitDepth="32f" interpolation="tetrahedral"><Array dim="2 2 2 3">0 0 0  0 0.1 0.9  0.1 0.9 0  0 1 1  0.9 0 0.1  1 0 1  1 0.9 0  1 1 1</Array></LUT3D>
              <ASC_CDL inBitDepth="32f" outBitDepth="32f" style="FwdNoClamp"><SOPNode><Slope>1.1 1 0.9</Slope><Offset>0 0.01 0</Offset><Power>1 1.1 1</Power></SOPNode><SatNode><Saturation>0.9</Saturation></SatNode></ASC_CDL>
              <Log inBitDepth="32f" outBitDepth="32f" style="cameraLinToLog"><LogParams base="10" logSideSlope="0.3" logSideOffset="0.4" linSideSlope="5" linSideOffset="0.05" linSideBreak="0.01"/></Log>
            </ProcessList>
            """
        );
        File.WriteAllText(
            path,
            """
            ocio_profile_version: 2.1
            environment: {SHOW: quay}
            search_path: ["."]
            name: quay
            roles:
              aces_interchange: AP0 studio
              cie_xyz_d65_interchange: XYZ display
              default: Scene AP1
              scene_linear: Scene AP1
              texture_paint: Painter's sRGB
              data: Untouched
            file_rules:
              - !<Rule> {name: float, colorspace: scene_linear, pattern: "*", extension: exr}
              - !<Rule> {name: colour maps, colorspace: Painter's sRGB, regex: ".*_(albedo|basecolor)\\.(png|jpg)$"}
              - !<Rule> {name: measurements, colorspace: Untouched, pattern: "*_[rn]*", extension: png}
              - !<Rule> {name: ColorSpaceNamePathSearch}
              - !<Rule> {name: Default, colorspace: default}
            viewing_rules:
              - !<Rule> {name: light only, encodings: scene-linear}
              - !<Rule> {name: by name, colorspaces: [tex_srgb, Untouched]}
            shared_views:
              - !<View> {name: Film, view_transform: film, display_colorspace: <USE_DISPLAY_NAME>, looks: "+dusk"}
              - !<View> {name: Plain, view_transform: none, display_colorspace: <USE_DISPLAY_NAME>}
            displays:
              sRGB screen:
                - !<View> {name: Raw, colorspace: Untouched}
                - !<View> {name: Of light, colorspace: Untouched, rule: light only}
                - !<View> {name: Of textures, colorspace: Untouched, rule: by name}
                - !<Views> [Film, Plain]
              Cinema wall:
                - !<Views> [Film]
            active_displays: []
            active_views: []
            default_view_transform: film
            view_transforms:
              - !<ViewTransform>
                name: film
                from_scene_reference: !<GroupTransform>
                  children:
                    - !<ColorSpaceTransform> {src: Scene AP1, dst: AP0 studio}
                    - !<CDLTransform> {slope: [0.8, 0.8, 0.8], style: asc}
                    - !<BuiltinTransform> {style: UTILITY - ACES-AP0_to_CIE-XYZ-D65_BFD}
              - !<ViewTransform>
                name: none
                from_scene_reference: !<BuiltinTransform> {style: UTILITY - ACES-AP1_to_CIE-XYZ-D65_BFD}
            looks:
              - !<Look>
                name: dusk
                process_space: Log for grading
                transform: !<CDLTransform> {slope: [0.98, 1, 1.05], offset: [0, 0, 0.01], sat: 0.95}
            display_colorspaces:
              - !<ColorSpace> {name: XYZ display, isdata: false}
              - !<ColorSpace>
                name: sRGB screen
                encoding: sdr-video
                from_display_reference: !<BuiltinTransform> {style: DISPLAY - CIE-XYZ-D65_to_sRGB}
              - !<ColorSpace>
                name: Cinema wall
                from_display_reference: !<BuiltinTransform> {style: DISPLAY - CIE-XYZ-D65_to_G2.6-P3-D65}
            colorspaces:
              - !<ColorSpace>
                name: Scene AP1
                aliases: [ap1, "studio linear"]
                family: Scene
                encoding: scene-linear
                isdata: false
              - !<ColorSpace>
                name: AP0 studio
                encoding: scene-linear
                from_scene_reference: !<BuiltinTransform> {style: ACEScg_to_ACES2065-1}
              - !<ColorSpace>
                name: Painter's sRGB
                aliases: [tex_srgb]
                family: Textures
                encoding: sdr-video
                to_scene_reference: !<GroupTransform>
                  children:
                    - !<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055}
                    - !<BuiltinTransform> {style: UTILITY - ACES-AP1_to_LINEAR-REC709_BFD, direction: inverse}
              - !<ColorSpace>
                name: Untouched
                encoding: data
                isdata: true
              - !<ColorSpace>
                name: Log for grading
                encoding: log
                to_scene_reference: !<BuiltinTransform> {style: CURVE - ACEScct-LOG_to_LINEAR}
              - !<ColorSpace>
                name: Camera A
                encoding: log
                to_scene_reference: !<GroupTransform>
                  children:
                    - !<LogCameraTransform> {base: 10, log_side_slope: 0.25, log_side_offset: 0.38, lin_side_slope: 5.5, lin_side_offset: 0.05, lin_side_break: 0.0106, direction: inverse}
                    - !<MatrixTransform> {matrix: [0.7, 0.2, 0.1, 0, 0.05, 0.95, 0, 0, 0, 0.1, 0.9, 0, 0, 0, 0, 1]}
              - !<ColorSpace>
                name: Camera B
                to_scene_reference: !<LogAffineTransform> {base: 2, log_side_slope: [0.3, 0.3, 0.3], log_side_offset: [0.6, 0.61, 0.6], lin_side_slope: [1.1, 1, 1], lin_side_offset: [0.05, 0.05, 0.05], direction: inverse}
              - !<ColorSpace>
                name: Mirrored
                to_scene_reference: !<ExponentTransform> {value: 2.2, style: mirror}
              - !<ColorSpace>
                name: Passed
                to_scene_reference: !<ExponentTransform> {value: 1.8, style: pass_thru}
              - !<ColorSpace>
                name: Ranged
                from_scene_reference: !<RangeTransform> {min_in_value: -0.1, max_in_value: 1.5, min_out_value: 0, max_out_value: 1}
              - !<ColorSpace>
                name: Compressed
                from_scene_reference: !<GroupTransform>
                  children:
                    - !<FixedFunctionTransform> {style: ACES_GamutComp13, params: [1.147, 1.264, 1.312, 0.815, 0.803, 0.88, 1.2]}
              - !<ColorSpace>
                name: Red modifier
                from_scene_reference: !<FixedFunctionTransform> {style: ACES_RedMod10}
              - !<ColorSpace>
                name: Old red modifier
                from_scene_reference: !<FixedFunctionTransform> {style: ACES_RedMod03}
              - !<ColorSpace>
                name: Glow
                from_scene_reference: !<FixedFunctionTransform> {style: ACES_Glow10}
              - !<ColorSpace>
                name: Dimmed
                from_scene_reference: !<FixedFunctionTransform> {style: ACES_DarkToDim10}
              - !<ColorSpace>
                name: Chain file
                from_scene_reference: !<FileTransform> {src: chain.clf}
              - !<ColorSpace>
                name: Display seen
                from_scene_reference: !<DisplayViewTransform> {src: Scene AP1, display: sRGB screen, view: Film}
              - !<ColorSpace>
                name: Look applied
                from_scene_reference: !<LookTransform> {src: Scene AP1, dst: Scene AP1, looks: dusk}
              - !<ColorSpace>
                name: Not ours
                from_scene_reference: !<GradingPrimaryTransform> {style: log}
            """
        );
        return path;
    }
}
