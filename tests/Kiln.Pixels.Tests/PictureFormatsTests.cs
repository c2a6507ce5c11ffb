using Kiln.Pixels.Decoding;

namespace Kiln.Pixels.Tests;

/// <summary>The registry of formats: complete, and no two of them claim the same.</summary>
public sealed class PictureFormatsTests
{
    public static TheoryData<PictureFormat> All => [.. Enum.GetValues<PictureFormat>().Except([PictureFormat.Unknown])];

    [Theory, MemberData(nameof(All))]
    public void EveryFormatHasALabelAnExtensionAndAMediaType(PictureFormat format)
    {
        Assert.NotEqual("unknown", format.Label());
        Assert.StartsWith("image/", format.MediaType(), StringComparison.Ordinal);
        Assert.Contains(format.Label(), PictureFormats.Labels.Split(", "));
    }

    [Fact]
    public void NoTwoAreTheSame()
    {
        var formats = Enum.GetValues<PictureFormat>();
        Assert.Equal(formats.Length, formats.Select(f => f.Label()).Distinct().Count());
        Assert.Equal(formats.Length, formats.Select(f => f.MediaType()).Distinct().Count());
    }

    /// <summary>The signatures as the formats' own specifications give them (PNG 5.2, JFIF SOI and a marker, TIFF 6.0 section 2, BigTIFF,
    /// OpenEXR file layout, RADIANCE picture format, RIFF container of WebP, DDS file layout).</summary>
    [Theory]
    [InlineData("89504E470D0A1A0A", PictureFormat.Png)]
    [InlineData("FFD8FFE0", PictureFormat.Jpeg)]
    [InlineData("49492A00", PictureFormat.Tiff)]
    [InlineData("4D4D002A", PictureFormat.Tiff)]
    [InlineData("49492B00", PictureFormat.Tiff)]
    [InlineData("4D4D002B", PictureFormat.Tiff)]
    [InlineData("762F3101", PictureFormat.OpenExr)]
    [InlineData("233F52414449414E4345", PictureFormat.RadianceHdr)]
    [InlineData("524946460000000057454250", PictureFormat.WebP)]
    [InlineData("52494646000000005741564500", PictureFormat.Unknown)]
    [InlineData("44445320", PictureFormat.Dds)]
    [InlineData("474946383961", PictureFormat.Unknown)]
    [InlineData("", PictureFormat.Unknown)]
    public void AFormatIsToldByItsFirstBytes(string head, PictureFormat expected) =>
        Assert.Equal(expected, PictureFormats.Recognise(Convert.FromHexString(head)));

    [Theory]
    [InlineData(".PNG")]
    [InlineData(".jpeg")]
    [InlineData(".psd")]
    public void AnExtensionClaimsAPicture(string extension) => Assert.Contains(extension, PictureFormats.Extensions);
}
