using System.Buffers.Binary;
using Kiln.Demo;
using Kiln.Demo.Surfaces;
using Kiln.Pixels;
using Kiln.Pixels.Writing;

namespace Kiln.Testing.Files;

/// <summary>Maps with the faults that downloads have.</summary>
public static class TestMaps
{
    public const string Studio = """
        ocio_profile_version: 2
        name: pierhouse
        roles: {default: measured, scene_linear: studio linear, data: measured, aces_interchange: exchange}
        file_rules:
          - !<Rule> {name: painted, colorspace: painted colour, pattern: "*_paint", extension: png}
          - !<Rule> {name: Default, colorspace: default}
        colorspaces:
          - !<ColorSpace> {name: studio linear, aliases: [lin]}
          - !<ColorSpace> {name: measured, isdata: true}
          - !<ColorSpace> {name: exchange, from_scene_reference: !<BuiltinTransform> {style: ACEScg_to_ACES2065-1}}
          - !<ColorSpace>
            name: painted colour
            to_scene_reference: !<GroupTransform>
              children:
                - !<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055}
                - !<BuiltinTransform> {style: UTILITY - ACES-AP1_to_LINEAR-REC709_BFD, direction: inverse}
          - !<ColorSpace> {name: odd one, from_scene_reference: !<GradingPrimaryTransform> {style: log}}
        """;

    private static DemoMaps Maps { get; } = new(DemoSurface.SlateSill, 96);

    /// <summary>A roughness map whose file says that it is sRGB, as many downloads do.</summary>
    public static byte[] RoughnessTaggedSrgb()
    {
        var png = PictureWriter.Png(Maps.Roughness());
        byte[] chunk = [0, 0, 0, 1, .. "sRGB"u8, 0, 0, 0, 0, 0];
        BinaryPrimitives.WriteUInt32BigEndian(chunk.AsSpan(9), Crc(chunk.AsSpan(4, 5)));
        return [.. png[..33], .. chunk, .. png[33..]];
    }

    /// <summary>A base colour that somebody converted to ACEScg already and said so in the file.</summary>
    public static byte[] BaseColourInAcesCg()
    {
        var picture = new ImageBuffer(96, 96, ImageBuffer.Rgb, SampleType.F16);
        var colours = Maps.BaseColour();
        var convert = Colour.Spaces.ColourTransform.Between(Colour.Spaces.ColourSpace.SrgbTexture, Colour.Spaces.ColourSpace.AcesCg);
        var row = new float[96 * 3];
        for (var y = 0; y < 96; y++)
        {
            colours.ReadRow(y, row);
            convert.Apply(row);
            picture.WriteRow(y, row);
        }
        using var stream = new MemoryStream();
        ExrWriter.Write(stream, picture, new(0.713f, 0.293f, 0.165f, 0.830f, 0.128f, 0.044f, 0.32168f, 0.33767f));
        return stream.ToArray();
    }

    public static byte[] BaseColour() => PictureWriter.Png(Maps.BaseColour());

    /// <summary>An RGB picture that runs from black at the left to a value at the right.</summary>
    public static byte[] Grey(int width, int height, byte value)
    {
        var picture = new ImageBuffer(width, height, ImageBuffer.Rgb, SampleType.U8);
        for (var i = 0; i < picture.Data.Length; i++)
            picture.Data[i] = (byte)(value * (i / 3 % width) / (width - 1));
        return PictureWriter.Png(picture);
    }

    /// <summary>PNG, annex D.</summary>
    public static uint Crc(ReadOnlySpan<byte> bytes)
    {
        var crc = 0xffffffffu;
        foreach (var b in bytes)
        {
            crc ^= b;
            for (var k = 0; k < 8; k++)
                crc = (crc & 1) != 0 ? 0xedb88320u ^ crc >> 1 : crc >> 1;
        }
        return ~crc;
    }
}
