using Kiln.Intake.Relinking;
using Kiln.Looks.Maps;

namespace Kiln.Intake.Tests;

public class RelinkTests
{
    private static MapFile Picture(
        string content,
        string name,
        string likeness = "00ff00ff00ff00ff",
        int size = 1024,
        string format = "png"
    ) => new(Hashes.Named(content), name, size, size, 8, false, format, ["R", "G", "B"], null) { Likeness = likeness };

    [Fact]
    public void ContentComesBeforeNameAndNameBeforeLikeness()
    {
        var missing = Picture("a", "wall_albedo.png");
        var found = RelinkSearch.Find(
            missing,
            [
                Picture("x", "unrelated.png", "123456789abcdef0"),
                Picture("b", "renamed.png", "00ff00ff00ff00fe"),
                Picture("c", "Wall_Albedo.png"),
                Picture("a", "moved.png"),
                Picture("d", "wall_albedo.tif", format: "tiff"),
            ]
        );
        Assert.Equal(new[] { "a", "c", "d", "b" }.Select(Hashes.Named), found.Select(f => f.File.Content));
        Assert.Equal("the same content", found[0].Reason);
        Assert.Contains("63 of 64", found[3].Reason);
    }

    [Fact]
    public void TheSameNameWithAnotherPictureIsSaidToDiffer()
    {
        var found = RelinkSearch.Find(Picture("a", "wall_albedo.png"), [Picture("b", "wall_albedo.png", "ffffffff00000000")]);
        Assert.Contains("differ", found.Single().Reason);
        Assert.True(found.Single().Score < 0.7f);
    }
}
