using Kiln.Colour.Spaces;

namespace Kiln.Colour.Tests;

public sealed class ColourTextTests
{
    /// <summary>
    /// CIELAB of sRGB's primaries under D65: Lindbloom's published calculator gives 53.2408, 80.0925, 67.2032 for red and 87.7347,
    /// −86.1827, 83.1793 for green (from memory, to its digits).
    /// </summary>
    [Theory]
    [InlineData("lab 53.2408 80.0925 67.2032", "#ff0000")]
    [InlineData("lab(87.7347, -86.1827, 83.1793)", "#00ff00")]
    [InlineData("lab 100 0 0", "#ffffff")]
    [InlineData("lin_rec709 1 0 0", "#ff0000")]
    [InlineData("  #C08040 ", "#c08040")]
    public void ColoursAsPeopleTypeThem(string text, string hex) => Assert.Equal(hex, ColourText.HexOf(ColourText.Read(text)));

    [Fact]
    public void WrittenAndReadAgainTheyAreTheSameToTheBit()
    {
        var random = new Random(5);
        for (var i = 0; i < 200; i++)
        {
            var colour = new ColourValue(
                random.NextSingle() * 2 - 0.5f,
                random.NextSingle(),
                random.NextSingle(),
                ColourSpace.All[random.Next(14)].Id
            );
            Assert.Equal(colour, ColourText.Read(ColourText.Write(colour)));
        }
        for (var code = 0; code < 1 << 24; code += 104729)
            Assert.Equal($"#{code:x6}", ColourText.Write(ColourValue.FromHex($"#{code:x6}")));
    }

    [Theory]
    [InlineData("red")]
    [InlineData("")]
    [InlineData("#12345")]
    [InlineData("acescg 1 2")]
    [InlineData("acescg 1 2 x")]
    [InlineData("acescg 1 2 inf")]
    [InlineData("raw 1 2 3")]
    [InlineData("lab -5 0 0")]
    public void WhatIsNoColourIsASentence(string text) =>
        Assert.NotEmpty(Assert.Throws<FormatException>(() => ColourText.Read(text)).Message);

    [Fact]
    public void WhatSrgbDoesNotHoldHasNoHex()
    {
        Assert.Null(ColourText.HexOf(new(0, 1, 0, "acescg")));
        Assert.NotNull(ColourText.HexOf(new(0.18f, 0.18f, 0.18f, "acescg")));
    }
}
