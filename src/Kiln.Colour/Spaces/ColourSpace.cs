namespace Kiln.Colour.Spaces;

/// <summary>A named colour space: primaries and encoding. <see cref="Raw"/> has neither; its numbers are no colour.</summary>
public sealed record ColourSpace(SpaceId Id, string Label, Primaries? Primaries, ColourEncoding Encoding)
{
    public static readonly ColourSpace SrgbTexture = new("srgb_texture", "sRGB", Spaces.Primaries.Rec709, ColourEncoding.Srgb);
    public static readonly ColourSpace LinRec709 = new("lin_rec709", "linear Rec.709", Spaces.Primaries.Rec709, ColourEncoding.Linear);
    public static readonly ColourSpace G18Rec709 = new(
        "g18_rec709",
        "gamma 1.8 Rec.709",
        Spaces.Primaries.Rec709,
        ColourEncoding.Power(1.8)
    );
    public static readonly ColourSpace G22Rec709 = new(
        "g22_rec709",
        "gamma 2.2 Rec.709",
        Spaces.Primaries.Rec709,
        ColourEncoding.Power(2.2)
    );
    public static readonly ColourSpace AcesCg = new("acescg", "ACEScg", Spaces.Primaries.Ap1, ColourEncoding.Linear);
    public static readonly ColourSpace LinAp0 = new("lin_ap0", "ACES2065-1", Spaces.Primaries.Ap0, ColourEncoding.Linear);
    public static readonly ColourSpace AcesCct = new("acescct", "ACEScct", Spaces.Primaries.Ap1, ColourEncoding.AcesCct);
    public static readonly ColourSpace AcesCc = new("acescc", "ACEScc", Spaces.Primaries.Ap1, ColourEncoding.AcesCc);
    public static readonly ColourSpace LinRec2020 = new("lin_rec2020", "linear Rec.2020", Spaces.Primaries.Rec2020, ColourEncoding.Linear);
    public static readonly ColourSpace SrgbDisplayP3 = new("srgb_displayp3", "Display P3", Spaces.Primaries.DisplayP3, ColourEncoding.Srgb);
    public static readonly ColourSpace LinDisplayP3 = new(
        "lin_displayp3",
        "linear Display P3",
        Spaces.Primaries.DisplayP3,
        ColourEncoding.Linear
    );

    /// <summary>The exponent is 2 51/256, Adobe RGB (1998) section 4.3.4.2.</summary>
    public static readonly ColourSpace AdobeRgb = new(
        "adobergb",
        "Adobe RGB",
        Spaces.Primaries.AdobeRgb,
        ColourEncoding.Power(563.0 / 256.0)
    );
    public static readonly ColourSpace LinAdobeRgb = new(
        "lin_adobergb",
        "linear Adobe RGB",
        Spaces.Primaries.AdobeRgb,
        ColourEncoding.Linear
    );
    public static readonly ColourSpace CieXyzD65 = new("cie_xyz_d65", "CIE XYZ D65", null, ColourEncoding.Linear);
    public static readonly ColourSpace Raw = new("raw", "raw", null, ColourEncoding.Linear);

    public static readonly IReadOnlyList<ColourSpace> All =
    [
        SrgbTexture,
        LinRec709,
        G18Rec709,
        G22Rec709,
        AcesCg,
        LinAp0,
        AcesCct,
        AcesCc,
        LinRec2020,
        SrgbDisplayP3,
        LinDisplayP3,
        AdobeRgb,
        LinAdobeRgb,
        CieXyzD65,
        Raw,
    ];

    private static readonly Dictionary<SpaceId, ColourSpace> ById = All.ToDictionary(s => s.Id);

    public bool IsRaw => Id.IsRaw;

    public bool IsLinear => Encoding == ColourEncoding.Linear;

    /// <summary>The same primaries without the curve.</summary>
    public ColourSpace Linear => IsLinear ? this : new(Id.Text + " decoded", Label + ", decoded", Primaries, ColourEncoding.Linear);

    /// <exception cref="ArgumentException">No space has this identifier; the message lists those that exist.</exception>
    public static ColourSpace Find(SpaceId id) =>
        ById.TryGetValue(id, out var space)
            ? space
            : throw new ArgumentException($"There is no colour space '{id}'. Known: {string.Join(", ", ById.Keys)}.");

    public static bool Exists(SpaceId id) => ById.ContainsKey(id);

    /// <summary>Linear values of this space to CIE XYZ adapted to D65, white at Y = 1.</summary>
    internal Matrix3 ToXyzD65() =>
        Id == "cie_xyz_d65" ? Matrix3.Identity : Spaces.Primaries.Bradford(Primaries!.White, Spaces.Primaries.D65) * Primaries.ToXyz();
}
