using Kiln.Server.Platform;
using Microsoft.Extensions.Configuration;

namespace Kiln.Server.Tests.Operation;

/// <summary>What the server is told when it starts: what it cannot be set to is refused by name, nothing falls back in silence.</summary>
public sealed class SettingsTests
{
    private static KilnSettings Of(string name, string? value) =>
        KilnSettings.Of(new ConfigurationBuilder().AddInMemoryCollection([new($"Kiln:{name}", value)]).Build());

    [Theory]
    [InlineData("MostSamples", "many")]
    [InlineData("MostSamples", "0")]
    [InlineData("MostSamples", "-4")]
    [InlineData("MostSamples", "1e3")]
    [InlineData("PictureSamples", "5000")]
    [InlineData("LargestUpload", "8 GB")]
    [InlineData("CacheMegabytes", "1")]
    [InlineData("WarmsUp", "no")]
    [InlineData("Database", "Host=127.0.0.1;Colour=green")]
    public void WhatItCannotBeSetToIsRefusedByItsName(string name, string value) =>
        Assert.Contains($"Kiln:{name}", Assert.Throws<SettingException>(() => Of(name, value)).Message);

    [Fact]
    public void WhatIsLeftOutOrEmptyIsAsUsual()
    {
        var usual = KilnSettings.Of(new ConfigurationBuilder().Build());
        Assert.Equal(usual, Of("MostSamples", ""));
        Assert.Equal((4096, 10, true, 2048L), (usual.MostSamples, usual.PictureSamples, usual.WarmsUp, usual.CacheMegabytes));
        Assert.Equal(16, Of("MostSamples", "16").MostSamples);
        Assert.False(Of("WarmsUp", "False").WarmsUp);
    }
}
