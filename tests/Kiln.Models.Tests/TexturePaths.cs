using System.Text;
using Kiln.Intake;
using Kiln.Intake.Naming;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Models.Materials;
using Kiln.Pixels;

namespace Kiln.Models.Tests;

/// <summary>
/// Pictures that a model's materials name, found among what is known: where the path says, by the name, by the surface that is meant; and
/// never by a path that leads out of the delivery.
/// </summary>
public sealed class TexturePaths
{
    private static PlacedMap Map(string path, MapRole role, int? udim = null)
    {
        var name = path[(path.LastIndexOf('/') + 1)..];
        var file = new MapFile(ContentHash.Of(Encoding.UTF8.GetBytes(path)), name, 64, 64, 8, false, "png", ["R", "G", "B"], null);
        var reading = UsualReading.Of(role, file.Facts(), null, null);
        return new(path, role, reading.Channel, reading, null, null, 64, 64, 8, false, udim, 1, [], file);
    }

    private static SourceDelivery Delivery(string name, bool isOwn, params MapSet[] sets) => new(name, new([.. sets], [], [], []), isOwn);

    private static MapSet Set(string name, params PlacedMap[] maps) => new(name, [.. maps], [], []);

    private static readonly SourceDelivery Own = Delivery(
        "radio",
        isOwn: true,
        Set("knurled_steel", Map("scene/tex/knurled_color.png", MapRole.BaseColor), Map("other/knurled_rough.png", MapRole.Roughness))
    );

    private static readonly SourceDelivery Library = Delivery(
        "library",
        isOwn: false,
        Set("speaker_cloth", Map("cloth_a.png", MapRole.BaseColor), Map("cloth_n.png", MapRole.Normal)),
        Set("amber", Map("amber_1001.tif", MapRole.BaseColor, 1001), Map("amber_1002.tif", MapRole.BaseColor, 1002)),
        Set("brass_plate", Map("brass/knurled_color.png", MapRole.BaseColor))
    );

    private static IReadOnlyList<TextureSource> Of(MapRole role, string written, string material = "material") =>
        new TextureSources([Own, Library], "scene/radio.obj", NamingTables.Shipped).Of(new(role, written, null), material);

    [Theory]
    [InlineData("tex/knurled_color.png", "knurled_color.png", 1, "where the path says")]
    [InlineData("tex\\knurled_color.png", "knurled_color.png", 1, "where the path says")]
    [InlineData("../scene/tex/KNURLED_color.png", "knurled_color.png", 1, "where the path says")]
    [InlineData("D:\\jobs\\tex\\knurled_color.png", "knurled_color.png", 0.95, "elsewhere in the delivery")]
    [InlineData("/mnt/gone/cloth_a.png", "cloth_a.png", 0.9, "the same name")]
    [InlineData("/mnt/gone/cloth_a.tga", "cloth_a.png", 0.8, "in another format (png)")]
    public void APathIsFollowedAndANameIsFound(string written, string name, double score, string reason)
    {
        var first = Of(MapRole.BaseColor, written)[0];
        Assert.Equal(name, first.File.Name);
        Assert.Equal(score, first.Score, 1e-6);
        Assert.EndsWith(reason, first.Reason, StringComparison.Ordinal);
    }

    /// <summary>Two files of one name: the own delivery's before another's, and both are shown.</summary>
    [Fact]
    public void OfTwoOfOneNameTheOwnComesFirst() =>
        Assert.Equal(
            ["radio, knurled_steel", "library, brass_plate"],
            Of(MapRole.BaseColor, "C:/x/knurled_color.png").Take(2).Select(s => s.From)
        );

    [Theory]
    [InlineData("D:/old/speakerCloth_albedo.png", "x", "the file's name speaks of")]
    [InlineData("D:/old/untitled.png", "speaker_cloth", "the material speaks of")]
    public void WhatNoFileIsCalledIsFoundByItsSurface(string written, string material, string reason)
    {
        var found = Assert.Single(Of(MapRole.BaseColor, written, material));
        Assert.Equal("cloth_a.png", found.File.Name);
        Assert.True(found.Score < TextureSource.Sure, "it is shown, not taken unasked");
        Assert.Contains(reason, found.Reason, StringComparison.Ordinal);
        // Its map of the same role, and no other.
        Assert.Equal("cloth_n.png", Assert.Single(Of(MapRole.Normal, written, material)).File.Name);
        Assert.Empty(Of(MapRole.Metalness, written, material));
    }

    /// <summary>Tiles that intake took for two surfaces, since their names say nothing: the path means both.</summary>
    [Fact]
    public void TilesOfSeveralSurfacesAreOnePictureForAPath()
    {
        var own = Delivery(
            "chair",
            isOwn: true,
            Set("cloth", Map("tex/Cloth_1001.png", MapRole.BaseColor, 1001)),
            Set("tex_cloth", Map("tex/Cloth_1002.png", MapRole.BaseColor, 1002))
        );
        var found = new TextureSources([own], "chair.obj", NamingTables.Shipped).Of(
            new(MapRole.BaseColor, "C:/x/cloth_<UDIM>.png", null),
            "x"
        );
        Assert.Equal([1001, 1002], found[0].File.Tiles!.Select(t => t.Number));
        Assert.Equal(2, found[0].Maps.Count);
    }

    /// <summary>Files that have no word for normal maps name them as bumps.</summary>
    [Theory]
    [InlineData(MapRole.Normal, "geometry_normal", ReadingKind.Direction)]
    [InlineData(MapRole.Bump, "geometry_normal", ReadingKind.Scalar)]
    public void ABumpThatIsANormalMapByItsPixelsIsOne(MapRole placed, string lane, ReadingKind kind)
    {
        var own = Delivery("wood", isOwn: true, Set("wood", Map("wood_nor.png", placed)));
        var texture = new ModelTexture(MapRole.Bump, "wood_nor.png", null);
        var picture = new TextureSources([own], "wood.obj", NamingTables.Shipped).Of(texture, "x")[0].For(texture);
        Assert.Equal(placed, picture.Role);
        Assert.Equal(kind, MaterialLooks.ReadingOf(picture, multiplies: false).Kind);
        var look = MaterialLooks.Of(new("wood", [texture], new Dictionary<string, float[]>()), "wood", [picture], multiplies: false);
        Assert.True(look.Lanes.ContainsKey(lane));
        Assert.True(look.Slots.ContainsKey(placed.Id()));
    }

    [Theory]
    [InlineData("tex/lie.png", "no picture")]
    [InlineData("D:/x/lie.png", "no picture")]
    [InlineData("tex/other.png", null)]
    public void APictureThatIsThereAndCannotBeReadSaysWhy(string written, string? fault)
    {
        var result = new IntakeResult([], [], [], [new("tex/lie.png", "no picture")]);
        var sources = new TextureSources([new("lies", result, true), new("others", result, false)], "a.obj", NamingTables.Shipped);
        Assert.Equal(fault, sources.FaultOf(new(MapRole.BaseColor, written, null)));
    }

    /// <summary>A resolution looks like the number of a tile: where no tiles are, names are told apart by it.</summary>
    [Theory]
    [InlineData("wood_1024.png", "wood_1024.png")]
    [InlineData("D:/x/wood_1024.png", "wood_1024.png")]
    [InlineData("wood_1025.png", "wood_1025.png")]
    public void NumbersThatAreNoTilesCount(string written, string name)
    {
        var own = Delivery(
            "wood",
            isOwn: true,
            Set("a", Map("wood_1025.png", MapRole.BaseColor)),
            Set("b", Map("wood_1024.png", MapRole.BaseColor))
        );
        var found = new TextureSources([own], "wood.obj", NamingTables.Shipped).Of(new(MapRole.BaseColor, written, null), "x");
        Assert.Equal(name, found[0].File.Name);
        Assert.DoesNotContain(found.Skip(1), f => f.Score >= TextureSource.Sure);
    }

    /// <summary>A material's channel is that of its own picture: of another one, the channel in which it has the role counts.</summary>
    [Theory]
    [InlineData("tex/knurled_orm.png", MapChannel.R)]
    [InlineData("D:/old/knurledSteel_rough.png", MapChannel.G)]
    public void AnotherPictureIsReadInItsOwnChannel(string written, MapChannel channel)
    {
        var packed = Map("tex/knurled_orm.png", MapRole.Roughness);
        packed = packed with { Channel = MapChannel.G, Reading = packed.Reading with { Channel = MapChannel.G } };
        var own = Delivery("radio", isOwn: true, Set("knurled_steel", packed));
        var texture = new ModelTexture(MapRole.Roughness, written, null) { Channel = MapChannel.R };
        var found = new TextureSources([own], "radio.obj", NamingTables.Shipped).Of(texture, "x")[0];
        Assert.Equal(channel, MaterialLooks.ReadingOf(found.For(texture), multiplies: false).Channel);
    }

    [Theory]
    [InlineData("maps/amber_<UDIM>.tif")]
    [InlineData("maps/amber_1001.tif")]
    [InlineData("maps/amber_1002.tif")]
    public void TilesAreOnePicture(string written)
    {
        var found = Of(MapRole.BaseColor, written)[0];
        Assert.Equal([1001, 1002], found.File.Tiles!.Select(t => t.Number));
        var texture = new ModelTexture(MapRole.BaseColor, written, null);
        var look = MaterialLooks.Of(
            new("amber", [texture], new Dictionary<string, float[]>()),
            "amber",
            [new(texture, found.File, found.Maps)],
            false
        );
        Assert.Equal([1001, 1002], look.Slots["baseColor"].File.Tiles!.Select(t => t.Number));
    }

    [Theory]
    [InlineData("")]
    [InlineData("   ")]
    [InlineData("/")]
    [InlineData("../../etc/passwd")]
    [InlineData("https://elsewhere/x.jpg")]
    [InlineData("data:image/png;base64,AAAA")]
    public void WhatMeansNothingFindsNothing(string written) => Assert.Empty(Of(MapRole.BaseColor, written, ""));
}
