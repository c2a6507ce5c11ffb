using System.Text.Json;
using Kiln.Looks.Document;

namespace Kiln.Looks.Tests;

/// <summary>Addresses of lanes: taken apart, put together, and looks of earlier releases whose sources had names that are none.</summary>
public sealed class LaneAddressTests
{
    [Theory]
    [InlineData("base_color", null, null, "base_color", "base colour")]
    [InlineData("source:worn edges", "worn edges", null, null, "source worn edges")]
    [InlineData("cover:0:base_color", null, 0, "base_color", "layer 1, base colour")]
    [InlineData("cover:12:mask", null, 12, null, "layer 13, mask")]
    [InlineData("cover:1:mask_of_dust", null, 1, "mask_of_dust", "layer 2, mask of dust")]
    public void ALaneOfItsOwnIsTakenApart(string text, string? source, int? layer, string? input, string label)
    {
        var address = LaneAddress.Parse(text);
        Assert.Equal((source, layer, input, label), (address.Source, address.Layer, address.Input, address.Label));
        Assert.Null(address.Side);
        Assert.Equal(input, address.Fed);
        Assert.Equal(text.EndsWith(":mask", StringComparison.Ordinal), address.IsMask);
        Assert.Equal(text, address.Text);
    }

    [Fact]
    public void InputsOfStepsAreNestedAsOftenAsTheyAre()
    {
        var inner = LaneAddress.OfMask(2).SideOf("s3", "other").SideOf("s1", "amount");
        Assert.Equal("cover:2:mask/s3/other/s1/amount", inner.Text);
        Assert.Equal("layer 3, mask, other of s3, amount of s1", inner.Label);
        Assert.Equal((LaneAddress.Parse("cover:2:mask/s3/other"), "s1", "amount"), inner.Side);
        Assert.False(inner.IsMask);
        Assert.Null(LaneAddress.OfInput("base_color").SideOf("s1", "other").Fed);
    }

    [Theory]
    [InlineData("")]
    [InlineData("base_color/s1")]
    [InlineData("base_color//other")]
    [InlineData("/s1/other")]
    [InlineData("source:")]
    [InlineData("source:a:b")]
    [InlineData("cover:mask")]
    [InlineData("cover:-1:mask")]
    [InlineData("cover:x:mask")]
    [InlineData("cover:99999999999:mask")]
    [InlineData("under:0:mask")]
    public void WhatIsNoAddressIsRefusedWithASentence(string text)
    {
        Assert.False(LaneAddress.TryParse(text, null, out _));
        Assert.Equal(
            $"'{text}' names no lane; base_color, source:NAME, cover:0:mask or LANE/STEP/INPUT do.",
            Assert.Throws<LookException>(() => LaneAddress.Parse(text)).Message
        );
        Assert.Throws<JsonException>(() => JsonSerializer.Deserialize<LaneAddress>(JsonSerializer.Serialize(text)));
    }

    [Fact]
    public void InDocumentsItIsAText() =>
        Assert.Equal("\"cover:0:mask\"", JsonSerializer.Serialize(JsonSerializer.Deserialize<LaneAddress>("\"cover:0:mask\"")));
}
