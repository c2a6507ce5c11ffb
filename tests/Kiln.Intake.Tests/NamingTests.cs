using Kiln.Intake.Naming;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Tests;

public class NamingTests
{
    public static TheoryData<string, string> Names() =>
        new()
        {
            { "metal_plate_rough_02_rough.png", "roughness" },
            { "T_Brick_BaseColor.png", "baseColor" },
            { "brick-wall-2k-NormalDX.jpg", "normal" },
            { "OldOak_Ambient_Occlusion_4K.png", "ambientOcclusion" },
            { "oak_disp_16bit.tif", "height" },
            { "Stone07_albedo.jpg", "baseColor" },
            { "gloss_tile_metallic.png", "metalness" },
            { "tin_GLOSSINESS.png", "glossiness" },
            // Words of other languages: common practice, no source. The second one has its accent as a letter of its own.
            { "Möbel Holz_Farbe (2).tif", "baseColor" },
            { "beton_Ho\u0308he.tif", "height" },
            { "Kachel Rauheit.png", "roughness" },
            { "mur_rugosité_4k.png", "roughness" },
            { "piedra_opacidad.png", "opacity" },
        };

    [Theory]
    [MemberData(nameof(Names))]
    public void RolesAreReadFromTheEnd(string name, string role)
    {
        var best = NameReading
            .Of(name, NamingTables.Shipped)
            .Candidates.OrderByDescending(c => c.Claim.Strength * c.Position + 0.06f * c.Phrase.Count(x => x == ' '))
            .First();
        Assert.Equal(role, best.Claim.Role?.Id());
    }

    [Fact]
    public void TechnicalTokensAreNoNames()
    {
        var n = NameReading.Of("brick-wall-2k-NormalDX.jpg", NamingTables.Shipped);
        Assert.Equal(2048, n.Resolution);
        Assert.Equal(NormalY.Down, n.NormalY);
        Assert.Equal(1012, NameReading.Of("panel_basecolor.1012.exr", NamingTables.Shipped).Udim);
        Assert.Equal(1012, NameReading.Of("panel_basecolor_u2_v2.exr", NamingTables.Shipped).Udim);
        Assert.Equal("acescg", NameReading.Of("wall_BaseColor_ACEScg.exr", NamingTables.Shipped).Space);
        Assert.Equal(
            "wall",
            NameReading.Of("wall_BaseColor_sRGB_4kx4k.png", NamingTables.Shipped).Candidates.First(c => c.Position >= 1).Surface
        );
    }
}
