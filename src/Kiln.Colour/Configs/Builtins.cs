using System.Numerics;
using Kiln.Colour.Operations;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;

namespace Kiln.Colour.Configs;

/// <summary>
/// The built-in transforms that configs name, made from published primaries and curves; each is compared with OpenColorIO's own in the
/// tests.
/// </summary>
public static class Builtins
{
    private static readonly Primaries P3Dci = new(new(0.680, 0.320), new(0.265, 0.690), new(0.150, 0.060), new(0.314, 0.351));
    private static readonly Primaries P3D60 = P3Dci with { White = Primaries.AcesWhite };

    /// <summary>Every style that is supported.</summary>
    public static IReadOnlyCollection<string> Styles => Known.Keys;

    /// <exception cref="ConfigException">The style is not supported.</exception>
    public static IEnumerable<ColourOp> Find(string style) =>
        Known.TryGetValue(style, out var make) ? make() : throw new ConfigException($"the built-in transform '{style}' is not supported");

    private static MatrixOp Ap1ToAp0 { get; } = MatrixOp.Of(Primaries.Ap1.To(Primaries.Ap0));

    /// <summary>
    /// Academy S-2016-001. OpenColorIO's built-in does not end at the largest half float, as the standard and our own space do: a config
    /// is followed to its implementation.
    /// </summary>
    private static LogOp AcesCct { get; } = Same(2, 1 / 17.52, 9.72 / 17.52, 1, 0, 0.0078125, null);

    /// <summary>ACES 1.x CTL, LMT.Academy.BlueLightArtifactFix: the matrix in AP0.</summary>
    private static MatrixOp BlueLight { get; } =
        MatrixOp.Of(
            new(
                0.9404372683,
                -0.0183068787,
                0.0778696104,
                0.0083786969,
                0.8286599939,
                0.1629613092,
                0.0005471261,
                -0.0008833746,
                1.0003362486
            )
        );

    /// <summary>SMPTE ST 2084; one stands for 100 cd/m².</summary>
    private static FunctionOp Pq { get; } =
        new("ST 2084", v => new(PqCode(v.X), PqCode(v.Y), PqCode(v.Z)), v => new(PqLight(v.X), PqLight(v.Y), PqLight(v.Z)));

    private static readonly Dictionary<string, Func<IEnumerable<ColourOp>>> Known = new(StringComparer.OrdinalIgnoreCase)
    {
        ["IDENTITY"] = () => [],
        ["UTILITY - ACES-AP0_to_CIE-XYZ-D65_BFD"] = () => [ToXyz(Primaries.Ap0)],
        ["UTILITY - ACES-AP1_to_CIE-XYZ-D65_BFD"] = () => [ToXyz(Primaries.Ap1)],
        ["UTILITY - ACES-AP1_to_LINEAR-REC709_BFD"] = () => [MatrixOp.Of(Primaries.Ap1.To(Primaries.Rec709))],
        ["CURVE - ACEScct-LOG_to_LINEAR"] = () => [AcesCct.Inverse()],
        ["ACEScct_to_ACES2065-1"] = () => [AcesCct.Inverse(), Ap1ToAp0],
        ["ACEScc_to_ACES2065-1"] = () => [new EncodingOp(ColourEncoding.AcesCc, Decodes: true), Ap1ToAp0],
        ["ACEScg_to_ACES2065-1"] = () => [Ap1ToAp0],
        ["ACES-LMT - BLUE_LIGHT_ARTIFACT_FIX"] = () => [BlueLight],
        ["ACES-LMT - ACES 1.3 Reference Gamut Compression"] = () =>
            [Ap1ToAp0.Inverse(), FixedFunctions.ReferenceGamutCompression, Ap1ToAp0],
        ["ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0"] = () =>
            [new FunctionOp("ACES 1.0 SDR video", AcesOutput.Apply, null), ToXyz(Primaries.Rec709)],
        ["ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-CINEMA_1.0"] = () =>
            [new FunctionOp("ACES 1.0 SDR cinema", AcesOutput.Cinema, null), ToXyz(Primaries.Ap1)],
        ["CURVE - LINEAR_to_ST-2084"] = () => [Pq],
        ["CURVE - ST-2084_to_LINEAR"] = () => [Pq.Inverse()],
        ["DISPLAY - CIE-XYZ-D65_to_REC.1886-REC.709"] = () => [FromXyz(Primaries.Rec709), Power(2.4)],
        ["DISPLAY - CIE-XYZ-D65_to_REC.1886-REC.2020"] = () => [FromXyz(Primaries.Rec2020), Power(2.4)],
        ["DISPLAY - CIE-XYZ-D65_to_G2.2-REC.709"] = () => [FromXyz(Primaries.Rec709), Power(2.2)],
        ["DISPLAY - CIE-XYZ-D65_to_sRGB"] = () =>
            [
                FromXyz(Primaries.Rec709),
                new ExponentWithLinearOp([2.4, 2.4, 2.4, 1], [0.055, 0.055, 0.055, 0], mirror: false, inverse: true),
            ],
        ["DISPLAY - CIE-XYZ-D65_to_G2.6-P3-DCI-BFD"] = () => [FromXyz(P3Dci), Power(2.6)],
        ["DISPLAY - CIE-XYZ-D65_to_G2.6-P3-D65"] = () => [FromXyz(Primaries.DisplayP3), Power(2.6)],
        ["DISPLAY - CIE-XYZ-D65_to_G2.6-P3-D60-BFD"] = () => [FromXyz(P3D60), Power(2.6)],
        ["DISPLAY - CIE-XYZ-D65_to_REC.2100-PQ"] = () => [FromXyz(Primaries.Rec2020), Pq],
        ["DISPLAY - CIE-XYZ-D65_to_ST2084-P3-D65"] = () => [FromXyz(Primaries.DisplayP3), Pq],
        ["ARRI_ALEXA-LOGC-EI800-AWG_to_ACES2065-1"] = () => Camera(CameraLogs.ArriLogC800, CameraLogs.ArriWideGamut),
        ["PANASONIC_VLOG-VGAMUT_to_ACES2065-1"] = () =>
            [CameraLogs.PanasonicVLog.Inverse(), MatrixOp.Of(CameraLogs.PanasonicVGamut.To(Primaries.Ap0))],
        ["RED_LOG3G10-RWG_to_ACES2065-1"] = () => [CameraLogs.RedLog3G10.Inverse(), MatrixOp.Of(CameraLogs.RedWideGamut.To(Primaries.Ap0))],
        ["SONY_SLOG3-SGAMUT3_to_ACES2065-1"] = () => Camera(CameraLogs.SonySLog3, CameraLogs.SonySGamut3),
        ["SONY_SLOG3-SGAMUT3.CINE_to_ACES2065-1"] = () => Camera(CameraLogs.SonySLog3, CameraLogs.SonySGamut3Cine),
    };

    private const double M1 = 2610.0 / 16384,
        M2 = 2523.0 / 4096 * 128,
        C1 = 3424.0 / 4096,
        C2 = 2413.0 / 4096 * 32,
        C3 = 2392.0 / 4096 * 32;

    private static float PqCode(float light)
    {
        var y = Math.Pow(Math.Max(0, light) / 100, M1);
        return (float)Math.Pow((C1 + C2 * y) / (1 + C3 * y), M2);
    }

    private static float PqLight(float code)
    {
        var x = Math.Pow(Math.Max(0, code), 1 / M2);
        return (float)(100 * Math.Pow(Math.Max(0, x - C1) / (C2 - C3 * x), 1 / M1));
    }

    private static MatrixOp ToXyz(Primaries p) => MatrixOp.Of(Primaries.Bradford(p.White, Primaries.D65) * p.ToXyz());

    private static ColourOp FromXyz(Primaries p) => ToXyz(p).Inverse();

    /// <summary>What lies below black is black on a display.</summary>
    private static ExponentOp Power(double gamma) => new([1 / gamma, 1 / gamma, 1 / gamma, 1], NegativeStyle.Clamp);

    internal static LogOp Same(
        double lead,
        double logSlope,
        double logOffset,
        double linSlope,
        double linOffset,
        double? lineBreak,
        double? lineSlope
    ) =>
        new(
            new LogCurve(lead, Three(logSlope), Three(logOffset), Three(linSlope), Three(linOffset))
            {
                LineBreak = lineBreak is { } b ? Three(b) : null,
                LineSlope = lineSlope is { } s ? Three(s) : null,
            }
        );

    private static double[] Three(double v) => [v, v, v];

    private static IEnumerable<ColourOp> Camera(LogOp log, Primaries gamut) =>
        [log.Inverse(), MatrixOp.Of(Primaries.Ap0.ToXyz().Inverse() * Primaries.Cat02(gamut.White, Primaries.AcesWhite) * gamut.ToXyz())];
}

/// <summary>Camera logs and gamuts as their makers publish them; values from memory, checked against OpenColorIO.</summary>
internal static class CameraLogs
{
    public static LogOp ArriLogC800 { get; } =
        Builtins.Same(10, 0.247189638318671, 0.385536998692443, 5.55555555555556, 0.0522722750251688, 0.0105909904954696, null);

    public static LogOp PanasonicVLog { get; } = Builtins.Same(10, 0.241514, 0.598206, 1, 0.00873, 0.01, 5.6);

    public static LogOp RedLog3G10 { get; } = Builtins.Same(10, 0.224282, 0, 155.975327, 0.01 * 155.975327 + 1, -0.01, null);

    public static LogOp SonySLog3 { get; } =
        Builtins.Same(10, 261.5 / 1023, 420.0 / 1023, 1 / 0.19, 0.01 / 0.19, 0.01125, (171.2102946929 - 95) / 0.01125 / 1023);

    public static Primaries ArriWideGamut { get; } = new(new(0.6840, 0.3130), new(0.2210, 0.8480), new(0.0861, -0.1020), Primaries.D65);

    public static Primaries PanasonicVGamut { get; } = new(new(0.730, 0.280), new(0.165, 0.840), new(0.100, -0.030), Primaries.D65);

    public static Primaries RedWideGamut { get; } =
        new(new(0.780308, 0.304253), new(0.121595, 1.493994), new(0.095612, -0.084589), Primaries.D65);

    public static Primaries SonySGamut3 { get; } = new(new(0.730, 0.280), new(0.140, 0.855), new(0.100, -0.050), Primaries.D65);

    public static Primaries SonySGamut3Cine { get; } = new(new(0.766, 0.275), new(0.225, 0.800), new(0.089, -0.087), Primaries.D65);
}
